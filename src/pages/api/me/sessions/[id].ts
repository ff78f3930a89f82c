import { endOwn } from '../../../../service/sign-in/sign-in-service';
import { whoOf } from '../../_device';
import { notAllowed, served } from '../../_endpoint';

export const DELETE = served('DELETE /api/me/sessions/[id]', async ({ id, context }) => {
  await endOwn(whoOf(context), id);
  return { done: true as const };
});
export const ALL = notAllowed;
