import { startRun } from '../../../service/start-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/runs', async ({ body }) => ({
  run: await startRun(body),
  ...(body.setUp ? { setUp: body.setUp.id } : {}),
}));
export const ALL = notAllowed;
