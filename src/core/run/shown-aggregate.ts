import type { Place } from '../plan/plan-schema';
import type { EvaluatedAggregate } from '../evaluate/evaluation';
import { isDetermined, type Undetermined } from '../evaluate/undetermined';
import { decimalsForSignificant } from '../quantity/rounding';
import type { AggregateDocument, ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { convertDifference, isSameKind } from '../quantity/unit';
import { unitIn } from '../steps/step-context';
import { shownUnitOfAggregate } from './place-words';
import { observedResolution, observedUnit } from './reading-rules';
import { entriesOf, evaluationIfAny } from './run-results';
import type { RunState } from '../state/run-state';
import { shownPair, type PrintedPair } from './shown-value';

/**
 * The least expanded uncertainty of the results that a statistic goes with, in the unit in which it is shown: those that it is of, else,
 * of what was worked out, those told in its unit. Null for statistics of what was read: the display says how far those go.
 */
function leastUncertainty(
  state: RunState,
  series: SeriesDocument,
  { of }: AggregateDocument,
  place: Place,
  shownIn: string,
): number | null {
  const unitOf = (r: ResultDocument) => unitIn(state, r.unit, place);
  const isRead = series.observe.some((o) => o.id === of);
  const result =
    series.results.find((r) => r.symbol === of) ??
    (isRead ? undefined : series.results.find((r) => isSameKind(unitOf(r), shownIn)));
  if (!result || !isSameKind(unitOf(result), shownIn)) return null;
  const found = entriesOf(evaluationIfAny(state, place.set), series.id).flatMap((e) =>
    e.points.flatMap(({ results }) => {
      const r = results[result.symbol];
      return r && isDetermined(r) && r.expandedUncertainty > 0 ? [r.expandedUncertainty] : [];
    }),
  );
  return found.length ? convertDifference(Math.min(...found), unitOf(result), shownIn) : null;
}

/**
 * A statistic over a series as it is printed, on a sheet and on a certificate: with its uncertainty; without one to the place of that
 * of the results it is of, else to one place beyond the display that it is read from. A statistic is no error: only what is below zero
 * has a sign.
 * @example aggregatePair(run, series, aggregatesIn(run, 'as-found', 'error')[0], place).value // '5.02'
 */
export function aggregatePair(
  state: RunState,
  series: SeriesDocument,
  a: Exclude<EvaluatedAggregate, Undetermined>,
  place: Place,
): PrintedPair {
  const doc = series.aggregates.find((d) => d.id === a.id)!;
  const unit = unitIn(state, doc.unit, place);
  const shownIn = shownUnitOfAggregate(state, series, doc, place);
  const [read] = series.observe.filter((o) => (o.type ?? 'number') === 'number');
  const step = read ? observedResolution(state, place, read) : null;
  const from = read ? observedUnit(state, place, read) : '';
  const U = leastUncertainty(state, series, doc, place, shownIn);
  // `shownPair` goes one place beyond a step.
  const ofResults = U === null ? null : 10 ** (1 - (decimalsForSignificant(U, 2) ?? 0));
  const own = ofResults ?? (step !== null && isSameKind(from, shownIn) ? convertDifference(step, from, shownIn) : null);
  const pair = shownPair(a.value, a.result?.expandedUncertainty ?? null, unit, shownIn, a.limits, a.acceptance, own);
  return { ...pair, value: pair.value.replace('+', '') };
}
