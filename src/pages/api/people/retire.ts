import { retirePerson } from '../../../service/register-service';
import { personEntrySchema } from '../../../core/register/entry-schemas';
import { accepting, notAllowed } from '../_endpoint';

export const POST = accepting(personEntrySchema, async ({ name }) => {
  await retirePerson(name);
  return { name };
});
export const ALL = notAllowed;
