import type { Place } from '../../core/plan/plan-schema';
import type { EvaluatedResult } from '../../core/evaluate/evaluation';
import type { ResultDocument } from '../../core/procedure/document-schema';
import { shownNominal } from '../../core/state/own-units';
import { pointTitle, shownUnit } from '../../core/run/place-words';
import { offeredResults } from '../../core/run/reading-rules';
import { determinedIn } from '../../core/run/run-results';
import { placesKey } from '../../core/state/place-keys';
import type { Reading, RunState, Slot } from '../../core/state/run-state';
import { unitIn } from '../../core/steps/step-context';

/** More points than this are not drawn: their results would take too long for a picture. */
const most = 60;

export type SketchPoint = {
  id: string;
  title: string;
  nominal: number | undefined;
  columns: Record<string, unknown>;
  result: EvaluatedResult | undefined;
  isHere: boolean;
};

export type SketchData = {
  points: SketchPoint[];
  result: ResultDocument | undefined;
  unit: string;
  shownIn: string;
};

/** The points of a series where a reading stands, with what they have given so far. */
export function sketchData(state: RunState, slot: Slot): SketchData {
  const place: Place = { set: slot.set, series: slot.series, ...(slot.each === undefined ? {} : { each: slot.each }) };
  const results = offeredResults(state, place);
  const result = results.find((r) => (r.tolerance ?? r.tolerances) !== undefined) ?? results[0];
  const all = state.places.get(placesKey(slot.set, slot.series, slot.each ?? null))?.points ?? [];
  const read = new Set(readingsHere(state, slot).map((r) => r.slot.point));
  const sweep = slot.sweep !== undefined && !result?.over?.includes('sweeps') ? { sweep: slot.sweep } : {};
  const points = all.slice(0, most).map((p) => {
    const at = { ...place, point: p.id, ...sweep };
    return {
      id: p.id,
      title: pointTitle(state, at),
      nominal: shownNominal(state, at),
      columns: p.columns,
      result: result && read.has(p.id) ? determinedIn(state, at, result) : undefined,
      isHere: p.id === slot.point,
    };
  });
  return {
    points,
    result,
    unit: result ? unitIn(state, result.unit, place) : '',
    shownIn: result ? shownUnit(state, result, place) : '',
  };
}

/** Readings that count, of the same series, instance and set. */
export const readingsHere = (state: RunState, slot: Slot): Reading[] =>
  [...state.live.values()].filter(
    (r) => r.slot.set === slot.set && r.slot.series === slot.series && (r.slot.each ?? null) === (slot.each ?? null),
  );
