import { startRequestSchema } from '../../../service/run-request-schema';
import { startRun } from '../../../service/start-service';
import { accepting, notAllowed } from '../_endpoint';

export const POST = accepting(startRequestSchema, async (request) => ({
  run: await startRun(request),
  ...(request.setUp ? { setUp: request.setUp.id } : {}),
}));
export const ALL = notAllowed;
