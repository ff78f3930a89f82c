import { addInstrument } from '../../../service/register-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/instruments', async ({ body }) => ({ id: await addInstrument(body) }));
export const ALL = notAllowed;
