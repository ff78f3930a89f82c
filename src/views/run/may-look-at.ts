import { isOpenReading } from '../../core/run/open-readings';
import { slotKey } from '../../core/state/place-keys';
import type { RunState, Slot } from '../../core/state/run-state';

/** Whether a place of a sheet can be gone to: a reading stands there, or may be taken. */
export function mayLookAt(state: RunState, slot: Slot): boolean {
  const planned = state.plan[state.index.get(slotKey(slot)) ?? -1];
  return state.live.has(slotKey(slot)) || (planned !== undefined && isOpenReading(state, planned));
}
