import { noteFinding } from '../../../../service/finding-service';
import { notAllowed, served } from '../../_endpoint';

export const POST = served('POST /api/instruments/[id]/findings', async ({ id, body }) => {
  await noteFinding(id, body);
  return { noted: true as const };
});
export const ALL = notAllowed;
