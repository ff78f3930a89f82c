import type { Place } from '../plan/plan-schema';
import { ownForm, ownUnitOf, stepInOwn, type OwnForm, type OwnUnit } from '../evaluate/own-unit';
import type { Num, SeriesDocument } from '../procedure/document-schema';
import { convert, convertDifference, isSameKind } from '../quantity/unit';
import { placedPoint, type RunState } from './run-state';

/** Numbers of the document as this run's instrument and standards show them: in their own units. */

const known = new WeakMap<RunState['instrument'], OwnUnit | null>();

/** The instrument's own unit beside the document's; null where they are one. */
export function ownUnits(state: Pick<RunState, 'procedure' | 'instrument'>): OwnUnit | null {
  if (!known.has(state.instrument)) known.set(state.instrument, ownUnitOf(state.procedure, state.instrument));
  return known.get(state.instrument)!;
}

/**
 * How a number of this unit stands on the instrument; null where it stays as the document declares it.
 * @example ownFormIn(run, 'mm') // null
 */
export const ownFormIn = (state: Pick<RunState, 'procedure' | 'instrument'>, unit: unknown): OwnForm | null =>
  ownForm(ownUnits(state), unit);

/** A converted number without the noise of its binary form. */
const clean = (value: number): number => Number(value.toPrecision(12));

/** A number of the document as it is shown. @example toShown(run, 'mm', 7.7) // 7.7 */
export function toShown(state: RunState, unit: unknown, value: number): number {
  const form = ownFormIn(state, unit);
  return form ? clean(form.toOwn(value)) : value;
}

/** A ring of 25 mm is one of 0.984252 in: more digits name nothing. */
const nominalDigits = 7;

/** The nominal value of a point as it is shown; undefined where it has none. @example shownNominal(run, place) // 7.7 */
export function shownNominal(state: RunState, place: Place): number | undefined {
  const nominal = placedPoint(state, place)?.nominal;
  const unit = state.procedure.series.find((s) => s.id === place.series)?.points?.unit;
  return nominal === undefined ? undefined : Number(toShown(state, unit, nominal).toPrecision(nominalDigits));
}

type Observation = SeriesDocument['observe'][number];

/** The unit of a standard that fills a role, or of the part that a use names; undefined where several differ or none says. */
function unitOfRole(state: RunState, series: SeriesDocument, of: string): string | undefined {
  const use = series.uses[of];
  const documents = (state.standards[use?.role ?? of] ?? []).map((s) => s.document);
  const units = new Set(documents.map((d) => d.parts?.find((p) => p.id === use?.part)?.unit ?? d.unit));
  return units.size === 1 ? [...units][0] : undefined;
}

/**
 * How an observation is read: the instrument in its own unit where the document's is meant, a standard in the unit in which it shows.
 * Null where it is read in the unit that the document declares.
 * @example readForm(run, series, series.observe[0]) // null
 */
export function readForm(state: RunState, series: SeriesDocument | undefined, observation: Observation): OwnForm | null {
  const { unit } = observation;
  if (observation.of === 'instrument') return ownFormIn(state, unit);
  if (!series || typeof unit !== 'string') return null;
  const own = unitOfRole(state, series, observation.of);
  if (own === undefined || own === unit || !isSameKind(own, unit)) return null;
  return {
    unit: own,
    toOwn: (v) => convert(v, unit, own),
    toDocument: (v) => convert(v, own, unit),
    isDifference: false,
  };
}

/**
 * A step of the document in the unit in which it is counted: a number is rounded to one that counts well there.
 * @example shownStep(run, 'mm', 5, 5) // 5
 */
export function shownStep(state: RunState, unit: string, step: Num, value: number): number {
  const form = ownFormIn(state, unit);
  if (!form) return value;
  if (typeof step === 'number') return stepInOwn(step, { document: unit, own: form.unit });
  return clean(convertDifference(value, unit, form.unit));
}
