import { takenBy } from '../evaluate/adjustments';
import { guardedLimits, leastVisitsForDrift, pointHistories, type PointHistory } from '../interval/drift-school';
import { fitDrift, probabilityInside } from '../interval/drift';
import type { Visit } from '../interval/visit';
import type { RunState } from '../state/run-state';
import { adjustmentAdvice } from './adjustment-advice';
import { judgedPoints } from './judged-points';
import { keyOf, visitNow } from './run-pairs';
import { settingIn } from './run-results';
import { summarizeRun } from './run-summary';

/** What an adjustment gains: how probable it is that everything is inside some months later, with it and without. */
export type AdjustingGain = {
  adjustment: string;
  each: string | null;
  months: number;
  without: number;
  with: number;
  /** On how many calibrations the drift rests, this one among them. */ visits: number;
};

/** What an adjustment would take away of each result, by the key that tells it in every run. */
function takenByKey(state: RunState, set: string, adjustment: string, each: string | null): Map<string, number> {
  const doc = state.procedure.adjustments.find((a) => a.id === adjustment)!;
  const taken = takenBy(settingIn(state, set), doc, set, each);
  const by = new Map<string, number>();
  if (!taken) return by;
  for (const series of state.procedure.series.filter((s) => taken.series.includes(s.id)))
    for (const result of series.results.filter((r) => JSON.stringify(r.unit) === JSON.stringify(taken.unit)))
      for (const point of judgedPoints(state, set, series, [result.symbol])) {
        if (each !== null && point.place.each !== each) continue;
        const away = taken.by(point.result.reference ?? point.nominal ?? NaN);
        if (Number.isFinite(away)) by.set(keyOf(state, point.place, result.symbol), away);
      }
  return by;
}

/** A history whose last visit was left with so much taken away, as surely as it was read. */
function adjustedHistory(history: PointHistory, away: number): PointHistory {
  const last = history.visits.at(-1)!;
  const left = { ...last.found, value: last.found.value - away };
  return { ...history, visits: [...history.visits.slice(0, -1), { ...last, left }] };
}

/** How probable it is that the one of some results that is likeliest outside is inside after some months. */
const leastInside = (histories: readonly PointHistory[], months: number): number =>
  Math.min(...histories.map((h) => probabilityInside(fitDrift(h.visits, h.limits), guardedLimits(h), months)));

/** Of so many results at the most the drift is fitted: those that use most of their limits now. */
const mostFitted = 40;

/**
 * What each adjustment of a procedure would gain by the next date, from the drift of the instrument over its visits; nothing where the
 * visits do not tell of drift, or what an adjustment does cannot be foretold.
 * @param visits of the instrument before this run
 * @example adjustingGains(run, 'as-found', [], '2026-11-24', 12) // []
 */
export function adjustingGains(
  state: RunState,
  set: string,
  visits: readonly Visit[],
  day: string,
  months: number,
): AdjustingGain[] {
  const use = (h: PointHistory) => {
    const value = h.visits.at(-1)!.found.value;
    const { lower, upper } = h.limits;
    return Math.max(upper ? value / upper : 0, lower ? value / lower : 0);
  };
  const histories = pointHistories([...visits, visitNow(state, day, summarizeRun(state))])
    .filter((h) => !h.isCheck && h.visits.length >= leastVisitsForDrift && h.visits.at(-1)!.day === day)
    .toSorted((a, b) => use(b) - use(a))
    .slice(0, mostFitted);
  if (histories.length === 0) return [];
  const without = leastInside(histories, months);
  return adjustmentAdvice(state, set).outlooks.flatMap(({ doc, advice }): AdjustingGain[] => {
    const each = advice.each ?? null;
    const away = takenByKey(state, set, doc.id, each);
    if (away.size === 0) return [];
    const moved = histories.map((h) => (away.has(h.key) ? adjustedHistory(h, away.get(h.key)!) : h));
    const count = Math.min(...histories.map((h) => h.visits.length));
    return [{ adjustment: doc.id, each, months, without, with: leastInside(moved, months), visits: count }];
  });
}
