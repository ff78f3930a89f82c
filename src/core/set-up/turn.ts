import type { Place, PlanItem } from '../plan/plan-schema';
import { nextItem } from '../run/next-step';
import { isDone } from '../state/progress';
import { placesKey } from '../state/place-keys';
import type { RunState } from '../state/run-state';
import { isShared } from '../plan/shared';

/** What comes next in a set-up: an item of each of these runs, done once for all of them or for one alone. */
export type Turn = { key: string; members: number[]; isShared: boolean };

/**
 * What tells a point from the others of its series in any instrument of the set-up: its label, else its nominal.
 * @example pointKey(run, place) // 'n7.7'
 */
export function pointKey(state: RunState, place: Place): string {
  if (place.point === undefined) return '';
  const points = state.places.get(placesKey(place.set, place.series ?? '', place.each))?.points;
  const point = points?.find((p) => p.id === place.point);
  if (point?.label !== undefined) return `l${point.label}`;
  return point?.nominal === undefined ? `i${place.point}` : `n${Number(point.nominal.toPrecision(12))}`;
}

/**
 * The name of an item that is the same in the plans of all instruments of the set-up.
 * @example commonKey(run, run.plan[0]) // 'step|as-found||||||number|'
 */
export function commonKey(state: RunState, item: PlanItem): string {
  const { type, set, series = '', each = '', sweep = '' } = item;
  const repeat = 'repeat' in item ? (item.repeat ?? '') : '';
  const id = 'id' in item ? item.id : '';
  const of = 'of' in item ? (item.of ?? '') : '';
  return [type, set, series, each, pointKey(state, item), sweep, repeat, id, of].join('|');
}

const positions = new WeakMap<readonly PlanItem[], Map<string, number>>();

/** Where each common name stands in a plan; remembered with the plan. */
function positionsOf(state: RunState): Map<string, number> {
  let known = positions.get(state.plan);
  if (!known) {
    known = new Map(state.plan.map((item, i) => [commonKey(state, item), i]));
    positions.set(state.plan, known);
  }
  return known;
}

/**
 * The item of a run that has a common name; undefined where its plan has none.
 * @example itemNamed(run, commonKey(run, run.plan[0])).type // 'step'
 */
export const itemNamed = (state: RunState, key: string): PlanItem | undefined => state.plan[positionsOf(state).get(key) ?? -1];

/** Whether a run takes part in its set-up still. @example takesPart(run) // false */
export const takesPart = (state: RunState): boolean => state.setUp?.left === null && !state.completed && !state.brokenOff;

function isStillAhead(state: RunState, key: string): boolean {
  const at = positionsOf(state).get(key);
  return at !== undefined && at > state.firstOpen && !isDone(state, state.plan[at]!);
}

/** How late in a run something comes: sets in their order, each with its readings, its judgement, its adjustment; then the end. */
function phaseOf(state: RunState, item: PlanItem): number {
  const at = state.sets.findIndex((s) => s.id === item.set);
  const set = at < 0 ? state.sets.length : at;
  switch (item.type) {
    case 'interval':
    case 'complete':
      return Infinity;
    case 'judge':
      return 10 * set + 1;
    case 'adjust':
      return 10 * set + 2;
    case 'step':
      if (item.of !== undefined) return 10 * set + 2;
      if (item.series === undefined && state.procedure.steps.find((s) => s.id === item.id)?.after === 'run') return Infinity;
      return 10 * set;
    default:
      return 10 * set;
  }
}

/** The order of two fronts that nothing in the plans orders, as when one instrument has a point that another has not. */
function orderOf(state: RunState, item: PlanItem): number[] {
  const { procedure } = state;
  const series = procedure.series.findIndex((s) => s.id === item.series);
  const sweeps = procedure.series[series]?.sweeps ?? [];
  const sweep = sweeps.findIndex((s) => s.id === item.sweep);
  const points = state.places.get(placesKey(item.set, item.series ?? '', item.each))?.points ?? [];
  const nominal = points.find((p) => p.id === item.point)?.nominal ?? 0;
  return [phaseOf(state, item), series, sweep, sweeps[sweep]?.backwards ? -nominal : nominal];
}

const compare = (a: readonly number[], b: readonly number[]): number => {
  const at = a.findIndex((x, i) => x !== b[i]);
  return at < 0 ? 0 : a[at]! < b[at]! ? -1 : 1;
};

/** Which passage over the instruments a reading belongs to, from 0: every second one runs back. */
function passageOf(state: RunState, item: PlanItem): number {
  if (item.type !== 'reading') return 0;
  let passage = 0;
  for (const other of state.plan) {
    if (other === item) break;
    const isBeside =
      other.type === 'reading' &&
      other.set === item.set &&
      other.series === item.series &&
      other.each === item.each &&
      other.point === item.point &&
      other.sweep === item.sweep;
    if (isBeside && !isShared(state.procedure, other)) passage++;
  }
  return passage;
}

/**
 * What comes next for several instruments in one set-up. Each run has its own plan, and what comes next in it is its first open item;
 * of those the set-up takes one that nobody else has still ahead. What is shared is done once for all who stand there; what is not
 * goes from instrument to instrument, forwards, then back.
 * @param states the runs in the order of the set-up; those that left, finished or were broken off take no part
 * @returns null when nothing is left to do
 * @example of three thermometers with S, T, T, S at a point: S for all, T of a, b, c, T of c, b, a, S for all
 */
export function nextTurn(states: readonly RunState[]): Turn | null {
  const fronts = states.flatMap((state, member) => {
    const item = takesPart(state) ? nextItem(state) : null;
    return item ? [{ state, member, item, key: commonKey(state, item) }] : [];
  });
  const free = fronts.filter((f) => fronts.every((o) => o.key === f.key || !isStillAhead(o.state, f.key)));
  // Plans that order the same things differently cannot stop each other.
  const open = free.length > 0 ? free : fronts;
  const [first] = [...open].sort((a, b) => compare(orderOf(a.state, a.item), orderOf(b.state, b.item)));
  if (!first) return null;
  const together = fronts.filter((f) => f.key === first.key);
  const members = together.map((f) => f.member);
  if (isShared(first.state.procedure, first.item)) return { key: first.key, members, isShared: true };
  const isBack = passageOf(first.state, first.item) % 2 === 1;
  return { key: first.key, members: [isBack ? members.at(-1)! : members[0]!], isShared: false };
}
