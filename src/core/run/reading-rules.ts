import type { Place } from '../plan/plan-schema';
import { formulasIn, namesOf } from '../formula/formula';
import type { ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { mean, standardDeviation } from '../statistics/moments';
import { convertDifference, printedUnit } from '../quantity/unit';
import { numberIn, unitIn } from '../steps/step-context';
import { readForm, shownNominal, shownStep } from '../state/own-units';
import { placeTitle, pointUnit, seriesOf } from './place-words';
import type { Expectation } from './plausibility';
import { undoubted } from './plausibility';
import { isIn, isObserved } from '../evaluate/setting';
import { settingIn } from './run-results';
import { scopeAt } from '../state/run-scope';
import { isOffScale } from '../quantity/reading';
import { readingNumber } from '../evaluate/observed';
import { placedPoint, type RunState, type Slot } from '../state/run-state';
import { slotKey } from '../state/place-keys';

export type Observation = SeriesDocument['observe'][number];

/** @example observationOf(run, slot).id // 'R' */
export const observationOf = (state: RunState, slot: Pick<Slot, 'series' | 'observation'>): Observation | undefined =>
  seriesOf(state, slot.series)?.observe.find((o) => o.id === slot.observation);

/** The standard that an observation is read from; undefined where it is the instrument or a part of it. */
export function roleOf(state: RunState, series: string | undefined, observation: Observation): string | undefined {
  const uses = seriesOf(state, series)?.uses ?? {};
  const role = uses[observation.of]?.role ?? observation.of;
  return state.procedure.standards.some((r) => r.role === role) ? role : undefined;
}

const placeOfSetting = (state: RunState, place: Place) => ({ state, setting: () => settingIn(state, place.set), place });

/** How an observation is read where that is not as the document declares it. */
const formOf = (state: RunState, place: Place, observation: Observation) =>
  readForm(state, seriesOf(state, place.series), observation);

/**
 * The unit in which an observation is read: what is read from says it, else the document.
 * @example observedUnit(run, place, series.observe[0]) // 'mm'
 */
export function observedUnit(state: RunState, place: Place, observation: Observation): string {
  const form = formOf(state, place, observation);
  if (form) return form.unit;
  if (observation.unit !== undefined) return unitIn(state, observation.unit, place);
  const role = roleOf(state, place.series, observation);
  return (role ? state.standards[role]?.[0]?.document.unit : state.instrument.unit) ?? '';
}

/**
 * The step of the display that an observation is read from; null where nobody states one.
 * @example observedResolution(run, place, series.observe[0]) // 0.001
 */
export function observedResolution(state: RunState, place: Place, observation: Observation): number | null {
  const form = formOf(state, place, observation);
  if (observation.resolution !== undefined) {
    const step = numberIn(placeOfSetting(state, place), observation.resolution) ?? null;
    if (step === null || !form || typeof observation.unit !== 'string') return step;
    return observation.of === 'instrument'
      ? shownStep(state, observation.unit, observation.resolution, step)
      : Number(convertDifference(step, observation.unit, form.unit).toPrecision(12));
  }
  const role = roleOf(state, place.series, observation);
  if (role) {
    // Of several, the step of the one that is used here.
    if ((state.standards[role]?.length ?? 0) > 1 && seriesOf(state, place.series)?.uses[observation.of])
      return numberIn(placeOfSetting(state, place), { is: `${observation.of}.resolution` }) || null;
    const own = state.standards[role]?.[0]?.document;
    const part = own?.parts?.find((p) => p.id === seriesOf(state, place.series)?.uses[observation.of]?.part);
    const resolution = part?.resolution ?? own?.resolution;
    return resolution && (part?.unit ?? own?.unit) === observedUnit(state, place, observation) ? resolution : null;
  }
  return observation.of === 'instrument' && observedUnit(state, place, observation) === state.instrument.unit
    ? state.instrument.resolution
    : null;
}

/** Whether a reading stays hidden while another is asked that is estimated by eye. @example isHiddenFrom(run, slot, null) // false */
export function isHiddenFrom(state: RunState, slot: Place, asked: Slot | null): boolean {
  if (asked === null || state.live.has(slotKey(asked)) || observationOf(state, asked)?.blind !== true) return false;
  const isThere = (['set', 'series', 'each', 'point', 'sweep'] as const).every(
    (k) => slot[k] === undefined || slot[k] === asked[k],
  );
  return isThere && slot.point !== undefined && (slot as Partial<Slot>).observation !== asked.observation;
}

export function observedLimits(state: RunState, place: Place, observation: Observation) {
  const form = formOf(state, place, observation);
  const limit = (number: Observation['lower']): number | undefined => {
    const value = numberIn(placeOfSetting(state, place), number);
    return value === undefined || !form ? value : Number(form.toOwn(value).toPrecision(9));
  };
  return { lower: limit(observation.lower), upper: limit(observation.upper) };
}

/** Readings of the same thing at the same point, in every sweep, repeat and set up to this one. */
function alike(state: RunState, slot: Slot): number[] {
  const { observed } = settingIn(state, slot.set);
  const observation = observationOf(state, slot);
  // Of a standard the case has what was typed in the document's unit; of the instrument as it was typed.
  const form = observation && observation.of !== 'instrument' ? formOf(state, slot, observation) : null;
  const asRead = (value: number): number => (form ? form.toOwn(value) : value);
  const sweeps = seriesOf(state, slot.series)?.sweeps?.map((s) => s.id) ?? [null];
  return state.sets.flatMap(({ id }) =>
    sweeps.flatMap((sweep) =>
      observed.cell(id, slot.series, slot.each ?? null, slot.point, sweep).flatMap((r) => {
        const value = r.values[slot.observation];
        return value === undefined || isOffScale(value) ? [] : [asRead(readingNumber(value, slot.observation, []))];
      }),
    ),
  );
}

/** A tenth of the way from a point to the next one of its instance, else of its series; null where there is no other. */
function tenthOfSpacing(state: RunState, { set, series, each }: Slot, nominal: number): number | null {
  const least = (isIn: (each: string | undefined) => boolean): number =>
    state.plan.reduce((near, i) => {
      if (i.type !== 'reading' || i.set !== set || i.series !== series || !isIn(i.each)) return near;
      const other = shownNominal(state, { set, series, ...(i.each === undefined ? {} : { each: i.each }), point: i.point });
      const apart = other === undefined ? Infinity : Math.abs(other - nominal);
      return apart > 1e-9 * Math.abs(nominal) ? Math.min(near, apart) : near;
    }, Infinity);
  const own = least((other) => other === each);
  const spacing = Number.isFinite(own) ? own : least(() => true);
  return Number.isFinite(spacing) ? spacing / 10 : null;
}

/**
 * What an indication is expected to be near: the other readings there, else the point where it has the same unit; null when nothing
 * tells. Where the instrument is read more than once at a point, one of the readings may be of nothing (a balance empty); what is read
 * once for many points is of none of them.
 * @example expectationOf(run, slot, 7.702).value // 7.702
 */
export function expectationOf(state: RunState, slot: Slot, typed: number): Expectation | null {
  const observation = observationOf(state, slot);
  const series = seriesOf(state, slot.series);
  if (!observation || !series || observation.type !== 'number') return null;
  const unit = observedUnit(state, slot, observation);
  const declared = unitIn(state, observation.unit, slot) || unit;
  const resolution = observedResolution(state, slot, observation);
  const point = placedPoint(state, slot);
  const nominal = shownNominal(state, slot);
  const limits = series.results
    .filter((r) => unitIn(state, r.unit, slot) === declared)
    .flatMap((r) => {
      const known = point?.limits[r.symbol];
      return known ? [known.lower, known.upper].flatMap((l) => (l === undefined ? [] : [Math.abs(l)])) : [];
    })
    .map((l) => (declared === unit ? l : convertDifference(l, declared, unit)));
  const limit = limits.length ? Math.max(...limits) : null;
  const others = alike(state, slot);
  const base = { resolution, unit: printedUnit(unit), limit };
  const isOfPoint = observation.per !== 'sweep' && observation.per !== 'instance';
  if (nominal !== undefined && isOfPoint && pointUnit(state, slot) === unit) {
    const size = Math.max(Math.abs(nominal), state.instrument.usedUpper - state.instrument.usedLower);
    const isOneOfSeveral = series.observe.filter((o) => o.of === observation.of && o.type === 'number').length > 1;
    // What was read already may stand apart for a good reason: then the others are what it is compared with.
    const isKnown = others.length > (isOneOfSeveral ? 0 : 1);
    const empty = isOneOfSeveral && Math.abs(typed) < Math.abs(typed - nominal) ? 0 : nominal;
    const value = isKnown ? mean(others) : empty;
    const width = undoubted(limit, resolution, size);
    const isAlone = !isOneOfSeveral && observation.of === 'instrument';
    const beside = isAlone ? errorsBeside(state, slot) : null;
    // A standard that is read stands near its point, however wide the limits of the instrument are.
    const near = observation.of === 'instrument' ? null : tenthOfSpacing(state, slot, nominal);
    return {
      ...base,
      value: isAlone && !isKnown ? value + (beside?.mean ?? 0) : value,
      nominal,
      // A sound instrument lies about the point by a tenth or two of its limits; its readings there lie closer together.
      spread:
        !isAlone || limit === null
          ? null
          : isKnown
            ? Math.max(repeatShare * limit, spreadOf(others))
            : (beside ? knownShare : unknownShare) * limit,
      elsewhere: isAlone ? elsewhereOf(state, slot, beside?.mean ?? 0) : [],
      of: isKnown ? 'the other readings here' : 'the point',
      width: near === null ? width : Math.min(width, Math.max(near, 10 * (resolution ?? 0))),
    };
  }
  if (others.length === 0) return null;
  const value = mean(others);
  return {
    ...base,
    value,
    nominal: null,
    spread: null,
    elsewhere: [],
    of: 'the other readings here',
    width: undoubted(limit, resolution, value),
  };
}

/** How far sound readings lie from what is expected of them, as shares of the limit: repeats; points beside those read; the first point. */
const repeatShare = 0.1;
const knownShare = 0.2;
const unknownShare = 0.35;

const spreadOf = (values: readonly number[]): number => (values.length > 1 ? standardDeviation(values) : 0);

/** Points of the same series, instance and set beside a reading's own, each once. */
const besideOf = (state: RunState, slot: Slot): Slot[] => [
  ...new Map(
    state.plan.flatMap((i): [string, Slot][] =>
      i.type === 'reading' &&
      i.set === slot.set &&
      i.series === slot.series &&
      i.each === slot.each &&
      i.point !== slot.point &&
      i.id === slot.observation
        ? [[i.point!, { ...slot, point: i.point! }]]
        : [],
    ),
  ).values(),
];

/** What the readings at the other points lie beside theirs by, on the average; null where nothing was read there. */
function errorsBeside(state: RunState, slot: Slot): { mean: number } | null {
  const errors = besideOf(state, slot).flatMap((other) => {
    const nominal = shownNominal(state, other);
    const read = nominal === undefined ? [] : alike(state, other);
    return read.length > 0 ? [mean(read) - nominal!] : [];
  });
  return errors.length > 0 ? { mean: mean(errors) } : null;
}

/** What is expected at the other points, with their names. */
const elsewhereOf = (state: RunState, slot: Slot, error: number): { value: number; title: string }[] =>
  besideOf(state, slot).flatMap((other) => {
    const nominal = shownNominal(state, other);
    return nominal === undefined ? [] : [{ value: nominal + error, title: placeTitle(state, other) }];
  });

/**
 * Results of a series that can be had in this run: none that names an observation or a computed value that is left out.
 * @example offeredResults(run, place).map((r) => r.symbol) // ['E']
 */
export function offeredResults(state: RunState, place: Place): ResultDocument[] {
  const series = seriesOf(state, place.series);
  if (!series) return [];
  const s = settingIn(state, place.set);
  const scope = scopeAt(s, place);
  const leftOut = [
    ...series.observe.filter((o) => !isObserved(s, o, scope)).map((o) => o.id),
    ...series.computed.filter((c) => !isIn(s, c.when, scope)).map((c) => c.id),
  ];
  if (leftOut.length === 0) return series.results.filter((r) => isIn(s, r.when, scope));
  const isLeftOut = (name: string) => name.split('.').some((part) => leftOut.includes(part));
  const needsIt = (r: ResultDocument) =>
    r.quantities.some(({ distribution: d }) => d.type === 'readings' && isLeftOut(d.of)) ||
    formulasIn([r.reference, r.indication, r.where, r.quantities.map((q) => q.distribution)])
      .flatMap(namesOf)
      .some(isLeftOut);
  return series.results.filter((r) => isIn(s, r.when, scope) && !needsIt(r));
}
