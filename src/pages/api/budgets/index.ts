import { addBudget, listBudgets } from '../../../service/budget-service';
import { notAllowed, served } from '../_endpoint';

export const GET = served('GET /api/budgets', async () => ({ budgets: await listBudgets() }));
export const POST = served('POST /api/budgets', async ({ body }) => ({ id: await addBudget(body) }));
export const ALL = notAllowed;
