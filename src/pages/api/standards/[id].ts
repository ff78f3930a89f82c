import { standardEntrySchema } from '../../../core/register/entry-schemas';
import { changeStandard, getStandard } from '../../../service/register-service';
import { accepting, answering, notAllowed } from '../_endpoint';

export const GET = answering(({ params }) => getStandard(params.id!));
export const PUT = accepting(standardEntrySchema, async (entry, { params, request }) => {
  await changeStandard(params.id!, entry, request.headers.get('if-match'));
  return { id: params.id };
});
export const ALL = notAllowed;
