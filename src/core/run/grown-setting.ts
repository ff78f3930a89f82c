import { isGrowing } from '../evaluate/names/registry';
import { namesOf } from '../formula/formula';
import { scopedPlace } from '../evaluate/setting-of';
import type { Setting } from '../evaluate/setting';
import { itemsOfReading, valueForCase } from '../state/run-case';
import { slotKey } from '../state/place-keys';
import type { Reading, RunState } from '../state/run-state';

const isSameRepeat = (a: Reading['slot'], b: Reading['slot']): boolean =>
  a.set === b.set &&
  a.series === b.series &&
  a.each === b.each &&
  a.point === b.point &&
  a.sweep === b.sweep &&
  a.repeat === b.repeat;

/**
 * The setting of a run after one more reading, grown from the one before it in place of being read anew: with thousands of readings
 * that is what an entry would wait for. Null where more than that reading is new. The setting that is given must not be used again.
 * @param before the setting of the same set one event earlier
 */
export function grownSetting(before: Setting, state: RunState, set: string): Setting | null {
  const reading = state.readings.at(-1);
  const last = state.readings.at(-2);
  if (!reading || !last || reading.sequence !== state.sequence || reading.struck || last.struck) return null;
  if (reading.slot.set !== set || last.slot.set !== set) return null;
  // What was recorded between the two holds from the later on: then the whole is read anew.
  const since = Math.max(state.conditions.at(-1)?.sequence ?? 0, state.steps.at(-1)?.sequence ?? 0);
  if (since > last.sequence) return null;
  const series = before.series.get(reading.slot.series);
  // What was worked out for one reading may change with another where a formula looks beyond it.
  if (!series || series.doc.computed.some((c) => namesOf(c.is).some(isGrowing))) return null;
  const values = { [reading.slot.observation]: valueForCase(state, reading) };
  const others = series.doc.observe.some((o) => {
    const other = { ...reading.slot, observation: o.id };
    return o.id !== reading.slot.observation && state.live.has(slotKey(other));
  });
  if (isSameRepeat(reading.slot, last.slot)) before.observed.addToLast(values);
  else if (others) return null;
  else {
    const place = scopedPlace(before, series, reading.slot);
    if (!place) return null;
    const row = { series: series.doc.id, conditions: {}, steps: {}, items: itemsOfReading(state, reading), readings: [values] };
    before.observed.add(row, before.observed.readings.at(-1)!.time + 1, set, place);
  }
  // What is worked out from readings is worked out anew; where they are wanted stays.
  const kept = [...before.memo].filter(([key]) => key.startsWith('slots|'));
  return { ...before, memo: new Map(kept) };
}
