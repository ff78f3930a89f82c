import { dueLines, moveDue } from '../../../service/due-service';
import { notAllowed, served } from '../_endpoint';

export const GET = served('GET /api/due', ({ query }) => dueLines(query));
export const POST = served('POST /api/due', async ({ body }) => ({ moved: await moveDue(body) }));
export const ALL = notAllowed;
