import type { Place } from '../plan/plan-schema';
import { kindOfSet } from '../evaluate/completeness';
import { parseReading } from '../quantity/reading';
import { unitIn } from '../steps/step-context';
import { placeTitle, seriesOf, shownUnit } from './place-words';
import { determinedIn } from './run-results';
import { slotKey } from '../state/place-keys';
import type { Reading, RunState, Slot } from '../state/run-state';
import { inShownUnit, signed, significant, withPrintedUnit } from './shown-value';

/** A share of the error as found below which a change is none. */
const hardly = 0.25;
/** Points of the new set after which it is too late to ask: whoever has read so many has seen it. */
const soon = 5;

/**
 * Whether an adjustment took: the first point complete after it that was far off before tells. A result that has hardly moved, or has
 * moved away, is asked about. Null where nothing is odd, or it is not the time to tell.
 * @example adjustmentDoubt(run, { text: '7.702' }, slot) // null
 */
export function adjustmentDoubt(
  state: RunState,
  act: Pick<Reading, 'text' | 'unit'>,
  slot: Slot,
): { message: string; suggestion: null } | null {
  const made = state.adjusted.at(-1);
  if (!made || kindOfSet(slot.set) !== 'as-left') return null;
  const doc = state.procedure.adjustments.find((a) => a.id === made.id);
  const series = seriesOf(state, slot.series);
  const result = series?.results.find((r) => r.symbol === doc?.result) ?? series?.results[0];
  if (!doc?.of.includes(slot.series) || (made.each !== undefined && made.each !== slot.each) || !series || !result) return null;
  const read = new Set(
    [...state.live.values()]
      .filter(({ slot: s }) => s.set === slot.set && s.series === slot.series && s.each === slot.each)
      .map((r) => r.slot.point),
  );
  if (read.size > soon) return null;
  const { repeat: _repeat, observation: _observation, ...place } = slot;
  const resultIn = (at: RunState, where: Place) => determinedIn(at, where, result);
  const errorIn = (at: RunState, where: Place) => resultIn(at, where)?.estimate;
  const found = new Map(
    (state.places.get(`${made.set}|${slot.series}|${slot.each ?? ''}`)?.points ?? []).map((p) => [
      p.id,
      Math.abs(errorIn(state, { ...place, set: made.set, point: p.id }) ?? 0),
    ]),
  );
  const isFarOff = (point: string) => (found.get(point) ?? 0) >= Math.max(...found.values()) / 2;
  // Once one such point has shown what became of it, nothing is asked again.
  const isTold = [...read].some((point) => isFarOff(point) && errorIn(state, { ...place, point }) !== undefined);
  if (isTold || !isFarOff(slot.point)) return null;
  const { estimate: before = 0, expandedUncertainty = 0 } = resultIn(state, { ...place, set: made.set }) ?? {};
  // An error that its uncertainty hides was not what was adjusted.
  if (Math.abs(before) <= expandedUncertainty) return null;
  const after = errorIn(withReading(state, act, slot), place);
  if (after === undefined) return null;
  const unit = unitIn(state, result.unit, place);
  const shownIn = shownUnit(state, result, place);
  const shown = (value: number) => signed(withPrintedUnit(significant(inShownUnit(value, unit, shownIn), 2), shownIn));
  const where = placeTitle(state, place);
  const values = `${where ? `${where}: ` : ''}${shown(before)} before the adjustment, ${shown(after)} now.`;
  if (Math.abs(after - before) < hardly * Math.abs(before))
    return { message: `${values} It has changed next to nothing. Was it entered, and kept by the instrument?`, suggestion: null };
  if (Math.abs(after) > Math.abs(before))
    return { message: `${values} It has become worse. Was it entered with the right sign?`, suggestion: null };
  return null;
}

/** The state as it would be with one reading more. */
function withReading(state: RunState, { text, unit }: Pick<Reading, 'text' | 'unit'>, slot: Slot): RunState {
  const parsed = parseReading(text);
  if (!parsed.ok) return state;
  const reading: Reading = {
    sequence: state.sequence + 1,
    at: '',
    person: '',
    slot,
    text: parsed.reading.text,
    value: parsed.reading.value,
    ...(unit === undefined ? {} : { unit }),
    reason: null,
    struck: null,
  };
  return {
    ...state,
    readings: [...state.readings, reading],
    live: new Map(state.live).set(slotKey(slot), reading),
  };
}
