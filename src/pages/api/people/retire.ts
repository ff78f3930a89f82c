import { retirePerson } from '../../../service/register-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/people/retire', async ({ body: { name } }) => {
  await retirePerson(name);
  return { name };
});
export const ALL = notAllowed;
