import { startRun } from '../../../service/start-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/runs', async ({ body, context }) => ({
  run: await startRun(body, undefined, context.locals.who),
  ...(body.setUp ? { setUp: body.setUp.id } : {}),
}));
export const ALL = notAllowed;
