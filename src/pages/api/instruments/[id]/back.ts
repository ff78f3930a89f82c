import { takeBack } from '../../../../service/use-service';
import { notAllowed, served } from '../../_endpoint';

export const POST = served('POST /api/instruments/[id]/back', async ({ id, body }) => {
  await takeBack(id, body);
  return { back: true as const };
});
export const ALL = notAllowed;
