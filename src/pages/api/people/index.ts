import { addPerson, listPeople } from '../../../service/register-service';
import { personEntrySchema } from '../../../core/register/entry-schemas';
import { accepting, answering, json, notAllowed } from '../_endpoint';

export const GET = answering(async () => ({ people: await listPeople() }));
export const POST = accepting(personEntrySchema, async ({ name }) => {
  await addPerson(name);
  return json({ name }, 201);
});
export const ALL = notAllowed;
