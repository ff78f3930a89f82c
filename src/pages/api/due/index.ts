import { moveDue, moveRequestSchema } from '../../../service/due-service';
import { accepting, notAllowed } from '../_endpoint';

export const POST = accepting(moveRequestSchema, async (request) => ({ moved: await moveDue(request) }));
export const ALL = notAllowed;
