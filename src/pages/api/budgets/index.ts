import { budgetSchema } from '../../../core/uncertainty/budget-schema';
import { addBudget, listBudgets } from '../../../service/budget-service';
import { accepting, answering, json, notAllowed } from '../_endpoint';

export const GET = answering(async () => ({ budgets: await listBudgets() }));
export const POST = accepting(budgetSchema, async (document) => json({ id: await addBudget(document) }, 201));
export const ALL = notAllowed;
