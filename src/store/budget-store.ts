import { desc, eq } from 'drizzle-orm';
import type { Database } from './database';
import { made, removed, writeSealed } from './seals';
import { budgets } from './schema';

export type BudgetRow = typeof budgets.$inferSelect;

export const listBudgets = (db: Database): Promise<BudgetRow[]> =>
  db.select().from(budgets).orderBy(desc(budgets.changedAt)).limit(500);

export const budgetById = async (db: Database, id: string): Promise<BudgetRow | undefined> =>
  (await db.select().from(budgets).where(eq(budgets.id, id)).limit(1))[0];

export async function saveBudget(db: Database, row: BudgetRow): Promise<void> {
  const { id: _id, ...set } = row;
  await writeSealed(db, [db.insert(budgets).values(row).onConflictDoUpdate({ target: budgets.id, set })], [made('budgets', row)]);
}

export async function removeBudget(db: Database, id: string): Promise<void> {
  await writeSealed(db, [db.delete(budgets).where(eq(budgets.id, id))], [removed('budgets', { id })]);
}
