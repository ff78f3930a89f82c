import { retirePerson } from '../../../service/register-service';
import { requireAnotherAdministrator, signOutEverywhere } from '../../../service/sign-in/people-service';
import { notAllowed, served } from '../_endpoint';

export const POST = served('POST /api/people/retire', async ({ body: { name } }) => {
  await requireAnotherAdministrator(name);
  await retirePerson(name);
  await signOutEverywhere(name);
  return { name };
});
export const ALL = notAllowed;
