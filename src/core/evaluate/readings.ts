import type { SeriesDocument } from '../procedure/document-schema';
import { isOffScale } from '../quantity/reading';
import { DocumentError, Absent, LeftOut, OffScale } from '../faults';
import { onceNotOfItself, type Memo } from './once';
import { readingNumber, readingsIn, scopedObservation } from './observed';
import { ownForm } from './own-unit';
import { evaluateText, isIn, numberOf, pointsOf, type Reading, type Scope, type Series, type Setting } from './setting';

/** Readings as numbers: what was read, and what is computed of it, one repeat at a time. */

/**
 * An observation or a computed value at one repeat.
 * @example ofReading(setting, theSeries, cellsIn(setting, scope, (s, instance) => pointsOf(setting, s, instance))[0].readings[0], 'R', scope) // 7.702
 */
export function ofReading(s: Setting, series: Series, reading: Reading, id: string, scope: Scope): number {
  const observation = series.doc.observe.find((o) => o.id === id);
  if (observation) {
    if (observation.type !== 'number') throw new DocumentError(`"${id}" is a ${observation.type}, not a number.`, scope.path);
    const value = observation.per === 'repeat' ? reading.values[id] : scopedObservation(s, series, reading, id, observation.per);
    if (value === undefined) throw new Absent(`${id} of ${series.doc.title}`);
    return observedNumber(s, series, observation, reading, value, scope);
  }
  const index = series.doc.computed.findIndex((c) => c.id === id);
  const computed = series.doc.computed[index]!;
  const path = [...series.path, 'computed', index, 'is'];
  const instance = series.instances.find((i) => i.id === reading.instance)!;
  const point = pointsOf(s, series, instance).find((p) => p.id === reading.point)!;
  const at: Scope = { set: reading.set, series, instance, point, sweep: reading.sweep, reading, own: {}, path };
  if (!isIn(s, computed.when, at)) throw new LeftOut(id);
  const ofItself = `"${id}" is computed from itself.`;
  return onceNotOfItself(computedMemo(s, reading), id, ofItself, path, () => evaluateText(s, computed.is, at));
}

const memos = new WeakMap<Setting['memo'], WeakMap<Reading, Memo>>();
/** Computed values of a reading: remembered with what else was worked out, so that a lens sees its own. */
function computedMemo(s: Setting, reading: Reading): Memo {
  const key = s.offScale ? s.memo : sharedMemo;
  let of = memos.get(key);
  if (!of) memos.set(key, (of = new WeakMap()));
  let memo = of.get(reading);
  if (!memo) of.set(reading, (memo = new Map()));
  return memo;
}
const sharedMemo: Setting['memo'] = new Map();

type ObserveDocument = SeriesDocument['observe'][number];

/** The end of its scale at which a reading lies, or beyond which it was typed; null for any other reading. */
export function endOfScale(
  s: Setting,
  series: Series,
  o: ObserveDocument,
  reading: Reading,
  scope: Scope,
): { side: 'lower' | 'upper'; end: number | null } | null {
  const value = reading.values[o.id];
  const typed = typeof value === 'string' ? /^\s*([<>])/.exec(value)?.[1] : undefined;
  if (value === undefined || (!o.saturates && typed === undefined)) return null;
  const instance = series.instances.find((i) => i.id === reading.instance) ?? null;
  const point = (instance && series.points.get(instance)?.find((p) => p.id === reading.point)) ?? null;
  const here: Scope = { ...scope, series, instance, point, sweep: reading.sweep, reading: null };
  const limit = (side: 'lower' | 'upper') => {
    const number = o.saturates?.[side];
    return number === undefined ? null : numberOf(s, number, here);
  };
  if (typed !== undefined) {
    const side = typed === '>' ? 'upper' : 'lower';
    return { side, end: limit(side) };
  }
  const number = inDocumentForm(s, o, readingNumber(value, o.id, scope.path));
  for (const side of ['upper', 'lower'] as const) {
    const end = limit(side);
    const past = end === null ? -1 : side === 'upper' ? number - end : end - number;
    if (end !== null && past >= -1e-9 * Math.abs(end)) return { side, end };
  }
  return null;
}

/** A number read from the instrument in its own unit, in the document's. */
const inDocumentForm = (s: Setting, o: ObserveDocument, value: number): number =>
  s.own !== null && o.of === 'instrument' && o.unit === s.own.document ? ownForm(s.own, o.unit)!.toDocument(value) : value;

/** How far beyond its end a reading is taken to see to which side a result would go on, as a share of the end. */
const beyondEnd = 1e-4;

/** A reading as a number, in the unit in which formulas see it. @throws OffScale where it only says on which side it lies */
function observedNumber(
  s: Setting,
  series: Series,
  o: ObserveDocument,
  reading: Reading,
  value: number | string,
  scope: Scope,
): number {
  const lens = s.offScale;
  const taken = lens?.readings.has(reading) ? lens.ends.get(o.id) : undefined;
  if (lens && taken) {
    const beyond = beyondEnd * Math.max(1, Math.abs(taken.end)) * (taken.side === 'upper' ? 1 : -1);
    return lens.at === 'end' ? taken.end : taken.end + beyond;
  }
  if (o.saturates || isOffScale(value)) {
    const found = endOfScale(s, series, o, { ...reading, values: { [o.id]: value } }, scope);
    if (found)
      throw new OffScale(
        `${o.title ?? o.id} is ${found.side === 'upper' ? 'at or above the upper' : 'at or below the lower'} end of its scale: it says only that it lies there or beyond.`,
      );
  }
  return inDocumentForm(s, o, readingNumber(value, o.id, scope.path));
}

/** An observation or computed value at every reading of a scope. @throws Absent when there is none */
export function valuesOf(s: Setting, series: Series, id: string, scope: Scope): number[] {
  const observation = series.doc.observe.find((o) => o.id === id);
  const readings = readingsIn(s, scope);
  const having = observation && observation.per === 'repeat' ? readings.filter((r) => r.values[id] !== undefined) : readings;
  const values = having.map((r) => ofReading(s, series, r, id, scope));
  if (values.length === 0) throw new Absent(`${id} of ${series.doc.title}`);
  return values;
}
