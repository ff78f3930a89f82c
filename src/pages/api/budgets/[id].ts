import { changeBudget, getBudget, removeBudget } from '../../../service/budget-service';
import { notAllowed, served } from '../_endpoint';

export const GET = served('GET /api/budgets/[id]', async ({ id }) => (await getBudget(id)).document);
export const PUT = served('PUT /api/budgets/[id]', async ({ id, body }) => {
  await changeBudget(id, body);
  return { id };
});
export const DELETE = served('DELETE /api/budgets/[id]', async ({ id }) => {
  await removeBudget(id);
  return { id };
});
export const ALL = notAllowed;
