/** What of a run is read, skipped, done or closed. */

import type { Place, PlanItem } from '../plan/plan-schema';

import type { RunState, SetRecord, Signed, Slot } from './run-state';
import { placeKey, itemKey, slotKey, slotOf } from './place-keys';

/**
 * Why a place is skipped: itself, its point in every sweep, its instance or its series; null when it is not.
 * @example skipOf(run, place) // null
 */
export function skipOf(state: RunState, p: Place): (Signed & { reason: string }) | null {
  if (state.skipped.size === 0 || p.series === undefined) return null;
  const { set, series, each, point, sweep } = p;
  const scopes: Place[] = [
    {
      set,
      series,
      ...(each === undefined ? {} : { each }),
      ...(point === undefined ? {} : { point }),
      ...(sweep === undefined ? {} : { sweep }),
    },
    { set, series, ...(each === undefined ? {} : { each }), ...(point === undefined ? {} : { point }) },
    { set, series, ...(each === undefined ? {} : { each }) },
    { set, series },
  ];
  for (const scope of scopes) {
    const found = state.skipped.get(placeKey(scope));
    if (found) return found;
  }
  return null;
}

const slotsOfPoints = new WeakMap<readonly PlanItem[], Map<string, Slot[]>>();

/** The readings that a plan wants of every point, by its place with and without the passage. */
function slotsByPoint(plan: readonly PlanItem[]): Map<string, Slot[]> {
  let known = slotsOfPoints.get(plan);
  if (known) return known;
  known = new Map();
  for (const item of plan) {
    if (item.type !== 'reading') continue;
    const slot = slotOf(item);
    const { sweep, ...point } = slot;
    for (const key of new Set([placeKey(point), placeKey({ ...point, ...(sweep === undefined ? {} : { sweep }) })]))
      known.set(key, [...(known.get(key) ?? []), slot]);
  }
  slotsOfPoints.set(plan, known);
  return known;
}

/**
 * Whether everything that is wanted of a point (of one passage, where the place names it) has been read or skipped.
 * @example isPointRead(run, place) // true
 */
export const isPointRead = (state: RunState, point: Place): boolean =>
  (slotsByPoint(state.plan).get(placeKey(point)) ?? []).every(
    (slot) => state.live.has(slotKey(slot)) || skipOf(state, slot) !== null,
  );

/** @example setOf(run, 'as-found').id // 'as-found' */
export const setOf = (state: RunState, set: string): SetRecord | undefined => state.sets.find((s) => s.id === set);

/**
 * Whether nothing of a set may be changed any more: it was judged, or another set has begun.
 * @example isClosed(run, 'as-found') // false
 */
export function isClosed(state: RunState, set: string): boolean {
  const judge = itemKey({ type: 'judge', set });
  return state.index.has(judge) ? state.done.has(judge) : state.sets.at(-1)!.id !== set;
}

const readsNothing = new Set(['look', 'judge', 'adjust', 'begin', 'interval', 'complete']);

/**
 * Whether an item of the plan is done, skipped, or passed over because its set was ended early.
 * @example isDone(run, run.plan[0]) // true
 */
export function isDone(state: RunState, item: PlanItem): boolean {
  if (state.done.has(itemKey(item))) return true;
  if (readsNothing.has(item.type)) return false;
  // Ended early: what has a series is passed over; steps of the run itself are done all the same.
  if (item.series !== undefined || item.type === 'condition') if (setOf(state, item.set)?.ended) return true;
  return skipOf(state, item) !== null;
}

/** Whether something was turned since the last decision on a set. @example isTurned(run, 'as-found') // false */
export const isTurned = (state: RunState, set: string): boolean =>
  state.turns.some((t) => t.place.set === set && t.id === state.decisions.at(-1)?.adjustment);

/** Whether an adjustment of a set was decided on and has not been made yet. @example isBeforeAdjusting(run, 'as-found') // false */
export function isBeforeAdjusting(state: RunState, set: string): boolean {
  const decision = state.decisions.at(-1);
  const adjusts = decision?.plan.items.find((i) => i.type === 'adjust');
  return decision?.set === set && adjusts !== undefined && !isDone(state, adjusts) && !isTurned(state, set);
}
