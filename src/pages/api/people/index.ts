import { addPerson, listPeople } from '../../../service/register-service';
import { notAllowed, served } from '../_endpoint';

export const GET = served('GET /api/people', async () => ({ people: await listPeople() }));
export const POST = served('POST /api/people', async ({ body: { name } }) => {
  await addPerson(name);
  return { name };
});
export const ALL = notAllowed;
