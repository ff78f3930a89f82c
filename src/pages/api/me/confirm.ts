import { confirm } from '../../../service/sign-in/sign-in-service';
import { whoOf } from '../_device';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/me/confirm', async ({ body, context }) => {
  await confirm(whoOf(context), body.digits, new Date().toISOString());
  return { done: true as const };
});
export const ALL = notAllowed;
