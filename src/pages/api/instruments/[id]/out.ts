import { takeOut } from '../../../../service/use-service';
import { notAllowed, served } from '../../_endpoint';

export const POST = served('POST /api/instruments/[id]/out', async ({ id, body }) => {
  await takeOut(id, body);
  return { out: true as const };
});
export const ALL = notAllowed;
