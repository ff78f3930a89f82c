import { standardEntrySchema } from '../../../core/register/entry-schemas';
import { addStandard } from '../../../service/register-service';
import { accepting, json, notAllowed } from '../_endpoint';

export const POST = accepting(standardEntrySchema, async (entry) => json({ id: await addStandard(entry) }, 201));
export const ALL = notAllowed;
