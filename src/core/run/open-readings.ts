import type { PlanItem } from '../plan/plan-schema';
import { isClosed, isDone } from '../state/progress';
import { slotKey, slotOf } from '../state/place-keys';
import type { RunState, Slot } from '../state/run-state';

/**
 * Where readings stop for now: at the first thing that is not one and has to be done first.
 * @example openReadings(run).from > openReadings(began).from // true
 */
export function openReadings(state: RunState): { from: number; to: number } {
  let to = state.firstOpen;
  while (to < state.plan.length && (state.plan[to]!.type === 'reading' || isDone(state, state.plan[to]!))) to++;
  return { from: state.firstOpen, to };
}

/**
 * Whether a reading may be taken now: nothing that has to be done before it is open.
 * @example isOpenReading(run, { type: 'reading', ...slot, id: 'R' }) // false
 */
export const isOpenReading = (state: RunState, item: PlanItem): boolean => {
  const at = state.plan.indexOf(item);
  return item.type === 'reading' && !isClosed(state, item.set) && at >= 0 && at < openReadings(state).to;
};

/**
 * The reading that comes before or after another in the plan; null at an end. Only what is open or taken in its set can be stepped to.
 * @example readingBeside(run, slot, 1).point // 'p3'
 */
export function readingBeside(state: RunState, slot: Slot, by: 1 | -1): Slot | null {
  const at = state.index.get(slotKey(slot));
  if (at === undefined) return null;
  const { to } = openReadings(state);
  for (let i = at + by; i >= 0 && i < state.plan.length; i += by) {
    const item = state.plan[i]!;
    if (item.type !== 'reading') continue;
    if (item.set !== slot.set) return null;
    if (i < to) return slotOf(item);
  }
  return null;
}
