import { outRequestSchema, takeOut } from '../../../../service/use-service';
import { accepting, notAllowed } from '../../_endpoint';

export const POST = accepting(outRequestSchema, async (request, { params }) => {
  await takeOut(params.id!, request);
  return { out: true };
});
export const ALL = notAllowed;
