import { signIn, signOut } from '../../../service/sign-in/sign-in-service';
import { deviceOfRequest, forgotten, fromOf, withCookies } from '../_device';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/sign-in', async ({ body, context }) => {
  const { person, cookies } = await signIn(body, fromOf(context), new Date().toISOString());
  return withCookies({ person }, cookies);
});
export const DELETE = served('DELETE /api/sign-in', async ({ context }) => {
  await signOut(deviceOfRequest(context));
  return withCookies({ done: true }, forgotten(context));
});
export const ALL = notAllowed;
