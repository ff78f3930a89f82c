import { changeLaboratory, getLaboratory } from '../../../service/register-service';
import { laboratoryEntrySchema } from '../../../core/register/entry-schemas';
import { accepting, answering, notAllowed } from '../_endpoint';

export const GET = answering(getLaboratory);
export const PUT = accepting(laboratoryEntrySchema, async (values) => {
  await changeLaboratory(values);
  return values;
});
export const ALL = notAllowed;
