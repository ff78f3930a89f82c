import { beginPractice } from '../../../service/practice-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/practice', async ({ body }) => ({ practice: await beginPractice(body) }));
export const ALL = notAllowed;
