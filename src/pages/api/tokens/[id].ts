import { takeToken } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const DELETE = served('DELETE /api/tokens/[id]', async ({ id }) => {
  await takeToken(id, new Date().toISOString());
  return { done: true as const };
});
export const ALL = notAllowed;
