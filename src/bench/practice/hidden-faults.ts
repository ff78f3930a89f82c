import type { FaultKind, FaultTold } from '../../core/practice/debrief-shape';
import { isJudged } from '../../core/run/judged-points';
import { observationOf } from '../../core/run/reading-rules';
import { settingIn } from '../../core/run/run-results';
import { numberAt } from '../../core/state/run-scope';
import { placedPoint, type RunState, type Slot } from '../../core/state/run-state';
import type { ProcedureDocument, SeriesDocument } from '../../core/procedure/document-schema';
import { along, halfOfLimits } from '../bench';
import { normalDeviate } from '../random';
import type { Truth } from '../truths';

/** Something that is wrong, which whoever is at the bench does not know. */
export type HiddenFault = {
  kind: FaultKind;
  /** The series in which it shows. */ series: string;
  /** In halves of what the limits allow, of either sign. */ size: number;
  /** Which of the points, as a share of their row. */ at: number;
  /** The cause of the procedure that, looked for, takes it away; null: it is the instrument's own. */ cause: string | null;
};

const bow = (t: number): number => 4 * t * (1 - t);
const seriesOf = (state: RunState, id: string): SeriesDocument => state.procedure.series.find((s) => s.id === id)!;

/** The result of a series that is judged: the one in which a fault is told. */
export const judgedSymbol = (series: SeriesDocument): string | undefined =>
  series.results.find((r) => isJudged(r) && !r.gate)?.symbol;

/** Points of a series in the order in which they are read. */
const pointsOf = (state: RunState, slot: Slot): string[] => [
  ...new Set(
    state.plan.flatMap((i) =>
      i.type === 'reading' && i.set === slot.set && i.series === slot.series && i.each === slot.each ? [i.point!] : [],
    ),
  ),
];

const indexAt = (at: number, count: number): number => Math.min(count - 1, Math.floor(at * count));

/** How long what moves with time takes to have moved all of its way, in minutes. */
const driftMinutes = 15;
/** It settles in so many minutes, and so many times as slowly as the procedure takes for granted. */
const settlesIn = 15;
const slower = 3;

/** Whether a fault is there still: what was looked for is not. */
export const isThereStill = (state: RunState, { cause }: HiddenFault): boolean =>
  cause === null || !(state.rulings.some((r) => r.id === cause) || state.rungs.some((r) => r.id === cause));

/** The point that stands in for another, and the other way round: neighbours in the row. */
function otherOf(points: readonly string[], point: string, at: number): string | null {
  if (points.length < 2) return null;
  const first = indexAt(at, points.length - 1);
  const [a, b] = [points[first]!, points[first + 1]!];
  return point === a ? b : point === b ? a : null;
}

/** What a fault adds to the result that it shows in, in halves of what the limits allow there; `now` is when it is read. */
function shareOf(state: RunState, slot: Slot, fault: HiddenFault, now: string, random: () => number): number {
  const t = along(state, slot);
  const points = pointsOf(state, slot);
  switch (fault.kind) {
    case 'offset':
      return fault.size;
    case 'span':
      return fault.size * t;
    case 'curvature':
      return fault.size * bow(t);
    case 'hysteresis': {
      const isBack = seriesOf(state, slot.series).sweeps?.find((s) => s.id === slot.sweep)?.backwards === true;
      return (isBack ? 0.5 : -0.5) * fault.size * bow(t);
    }
    case 'odd-point':
      return points[indexAt(fault.at, points.length)] === slot.point ? fault.size : 0;
    case 'scatter':
      return fault.size * normalDeviate(random);
    case 'drift': {
      const first = state.readings.find((r) => r.slot.set === slot.set && r.slot.series === slot.series)?.at ?? now;
      return fault.size * Math.min(1, (Date.parse(now) - Date.parse(first)) / 60_000 / driftMinutes);
    }
    case 'not-settled': {
      const isFirst = ![...state.live.values()].some(
        (r) =>
          r.slot.set === slot.set && r.slot.series === slot.series && r.slot.point === slot.point && r.slot.sweep === slot.sweep,
      );
      const before = state.readings.at(-1)?.at;
      const waited = before ? (Date.parse(now) - Date.parse(before)) / 60_000 : Infinity;
      const expected = (observationOf(state, slot)?.settleSeconds ?? 0) / 60;
      return isFirst && waited < settlesIn + slower * expected && points[0] !== slot.point ? fault.size : 0;
    }
    case 'exchanged':
    case 'stuck':
      return 0;
  }
}

export type FaultsAtBench = {
  faults: readonly HiddenFault[];
  /** When what is asked is read. */ now: string;
  drawFor: (key: string) => () => number;
};

/**
 * What faults add to the true value of a result where a reading stands, in the unit of the result.
 * @param isOwn only those of the instrument itself, as they are without what is looked for elsewhere
 */
export function addedBy(
  state: RunState,
  slot: Slot,
  symbol: string,
  { faults, now, drawFor }: FaultsAtBench,
  isOwn = false,
): number {
  const series = seriesOf(state, slot.series);
  const result = series.results.find((r) => r.symbol === symbol);
  if (!result || judgedSymbol(series) !== symbol) return 0;
  const mine = faults.filter((f) => f.series === slot.series && isThereStill(state, f) && (!isOwn || f.cause === null));
  if (mine.length === 0) return 0;
  const half = halfOfLimits(state, slot, result);
  if (half === null) return 0;
  const random = drawFor(`reading ${state.sequence} ${slot.point} ${slot.repeat}`);
  return mine.reduce((sum, fault) => {
    if (fault.kind === 'exchanged') {
      const other = otherOf(pointsOf(state, slot), slot.point, fault.at);
      return other ? sum + referenceAt(state, { ...slot, point: other }) - referenceAt(state, slot) : sum;
    }
    return sum + half * shareOf(state, slot, fault, now, random);
  }, 0);
}

/** The value that is realised where a reading stands. */
function referenceAt(state: RunState, slot: Slot): number {
  const { repeat: _repeat, observation: _observation, ...place } = slot;
  const series = seriesOf(state, slot.series);
  const { reference } = series.results.find((r) => r.symbol === judgedSymbol(series))!;
  return numberAt(settingIn(state, slot.set), reference, place) ?? placedPoint(state, slot)?.nominal ?? 0;
}

/** A truth whose display is misled by a part that sticks. */
export function misled(truth: Truth, { faults }: FaultsAtBench): Truth {
  return {
    ...truth,
    shows: (state, slot, random) => {
      const shown = truth.shows(state, slot, random);
      if (!('value' in shown)) return shown;
      const observed = seriesOf(state, slot.series).observe.find((o) => o.id === slot.observation);
      if (observed?.of !== 'instrument') return shown;
      return faults.reduce((now, fault) => {
        if (fault.series !== slot.series || !isThereStill(state, fault)) return now;
        if (fault.kind === 'stuck') {
          const points = pointsOf(state, slot);
          const last = indexAt(fault.at, points.length);
          if (points.indexOf(slot.point) <= last) return now;
          const there = truth.shows(state, { ...slot, point: points[last]! }, random);
          return 'value' in there ? { ...now, value: there.value + 0.02 * (now.value - there.value) } : now;
        }
        return now;
      }, shown);
    },
  };
}

type Adjustment = ProcedureDocument['adjustments'][number];

/** Whether an adjustment takes a fault of the instrument's own away: a cleaned movement all, a table what bends too, a constant or a factor what is straight. */
export function mends({ kind, of, affects = [] }: Adjustment, fault: HiddenFault): boolean {
  if (fault.cause !== null || ![...of, ...affects].includes(fault.series)) return false;
  if (kind === 'mechanical') return true;
  const isStraight = fault.kind === 'offset' || fault.kind === 'span';
  return isStraight || (fault.kind === 'curvature' && ['table', 'values', 'coefficients'].includes(kind));
}

/** What takes a fault away: a cause that is looked for, an adjustment, or nothing that is done at this bench. */
export type Remedy = FaultTold['remedy'];

/** What takes a fault away. @example remedyOf(document, { kind: 'stuck', series: 'error', size: 1, at: 0.5, cause: null }) // 'none' */
export function remedyOf(procedure: ProcedureDocument, fault: HiddenFault): Remedy {
  if (fault.cause !== null) return 'look';
  return procedure.adjustments.some((a) => mends(a, fault)) ? 'adjust' : 'none';
}
