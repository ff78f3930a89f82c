import { criticalRange } from '../statistics/critical-range';
import { seriesOf } from './place-words';
import { withPrintedUnit } from './shown-value';
import { observationOf, observedResolution, observedUnit } from './reading-rules';
import type { Reading, RunState, Slot } from '../state/run-state';

/** What the repeats of a point look like together. */
export type Agreement = {
  /** They agree; one more is wanted; they go one way; they do not come together. */
  state: 'agree' | 'one-more' | 'moving' | 'apart';
  count: number;
  /** From the least to the greatest, and how far they may lie apart, in the unit of the observation. */ range: number;
  allowed: number;
  /** Where they go one way: by how much a minute. */ perMinute: number | null;
  words: string;
};

/** Repeats of the same observation at the same point, in the order in which they were taken. */
function repeatsAt(state: RunState, slot: Slot): Reading[] {
  const { repeat: _repeat, ...place } = slot;
  return [...state.live.values()]
    .filter((r) => {
      const { repeat: _other, ...there } = r.slot;
      return (
        typeof r.value === 'number' &&
        there.set === place.set &&
        there.series === place.series &&
        there.observation === place.observation &&
        there.point === place.point &&
        (there.each ?? null) === (place.each ?? null) &&
        (there.sweep ?? null) === (place.sweep ?? null)
      );
    })
    .sort((a, b) => a.slot.repeat - b.slot.repeat);
}

/** Few points tell little of a scatter: with fewer degrees of freedom only the display's step counts. */
const fewestDof = 4;
/** A single step of a display is no scatter: readings that differ by one step are the same. */
const steps = 0.6;
/** Steps of the display that one reading may scatter by where nothing tells what is usual here. */
const stepsUnknown = 1.2;

/** What one reading scatters by: over the other points of its series in this set, never less than the display allows. */
function expectedDeviation(state: RunState, slot: Slot, resolution: number | null): number | null {
  const groups = new Map<string, number[]>();
  for (const r of state.live.values()) {
    const s = r.slot;
    if (s.set !== slot.set || s.series !== slot.series || s.observation !== slot.observation) continue;
    if (typeof r.value !== 'number' || (s.point === slot.point && (s.sweep ?? null) === (slot.sweep ?? null))) continue;
    const key = `${s.each ?? ''}|${s.point}|${s.sweep ?? ''}`;
    groups.set(key, [...(groups.get(key) ?? []), r.value]);
  }
  let [squares, dof] = [0, 0];
  for (const values of groups.values()) {
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    squares += values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
    dof += values.length - 1;
  }
  const known = dof >= fewestDof ? Math.sqrt(squares / dof) : 0;
  return Math.max(known, (resolution ?? 0) * (dof >= fewestDof ? steps : stepsUnknown)) || null;
}

/**
 * Whether the repeats of a point agree, by the critical range of ISO 5725-6: with one more than planned apart they do not come
 * together, and it is the contact that is looked at, not the mean. The scatter is that of the other points in this set.
 * @returns null where there are fewer than two, or nothing is known of their scatter
 * @example agreementAt(run, slot).words // 'They agree: 0 mm apart, 0.002 mm expected at the most.'
 */
export function agreementAt(state: RunState, slot: Slot): Agreement | null {
  const observation = observationOf(state, slot);
  if (!observation || observation.type !== 'number' || seriesOf(state, slot.series)?.separate) return null;
  const readings = repeatsAt(state, slot);
  const deviation = expectedDeviation(state, slot, observedResolution(state, slot, observation));
  if (readings.length < 2 || deviation === null) return null;
  const values = readings.map((r) => r.value as number);
  const range = Math.max(...values) - Math.min(...values);
  const allowed = criticalRange(values.length, deviation);
  const changes = values.slice(1).map((v, i) => v - values[i]!);
  const isOneWay = values.length >= 3 && range > allowed && (changes.every((c) => c > 0) || changes.every((c) => c < 0));
  const minutes = (Date.parse(readings.at(-1)!.at) - Date.parse(readings[0]!.at)) / 60_000;
  const perMinute = isOneWay && minutes > 0 ? (values.at(-1)! - values[0]!) / minutes : null;
  const unit = observedUnit(state, slot, observation);
  const say = (n: number) => withPrintedUnit(String(Number(n.toPrecision(2))).replace('-', '−'), unit);
  const apart = `${say(range)} apart, ${say(allowed)} expected at the most`;
  const told = { count: values.length, range, allowed, perMinute };
  // A hair more than the rule, from rounding in the numbers, is no disagreement.
  if (range <= allowed * (1 + 1e-9)) return { ...told, state: 'agree', words: `They agree: ${apart}.` };
  if (isOneWay)
    return {
      ...told,
      state: 'moving',
      words: `They go one way${perMinute === null ? '' : `, ${say(perMinute)} a minute`}: ${apart}. Let it come to rest, then take them again.`,
    };
  if (values.length < 3) return { ...told, state: 'one-more', words: `One more: ${apart}.` };
  return {
    ...told,
    state: 'apart',
    words: `They do not come together: ${apart}. Look at contact and seating, then take them again.`,
  };
}
