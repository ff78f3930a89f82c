import type { Place } from '../plan/plan-schema';
import { withNames } from '../formula/formula';
import { Absent, DocumentError } from '../faults';
import { isIn } from '../evaluate/setting';
import { quantitiesAt } from '../evaluate/results';
import { BudgetError } from '../uncertainty/budget-error';
import type { Budget } from '../uncertainty/budget-schema';
import { propagate } from '../uncertainty/propagate';
import { unitIn } from '../steps/step-context';
import { placeTitle, seriesOf, setTitle } from './place-words';
import { settingIn } from './run-results';
import { scopeAt } from '../state/run-scope';
import type { RunState } from '../state/run-state';

/** A model with its abbreviations put in as they stand. */
function writtenOut(model: string, where: readonly { symbol: string; is: string }[]): string {
  return [...where]
    .reverse()
    .reduce((text, { symbol, is }) => withNames(text, (name, isCall) => (name === symbol && !isCall ? `(${is})` : name)), model);
}

/**
 * The budget of a result as a document of its own, filled with this run's numbers; null where there is no result, or where its model
 * calls what only a procedure has (a table, a standard's curve, a discipline's function).
 * @example budgetOf(run, place, 'E').name // 'M-1, Error, 7.7 mm, as found'
 */
export function budgetOf(state: RunState, place: Place, symbol: string): Budget | null {
  const doc = seriesOf(state, place.series)?.results.find((r) => r.symbol === symbol);
  if (!doc) return null;
  try {
    const s = settingIn(state, place.set);
    const scope = scopeAt(s, place);
    if (!scope.series || !scope.point || !isIn(s, doc.when, scope)) return null;
    const path = [...scope.series.path, 'results', scope.series.doc.results.indexOf(doc)];
    const { quantities, zeros } = quantitiesAt(s, doc, { ...scope, path });
    const model = withNames(writtenOut(doc.model, doc.where ?? []), (name, isCall) =>
      zeros.includes(name) && !isCall ? '0' : name,
    );
    const budget: Budget = {
      format: 'just-twice/budget',
      version: 1,
      name: [state.instrument.identification, doc.title, placeTitle(state, place), setTitle(place.set).toLowerCase()]
        .filter(Boolean)
        .join(', ')
        .slice(0, 200),
      output: { symbol: doc.symbol, unit: unitIn(state, doc.unit, place) },
      model,
      quantities: quantities.map((q) => {
        const declared = doc.quantities.find((d) => d.symbol === q.symbol)!;
        return { ...q, name: declared.name, source: declared.source };
      }),
      ...(doc.coverage ? { coverage: doc.coverage } : {}),
    };
    propagate(budget);
    return budget;
  } catch (error) {
    if (error instanceof Absent || error instanceof DocumentError || error instanceof BudgetError) return null;
    throw error;
  }
}
