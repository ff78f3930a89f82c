import { addStandard } from '../../../service/register-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/standards', async ({ body }) => ({ id: await addStandard(body) }));
export const ALL = notAllowed;
