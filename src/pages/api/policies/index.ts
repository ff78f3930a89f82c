import { setPolicy } from '../../../service/policy-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/policies', async ({ body }) => {
  await setPolicy(body);
  return { set: true as const };
});
export const ALL = notAllowed;
