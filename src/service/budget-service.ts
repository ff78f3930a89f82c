import type { Place } from '../core/plan/plan-schema';
import { randomUUID } from 'node:crypto';
import { budgetOf } from '../core/run/result-budget';
import type { ReportedPair } from '../core/quantity/rounding';
import { BudgetError } from '../core/uncertainty/budget-error';
import type { Budget } from '../core/uncertainty/budget-schema';
import { propagate } from '../core/uncertainty/propagate';
import * as budgets from '../store/budget-store';
import { database } from '../store/database';
import { log } from './log';
import { loadRun } from './run-service';
import { ServiceError } from './service-error';

/** A budget in a list: its result, or why it has none yet. */
export type ListedBudget = {
  id: string;
  name: string;
  changedAt: string;
  output: string;
  unit: string;
  reported: ReportedPair | null;
};

export async function listBudgets(): Promise<ListedBudget[]> {
  return (await budgets.listBudgets(await database())).map(({ id, document, changedAt }) => {
    const common = { id, name: document.name, changedAt, output: document.output.symbol, unit: document.output.unit };
    try {
      return { ...common, reported: propagate(document).reported };
    } catch (error) {
      // One row that cannot be computed, whatever the cause, leaves the others in the list.
      if (!(error instanceof BudgetError)) log.warn({ err: error, budget: id }, 'a kept budget cannot be computed');
      return { ...common, reported: null };
    }
  });
}

export async function getBudget(id: string): Promise<budgets.BudgetRow> {
  const row = await budgets.budgetById(await database(), id);
  if (!row)
    throw new ServiceError(404, 'There is no budget with this id. It may have been removed: look in the list of budgets.');
  return row;
}

const now = () => new Date().toISOString();

/** @throws ServiceError with the place of the fault in a budget that cannot be computed: none such is kept */
function requireComputable(document: Budget): void {
  try {
    propagate(document);
  } catch (error) {
    if (!(error instanceof BudgetError)) throw error;
    throw new ServiceError(422, error.message, error.path);
  }
}

/** Keeps a budget that can be computed. */
export async function addBudget(document: Budget): Promise<string> {
  requireComputable(document);
  const id = randomUUID();
  await budgets.saveBudget(await database(), { id, document, changedAt: now() });
  return id;
}

export async function changeBudget(id: string, document: Budget): Promise<void> {
  requireComputable(document);
  await getBudget(id);
  await budgets.saveBudget(await database(), { id, document, changedAt: now() });
}

export async function removeBudget(id: string): Promise<void> {
  await getBudget(id);
  await budgets.removeBudget(await database(), id);
}

/** The budget of one result of a run, filled with that run's numbers; null when there is none, or its model is more than a budget can hold. */
export async function budgetOfResult(runId: string, place: Place, symbol: string): Promise<Budget | null> {
  const { state } = await loadRun(runId);
  return budgetOf(state, place, symbol);
}
