import { takeCode } from '../../../service/sign-in/sign-in-service';
import { fromOf, withCookies } from '../_device';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/sign-in/code', async ({ body, context }) => {
  const { person, cookies } = await takeCode(body, fromOf(context), new Date().toISOString());
  return withCookies({ person }, cookies);
});
export const ALL = notAllowed;
