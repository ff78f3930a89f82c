import { instrumentEntrySchema } from '../../../core/register/entry-schemas';
import { addInstrument } from '../../../service/register-service';
import { accepting, json, notAllowed } from '../_endpoint';

export const POST = accepting(instrumentEntrySchema, async (entry) => json({ id: await addInstrument(entry) }, 201));
export const ALL = notAllowed;
