import { changeRules } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const PUT = served('PUT /api/laboratory/people', async ({ body }) => {
  await changeRules(body);
  return body;
});
export const ALL = notAllowed;
