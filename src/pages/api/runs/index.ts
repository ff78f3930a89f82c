import { startRequestSchema } from '../../../service/run-request-schema';
import { startRun } from '../../../service/run-service';
import { accepting, notAllowed } from '../_endpoint';

export const POST = accepting(startRequestSchema, async (request) => ({ run: await startRun(request) }));
export const ALL = notAllowed;
