import type { Place } from '../plan/plan-schema';
import type { EvaluatedAggregate } from '../evaluate/evaluate';
import type { Undetermined } from '../evaluate/undetermined';
import type { SeriesDocument } from '../procedure/document-schema';
import { convertDifference, isSameKind } from '../quantity/unit';
import { unitIn } from '../steps/step-context';
import { shownUnitOfAggregate } from './place-words';
import { observedResolution, observedUnit } from './reading-rules';
import type { RunState } from '../state/run-state';
import { shownPair, type PrintedPair } from './shown-value';

/**
 * A statistic over a series as it is printed, on a sheet and on a certificate: with its uncertainty, or, without one, to one place
 * beyond the display that it is read from. A statistic is no error: only what is below zero has a sign.
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
  const own = step !== null && isSameKind(from, shownIn) ? convertDifference(step, from, shownIn) : null;
  const pair = shownPair(a.value, a.result?.expandedUncertainty ?? null, unit, shownIn, a.limits, a.acceptance, own);
  return { ...pair, value: pair.value.replace('+', '') };
}
