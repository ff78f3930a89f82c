import { dueLines, linesRequestSchema, moveDue, moveRequestSchema } from '../../../service/due-service';
import { accepting, answering, asked, notAllowed } from '../_endpoint';

export const GET = answering(({ url }) => dueLines(asked(linesRequestSchema, Object.fromEntries(url.searchParams))));
export const POST = accepting(moveRequestSchema, async (request) => ({ moved: await moveDue(request) }));
export const ALL = notAllowed;
