import { stopCompetence } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const DELETE = served('DELETE /api/competences/[id]', async ({ id }) => {
  await stopCompetence(id);
  return { done: true as const };
});
export const ALL = notAllowed;
