import { countRequestSchema, noteCount } from '../../../../service/use-service';
import { accepting, notAllowed } from '../../_endpoint';

export const POST = accepting(countRequestSchema, async (request, { params }) => {
  await noteCount(params.id!, request);
  return { noted: true };
});
export const ALL = notAllowed;
