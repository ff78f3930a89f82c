import { backRequestSchema, takeBack } from '../../../../service/use-service';
import { accepting, notAllowed } from '../../_endpoint';

export const POST = accepting(backRequestSchema, async (request, { params }) => {
  await takeBack(params.id!, request);
  return { back: true };
});
export const ALL = notAllowed;
