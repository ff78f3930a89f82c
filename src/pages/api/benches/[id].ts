import { endBench } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const DELETE = served('DELETE /api/benches/[id]', async ({ id }) => {
  await endBench(id);
  return { done: true as const };
});
export const ALL = notAllowed;
