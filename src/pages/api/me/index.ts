import { changeOwn } from '../../../service/sign-in/sign-in-service';
import { whoOf } from '../_device';
import { notAllowed, served } from '../_endpoint';

export const PUT = served('PUT /api/me', async ({ body, context }) => {
  await changeOwn(whoOf(context), body, new Date().toISOString());
  return { done: true as const };
});
export const ALL = notAllowed;
