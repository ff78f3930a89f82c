import { noteCount } from '../../../../service/use-service';
import { notAllowed, served } from '../../_endpoint';

export const POST = served('POST /api/instruments/[id]/counts', async ({ id, body }) => {
  await noteCount(id, body);
  return { noted: true as const };
});
export const ALL = notAllowed;
