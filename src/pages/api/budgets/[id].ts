import { budgetSchema } from '../../../core/uncertainty/budget-schema';
import { changeBudget, getBudget, removeBudget } from '../../../service/budget-service';
import { accepting, answering, notAllowed } from '../_endpoint';

export const GET = answering(async ({ params }) => (await getBudget(params.id!)).document);
export const PUT = accepting(budgetSchema, async (document, { params }) => {
  await changeBudget(params.id!, document);
  return { id: params.id };
});
export const DELETE = answering(async ({ params }) => {
  await removeBudget(params.id!);
  return { id: params.id };
});
export const ALL = notAllowed;
