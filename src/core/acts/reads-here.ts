import type { Place } from '../plan/plan-schema';
import type { SeriesDocument } from '../procedure/document-schema';
import { refuse, type Refusal } from '../state/refusal';
import { placeOf } from '../state/place-keys';
import type { RunState } from '../state/run-state';
import { isReading } from './common';

/** The series of a place that readings are open for. */
export function readsHere(state: RunState, act: Place & { series: string }): { series: SeriesDocument; place: Place } | Refusal {
  const series = state.procedure.series.find((s) => s.id === act.series);
  if (!series) return refuse('The procedure has no such series.', 'series');
  const reads = state.plan.some(
    (i) =>
      i.type === 'reading' &&
      i.set === act.set &&
      i.series === act.series &&
      (act.each === undefined || i.each === act.each) &&
      (act.point === undefined || i.point === act.point),
  );
  return reads && isReading(state, act.set) ? { series, place: placeOf(act) } : refuse('This is not open now.', 'series');
}
