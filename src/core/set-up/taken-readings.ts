import { slotKey, slotOf } from '../state/place-keys';
import type { Reading, RunState } from '../state/run-state';
import { isShared } from '../plan/shared';
import { commonKey, takesPart } from './turn';

export type Taken = { member: number; reading: Reading };

/**
 * The readings of a set-up that stand, in the order in which they were taken; what was read once for all stands there once, with the
 * first run that has it.
 * @param set only those of one set
 * @example takenReadings([run], 'as-found').length // 0
 */
export function takenReadings(states: readonly RunState[], set: string): Taken[] {
  const seen = new Set<string>();
  const all = states.flatMap((state, member) => {
    if (!takesPart(state)) return [];
    return state.plan.flatMap((item): Taken[] => {
      if (item.type !== 'reading' || item.set !== set) return [];
      const reading = state.live.get(slotKey(slotOf(item)));
      if (!reading) return [];
      if (!isShared(state.procedure, item)) return [{ member, reading }];
      const key = commonKey(state, item);
      if (seen.has(key)) return [];
      seen.add(key);
      return [{ member, reading }];
    });
  });
  return all.sort((a, b) => (a.reading.at < b.reading.at ? -1 : a.reading.at > b.reading.at ? 1 : 0));
}
