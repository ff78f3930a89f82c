import { makeBench } from '../../../service/sign-in/sign-in-service';
import { fromOf, whoOf, withCookies } from '../_device';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/benches', async ({ body: { name }, context }) => {
  whoOf(context);
  return withCookies({ name }, await makeBench(name, fromOf(context), new Date().toISOString(), null));
});
export const ALL = notAllowed;
