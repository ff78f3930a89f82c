import type { Place, PlanItem } from '../plan/plan-schema';
import type { ResultDocument } from '../procedure/document-schema';
import { isDetermined } from '../evaluate/undetermined';
import { standardDeviation } from '../statistics/moments';
import { unitIn } from '../steps/step-context';
import type { Reading, RungRecord, RunState, Slot } from '../state/run-state';
import { failuresIn } from './failures';
import { isJudged, judgedPoints } from './judged-points';
import { placeTitle, seriesOf, shownUnit } from './place-words';
import { observationOf } from './reading-rules';
import { pointIn } from './run-results';
import { shownPair, withPrintedUnit } from './shown-value';

type LookItem = Extract<PlanItem, { type: 'look' }>;

/** Whether two places are the same spot of a set. @example isThere(place, { ...place, point: 'p4' }) // false */
export const isThere = (a: Place, b: Place): boolean =>
  a.set === b.set && a.series === b.series && a.each === b.each && a.point === b.point && a.sweep === b.sweep;

/** What is read at a place, each once, in the order of the plan. @example lookedAt(run, place).length // 1 */
export function lookedAt(state: RunState, place: Place): Slot[] {
  const seen = new Set<string>();
  return state.plan.flatMap((item): Slot[] => {
    if (item.type !== 'reading' || !isThere(item, place) || seen.has(item.id)) return [];
    seen.add(item.id);
    const { type: _type, id, ...at } = item;
    return [{ ...at, series: item.series!, point: item.point!, repeat: 1, observation: id }];
  });
}

/**
 * The point at which a cause is looked for: what is furthest outside of all where a single reading can tell; null where only a statistic
 * fails, or what is read there is an answer, a file or several passages together.
 * @example rungPlace(run, 'as-found')?.point // 'p9'
 */
export function rungPlace(state: RunState, set: string): Place | null {
  const told = failuresIn(state, set).find(({ place, of, verdict }) => {
    const series = seriesOf(state, place.series);
    if (verdict === 'not-determined' || place.point === undefined || !series) return false;
    if (!series.results.some((r) => r.symbol === of) || (series.sweeps && place.sweep === undefined)) return false;
    const slots = lookedAt(state, place);
    return slots.length > 0 && slots.every((slot) => (observationOf(state, slot)?.type ?? 'number') === 'number');
  });
  return told?.place ?? null;
}

/** The run as it would stand had a point read so: what was read stays what it is; its repeats move together. */
function asIfRead(state: RunState, place: Place, read: Readonly<Record<string, number>>): RunState {
  const live = new Map<string, Reading>();
  const means = new Map<string, number>();
  for (const slot of lookedAt(state, place)) {
    const values = [...state.live.values()].flatMap((r) =>
      isThere(r.slot, place) && r.slot.observation === slot.observation && typeof r.value === 'number' ? [r.value] : [],
    );
    means.set(slot.observation, values.reduce((sum, v) => sum + v, 0) / values.length);
  }
  for (const [key, reading] of state.live) {
    const now = isThere(reading.slot, place) ? read[reading.slot.observation] : undefined;
    if (now === undefined || typeof reading.value !== 'number') live.set(key, reading);
    else {
      const value = Number((reading.value + now - means.get(reading.slot.observation)!).toPrecision(12));
      live.set(key, { ...reading, value, text: String(value) });
    }
  }
  // Lists of its own: what is remembered of the run itself is told by them.
  return { ...state, live, readings: [...state.readings] };
}

/** Results of a point, were it read so. @param read by observation, in the units in which they are read */
export const resultsIfRead = (
  state: RunState,
  place: Place,
  results: readonly ResultDocument[],
  read: Readonly<Record<string, number>>,
) => pointIn(asIfRead(state, place, read), place, results);

/** What looking for a cause gave at its point. */
export type RungOutcome = {
  /** Inside now, and by more than its scatter. */ helped: boolean;
  /** Moved by more than its uncertainty, inside or not: what was read before does not hold. */ moved: boolean;
  /** Before and after, with the place. @example '7.7 mm: error +0.0051 mm before, +0.0002 mm now: inside' */ words: string;
};

const outcomes = new WeakMap<RungRecord, { of: unknown[]; outcome: RungOutcome | null }>();

/**
 * What a look at the point gave; null where nothing was read there.
 * @example outcomeOf(run, { id: 'unit', place: { ...place, point: 'p99' }, note: '', sequence: 1 }) // null
 */
export function outcomeOf(state: RunState, rung: RungRecord): RungOutcome | null {
  // Worked out once for the readings that it is held against.
  const of = [state.live, state.live.size, state.readings.length];
  const known = outcomes.get(rung);
  if (known && known.of.every((x, i) => x === of[i])) return known.outcome;
  const outcome = workedOut(state, rung);
  outcomes.set(rung, { of, outcome });
  return outcome;
}

function workedOut(state: RunState, rung: RungRecord): RungOutcome | null {
  if (!rung.look || Object.keys(rung.look.values).length === 0) return null;
  const { place } = rung;
  const series = seriesOf(state, place.series)!;
  const judged = series.results.filter((r) => isJudged(r) && !r.gate);
  const before = pointIn(state, place, judged) ?? {};
  const after = resultsIfRead(state, place, judged, rung.look.values) ?? {};
  const bad = judged.filter((r) => ['fail', 'conditional-fail'].includes(before[r.symbol]?.verdict ?? ''));
  const result = bad[0] ?? judged[0];
  if (!result) return null;
  const [was, is] = [before[result.symbol], after[result.symbol]];
  if (!was || !is || !isDetermined(was) || !isDetermined(is)) return null;
  const isInside = bad.every((r) => ['pass', 'conditional-pass'].includes(after[r.symbol]?.verdict ?? ''));
  const repeats = judgedPoints(state, place.set, series, [result.symbol]).find((p) => isThere(p.place, place))?.repeats ?? [];
  const scatter = repeats.length > 2 ? standardDeviation(repeats) : 0;
  const isMoved = Math.abs(is.estimate - was.estimate) > 2 * scatter;
  const [unit, shownIn] = [unitIn(state, result.unit, place), shownUnit(state, result, place)];
  const said = (x: typeof was) =>
    withPrintedUnit(shownPair(x.estimate, x.expandedUncertainty, unit, shownIn, x.limits).value, shownIn);
  const ends = isInside
    ? isMoved
      ? 'inside'
      : 'inside, but by no more than its scatter'
    : isMoved
      ? 'moved, still outside'
      : 'as before';
  return {
    helped: isInside && isMoved,
    moved: isMoved && Math.abs(is.estimate - was.estimate) > is.expandedUncertainty,
    words: `${placeTitle(state, place) || series.title}: ${result.title} ${said(was)} before, ${said(is)} now: ${ends}`,
  };
}

/** The causes that were looked for at a point of a set, with what each gave. @example rungsOf(run, 'as-found') // [] */
export const rungsOf = (state: RunState, set: string): { rung: RungRecord; outcome: RungOutcome | null }[] =>
  state.rungs.filter((r) => r.place.set === set).map((rung) => ({ rung, outcome: outcomeOf(state, rung) }));

/**
 * The cause that was found at a point of a set: all of it is to be read again before anything else is decided.
 * @example causeFound(run, 'as-found') // null
 */
export function causeFound(state: RunState, set: string): { id: string; note: string; words: string } | null {
  const found = rungsOf(state, set).find(({ outcome }) => outcome?.helped);
  return found ? { id: found.rung.id, note: found.rung.note, words: found.outcome!.words } : null;
}

/** The cause that was looked for before an item of the plan. */
export const rungOf = (state: RunState, item: LookItem): RungRecord | undefined =>
  state.rungs.find((r) => r.id === item.id && isThere(r.place, item));
