import { desc, eq } from 'drizzle-orm';
import { writing, type Database } from './database';
import { budgets } from './schema';

export type BudgetRow = typeof budgets.$inferSelect;

export const listBudgets = (db: Database): Promise<BudgetRow[]> =>
  db.select().from(budgets).orderBy(desc(budgets.changedAt)).limit(500);

export const budgetById = async (db: Database, id: string): Promise<BudgetRow | undefined> =>
  (await db.select().from(budgets).where(eq(budgets.id, id)).limit(1))[0];

export async function saveBudget(db: Database, row: BudgetRow): Promise<void> {
  await writing(db, () =>
    db
      .insert(budgets)
      .values(row)
      .onConflictDoUpdate({ target: budgets.id, set: { document: row.document, changedAt: row.changedAt } }),
  );
}

export async function removeBudget(db: Database, id: string): Promise<void> {
  await writing(db, () => db.delete(budgets).where(eq(budgets.id, id)));
}
