import { AnalysisError } from '../disciplines/discipline-analysis';
import { disciplineAnalyses, disciplineFunctions } from '../disciplines/registry';
import type { SeriesDocument } from '../procedure/document-schema';
import { OutsideValidityError } from '../disciplines/discipline-function';
import { isOffScale } from '../quantity/reading';
import { mean, standardDeviation } from '../statistics/moments';
import type { Apply } from '../uncertainty/model-compile';
import { aggregateEntries } from './aggregates';
import { DocumentError, Absent, LeftOut, NoColumn, OffScale, Undeterminable } from './faults';
import { fitsOf } from './fits';
import { cellsIn, readingNumber, readingsIn, scopedObservation } from './observed';
import { ownForm } from './own-unit';
import { resultAt } from './results';
import {
  chosenOption,
  evaluateText,
  isIn,
  isNum,
  isObserved,
  numberOf,
  pointsOf,
  type Point,
  type Reading,
  type Scope,
  type Series,
  type Setting,
} from './setting';
import { assignedOf, useSlope } from './uses';
import { tableValue } from './tables';

/** The functions a formula may call where it stands: of the disciplines, of the document's tables, and its uses. */
export const functionsOf =
  (s: Setting, scope: Scope): Apply =>
  (name, args) => {
    const known = disciplineFunctions.get(name);
    try {
      if (known) {
        if (args.length !== known.parameters.length)
          throw new DocumentError(
            `${name} takes ${known.parameters.map((p) => p.id).join(', ')}: ${known.parameters.length} values.`,
            scope.path,
          );
        return known.evaluate(args);
      }
    } catch (error) {
      if (error instanceof OutsideValidityError) throw new DocumentError(error.message, scope.path);
      throw error;
    }
    const [table, column] = name.split('.') as [string, string?];
    const declared = s.doc.tables.find((t) => t.id === table);
    if (declared) return tableValue(s, declared, column, args[0]!, scope);
    if (scope.series && (Object.hasOwn(scope.series.doc.uses, name) || isRole(s, name)))
      return useSlope(s, name, args[0]!, scope);
    throw new DocumentError(`"${name}" is not a function, a table or a use here.`, scope.path);
  };

const isRole = (s: Setting, name: string): boolean => s.doc.standards.some((r) => r.role === name);

const known = (value: number | undefined, what: string, waitsFor: 'reading' | 'record' = 'reading'): number => {
  if (value === undefined || Number.isNaN(value)) throw new Absent(what, waitsFor);
  return value;
};

/** Columns of rows that are being worked out now: one that hangs on itself is told. */
const beingRead = new WeakMap<object, Set<string>>();

/** A column of a row as a number: of a formula its value where the row stands. @throws NoColumn when the row has none */
export function columnOf(s: Setting, row: Record<string, unknown>, column: string, what: string, scope: Scope): number {
  const value = row[column];
  if (typeof value === 'number') return value;
  if (typeof value === 'string' && value.trim() !== '' && Number.isFinite(Number(value))) return Number(value);
  if (!isNum(value)) throw new NoColumn(`${what}.${column}`);
  const reading = beingRead.get(row) ?? new Set<string>();
  beingRead.set(row, reading);
  if (reading.has(column)) throw new DocumentError(`${what}.${column} depends on itself.`, scope.path);
  reading.add(column);
  try {
    return numberOf(s, value, scope);
  } finally {
    reading.delete(column);
  }
}

/**
 * The value of a name where a formula stands (procedure.md, section 2).
 * @throws Absent when it cannot be had (yet), LeftOut when it is left out, DocumentError when nothing offers it
 */
export function valueOf(s: Setting, name: string, scope: Scope): number {
  const own = scope.own[name];
  if (own !== undefined) return own;
  const [head, ...rest] = name.split('.') as [string, ...string[]];
  switch (head) {
    case 'instrument':
      return instrumentValue(s, rest[0]!, scope);
    case 'each':
      if (!scope.instance) throw new Absent(name);
      return rest[0] === 'index' ? scope.instance.index + 1 : columnOf(s, scope.instance.row, rest[0]!, 'each', scope);
    case 'point':
      return pointValue(s, scope.point, rest[0]!, scope);
    case 'choice': {
      const { option, index } = chosenOption(s, rest[0]!, scope.path);
      return rest[1] === 'index' ? index + 1 : columnOf(s, option, rest[1] ?? '', name, scope);
    }
    case 'condition':
      return conditionValue(s, rest[0]!, scope);
    case 'step':
      return stepNumber(s, rest, scope);
    case 'stored':
      return storedValue(s, rest[0]!, scope);
    case 'at':
      return atPoint(s, rest, scope);
    case 'series':
      return ofSeries(s, rest, scope);
    case 'aggregate':
      return ofAggregate(s, rest, scope);
    case 'fit':
      return ofFit(s, rest, scope);
  }
  return localName(s, name, head, rest, scope);
}

function instrumentValue(s: Setting, member: string, scope: Scope): number {
  const i = s.given.instrument;
  if (member === 'span')
    return known(i.usedUpper, 'usedUpper of the instrument') - known(i.usedLower, 'usedLower of the instrument');
  const declared = s.doc.instrument.characteristics.find((c) => c.id === member);
  const value = declared ? (i.characteristics[member] ?? declared.default) : (i as Record<string, unknown>)[member];
  if (typeof value === 'number') return value;
  if (typeof value === 'string' && value.trim() !== '' && Number.isFinite(Number(value))) return Number(value);
  if (!declared && !['lower', 'upper', 'usedLower', 'usedUpper', 'resolution'].includes(member))
    throw new DocumentError(
      `"instrument.${member}" is neither a range, the resolution nor a characteristic of this procedure.`,
      scope.path,
    );
  throw new DocumentError(`The instrument's record does not state ${declared?.title ?? member}, which a formula needs.`, [
    'instrument',
    ...(declared ? ['characteristics'] : []),
    member,
  ]);
}

function pointValue(s: Setting, point: Point | null, member: string, scope: Scope): number {
  if (!point) throw new Absent(`point.${member}`);
  if (member === 'index') return point.index;
  if (member === 'nominal') return known(point.nominal, 'nominal of this point');
  return columnOf(s, point.columns, member, 'point', scope);
}

function conditionValue(s: Setting, id: string, scope: Scope): number {
  const declared = s.doc.conditions.find((c) => c.id === id);
  if (!declared) throw new DocumentError(`"${id}" is not a condition of this procedure.`, scope.path);
  if (!isIn(s, declared.when, scope)) throw new LeftOut(`condition ${id}`);
  if (scope.reading) return s.observed.conditionAt(id, scope.reading.time);
  const readings = scope.used ?? readingsIn(s, scope);
  return readings.length ? mean(readings.map((r) => s.observed.conditionAt(id, r.time))) : s.observed.conditionAt(id, Infinity);
}

function stepNumber(s: Setting, [id, property]: string[], scope: Scope): number {
  const inSeries = [...(scope.series ? [scope.series.doc.steps] : []), s.doc.steps, ...s.doc.series.map((x) => x.steps)];
  const step = inSeries.flat().find((x) => x.id === id);
  if (!step) throw new DocumentError(`"${id}" is not a step of this procedure.`, scope.path);
  if (!isIn(s, step.when, scope)) throw new LeftOut(`step ${id}`);
  const found = s.observed.stepValue(s, id!, scope);
  if (found === undefined) {
    if (step.kind === 'check') return evaluateText(s, step.is, scope);
    throw new Absent(`step ${id}`, 'record');
  }
  if (property !== undefined) {
    const value = typeof found === 'object' ? found[property] : undefined;
    return known(value, `step ${id}.${property}`, 'record');
  }
  if (typeof found === 'number') return found;
  if (typeof found === 'string') return readingNumber(found, String(id), ['steps', id!]);
  throw new Absent(`number of step ${id}`, 'record');
}

function storedValue(s: Setting, id: string, scope: Scope): number {
  const stored = s.given.stored[id];
  if (typeof stored === 'number') return stored;
  if (stored === undefined) throw new Absent(`stored ${id}`, 'record');
  const instance = scope.instance?.id;
  if (instance !== null && instance !== undefined) return known(stored[instance], `stored ${id} of ${instance}`, 'record');
  const values = Object.values(stored);
  return values.length ? mean(values) : known(undefined, `stored ${id}`, 'record');
}

/** The point that a name means: an id, a label, or one of the ends. @throws LeftOut, or DocumentError when there is none */
export function namedPoint(s: Setting, series: Series, scope: Scope, name: string): Point {
  const instance = scope.instance ?? series.instances[0];
  if (!instance) throw new Absent(`point ${name}`);
  const points = pointsOf(s, series, instance);
  const found =
    name === 'first' ? points[0] : name === 'last' ? points.at(-1) : points.find((p) => p.label === name || p.id === name);
  if (found) return found;
  if (series.leftOut.has(name)) throw new LeftOut(`point ${name}`);
  throw new DocumentError(`There is no point "${name}" in ${series.doc.title}.`, scope.path);
}

function atPoint(s: Setting, [where, ...rest]: string[], scope: Scope): number {
  if (!scope.series) throw new Absent(`at.${where}`);
  const point = namedPoint(s, scope.series, scope, where!);
  const there: Scope = { ...scope, point, reading: null, used: undefined };
  const name = rest.join('.');
  if (name === 'nominal' || (rest.length === 1 && Object.hasOwn(point.columns, name) && !isLocal(scope.series, name)))
    return pointValue(s, point, name, there);
  return valueOf(s, name, there);
}

const isLocal = (series: Series, name: string): boolean =>
  [...series.doc.observe, ...series.doc.computed, ...series.doc.aggregates].some((x) => x.id === name) ||
  series.doc.results.some((r) => r.symbol === name);

type Member = 'standardUncertainty' | 'expandedUncertainty' | undefined;

/** Where another series matches this place: instance and sweep by id, points by label, else by nominal; null over the rest. */
export function matchingScope(s: Setting, other: Series, scope: Scope): Scope {
  if (other === scope.series) return { ...scope, reading: null, own: {}, used: undefined };
  const instance =
    other.instances.find((i) => i.id !== null && i.id === scope.instance?.id) ??
    (other.instances.length === 1 ? other.instances[0]! : null);
  const sweep = other.sweeps?.some((w) => w.id === scope.sweep) ? scope.sweep : null;
  let point: Point | null = null;
  if (scope.point) {
    const points = instance ? pointsOf(s, other, instance) : other.instances.flatMap((i) => pointsOf(s, other, i));
    const label = scope.point.label;
    const nominal = scope.point.nominal;
    point =
      (label === undefined ? undefined : points.find((p) => p.label === label)) ??
      (nominal === undefined
        ? undefined
        : points.find(
            (p) =>
              p.nominal !== undefined && Math.abs(p.nominal - nominal) <= 1e-9 * Math.max(Math.abs(nominal), Math.abs(p.nominal)),
          )) ??
      null;
  }
  return { ...scope, series: other, instance, sweep, point, reading: null, own: {}, used: undefined };
}

function seriesNamed(s: Setting, id: string, scope: Scope): Series {
  const found = s.series.get(id);
  if (found) return found;
  if (s.doc.series.some((x) => x.id === id)) throw new LeftOut(`series ${id}`);
  throw new DocumentError(`"${id}" is not a series of this procedure.`, scope.path);
}

/** What is said of another series, in this set, else in the latest set that has it. */
function inThisSetOrLatest(s: Setting, series: Series, scope: Scope, say: (at: Scope) => number): number {
  const here = matchingScope(s, series, scope);
  try {
    return say(here);
  } catch (error) {
    const other =
      error instanceof Absent && !(error instanceof LeftOut) && !(error instanceof Undeterminable)
        ? s.observed.latestOther(scope.set, series.doc.id)
        : undefined;
    if (other === undefined) throw error;
    return say({ ...here, set: other });
  }
}

function ofSeries(s: Setting, [id, symbol, member]: string[], scope: Scope): number {
  const series = seriesNamed(s, id!, scope);
  return inThisSetOrLatest(s, series, scope, (at) =>
    localName(s, [symbol, member].filter(Boolean).join('.'), symbol!, member ? [member] : [], at),
  );
}

function ofAggregate(s: Setting, [id, aggregate]: string[], scope: Scope): number {
  const series = seriesNamed(s, id!, scope);
  const doc = series.doc.aggregates.find((a) => a.id === aggregate);
  if (!doc) throw new DocumentError(`"${aggregate}" is not an aggregate of ${id}.`, scope.path);
  return inThisSetOrLatest(s, series, scope, (at) => meanAggregate(s, series, aggregate!, at));
}

/** An aggregate where this scope stands: the mean over what the scope does not fix. */
function meanAggregate(s: Setting, series: Series, id: string, scope: Scope): number {
  const entries = aggregateEntries(s, series, id, scope.set).filter(
    (e) =>
      (e.instance === null || scope.instance === null || e.instance === scope.instance) &&
      (e.point === null || scope.point === null || e.point.id === scope.point.id) &&
      (e.sweep === null || scope.sweep === null || e.sweep === scope.sweep),
  );
  if (entries.length === 0) throw new Absent(`aggregate ${id}`);
  return mean(
    entries.map((e) => {
      if (e.unknown) throw e.unknown;
      return e.value!;
    }),
  );
}

function ofFit(s: Setting, parts: string[], scope: Scope): number {
  const isOwn = scope.series?.doc.fits.some((f) => f.id === parts[0]) && parts.length === 2;
  const [id, member] = isOwn ? [parts[0]!, parts[1]!] : [parts[1]!, parts[2]!];
  const series = isOwn ? scope.series! : seriesNamed(s, parts[0]!, scope);
  const doc = series.doc.fits.find((f) => f.id === id);
  if (!doc) throw new DocumentError(`"${id}" is not a fit of ${series.doc.id}.`, scope.path);
  const say = (at: Scope): number => {
    const fits = fitsOf(s, series, doc, at.set).filter(
      (f) =>
        (f.instance === null || at.instance === null || f.instance === at.instance) &&
        (f.point === null || at.point === null || f.point.id === at.point.id) &&
        (f.sweep === null || at.sweep === null || f.sweep === at.sweep),
    );
    if (fits.length === 0) throw new Absent(`fit ${id}`);
    const of = fits.map((f) => {
      if (f.unknown) throw f.unknown;
      if (member === 'dof') return f.dof;
      if (member === 'residualStandardDeviation') return known(f.residualStandardDeviation ?? undefined, `scatter of fit ${id}`);
      const index = Number(member.slice(1));
      return known(
        member.startsWith('c') ? f.coefficients[index] : (f.standardUncertainties[index] ?? undefined),
        `fit.${id}.${member}`,
      );
    });
    return mean(of);
  };
  return isOwn ? say(scope) : inThisSetOrLatest(s, series, scope, say);
}

const useMembers = ['value', 'nominal', 'correction', 'standardUncertainty', 'ageYears', 'items', 'joints', 'resolution', 'dof'];

/** A name of the scope's own series: a use, an observation, a computed value, a number of an analysis, a result, an aggregate. */
function localName(s: Setting, name: string, head: string, rest: string[], scope: Scope): number {
  const series = scope.series;
  const member = rest[0];
  if (member !== undefined && (Object.hasOwn(series?.doc.uses ?? {}, head) || isRole(s, head))) {
    const properties = s.doc.standards.find((r) => r.role === (series?.doc.uses[head]?.role ?? head))?.properties ?? [];
    if (useMembers.includes(member) || properties.some((p) => p.id === member)) return assignedOf(s, head, member, scope);
  }
  if (!series) throw new DocumentError(`"${name}" is not a name that can stand here.`, scope.path);
  const observation = series.doc.observe.find((o) => o.id === head);
  const computed = series.doc.computed.find((c) => c.id === head);
  if (observation || computed) {
    if (observation ? !isObserved(s, observation, scope) : !isIn(s, computed!.when, scope)) throw new LeftOut(head);
    if (scope.reading && member === undefined) return ofReading(s, series, scope.reading, head, scope);
    return overReadings(valuesOf(s, series, head, scope), member, name, scope);
  }
  const analysis = series.doc.analyses.find((a) => a.as === head);
  if (analysis && member !== undefined) return analysed(s, series, analysis, member, scope);
  const result = series.doc.results.find((r) => r.symbol === head);
  if (result) return meanResult(s, series, head, member as Member, scope);
  if (series.doc.aggregates.some((a) => a.id === head) && member === undefined) return meanAggregate(s, series, head, scope);
  throw new DocumentError(
    `"${name}" is not offered here: no use, observation, computed value, result or aggregate of ${series.doc.id} has this name.`,
    scope.path,
  );
}

/** A number of an analysis: it sees all repeats at the point; the mean over what the scope does not fix. */
function analysed(s: Setting, series: Series, doc: SeriesDocument['analyses'][number], member: string, scope: Scope): number {
  if (!isIn(s, doc.when, scope)) throw new LeftOut(`analysis ${doc.as}`);
  const known = disciplineAnalyses.get(doc.use)!;
  const path = [...series.path, 'analyses', series.doc.analyses.indexOf(doc)];
  const cells = cellsIn(s, { ...scope, reading: null }, (x, i) => pointsOf(s, x, i)).filter((c) => c.readings.length > 0);
  const found = cells.flatMap(({ instance, point, sweep, readings }) => {
    const key = `analysis|${scope.set}|${series.doc.id}|${doc.as}|${instance.id ?? ''}|${point.id}|${sweep ?? ''}`;
    let numbers = s.memo.get(key) as Record<string, number> | undefined;
    if (!numbers) {
      const files = readings.flatMap((r) => (r.values[doc.of] === undefined ? [] : [String(r.values[doc.of])]));
      if (files.length === 0) return [];
      const at: Scope = { ...scope, instance, point, sweep, reading: null, path };
      const needs = Object.fromEntries(
        known.needs.map(({ id }) => {
          const given = doc.with?.[id];
          if (given === undefined) throw new DocumentError(`The analysis ${doc.use} needs ${id}.`, [...path, 'with']);
          return [id, numberOf(s, given, { ...at, path: [...path, 'with', id] })];
        }),
      );
      try {
        numbers = known.analyse(files, needs);
      } catch (error) {
        if (error instanceof AnalysisError) throw new DocumentError(`${doc.of}: ${error.message}`, ['observations']);
        throw error;
      }
      s.memo.set(key, numbers);
    }
    return [numbers[member]!];
  });
  if (found.length === 0) throw new Absent(`${doc.as}.${member}`);
  return mean(found);
}

/** An observation or a computed value at one repeat. */
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
  const memo = computedMemo(s, reading);
  const before = memo.get(id);
  if (before instanceof Error) throw before;
  if (before !== undefined) return before;
  const path = [...series.path, 'computed', index, 'is'];
  const instance = series.instances.find((i) => i.id === reading.instance)!;
  const point = pointsOf(s, series, instance).find((p) => p.id === reading.point)!;
  const at: Scope = { set: reading.set, series, instance, point, sweep: reading.sweep, reading, own: {}, path };
  if (!isIn(s, computed.when, at)) throw new LeftOut(id);
  memo.set(id, new DocumentError(`"${id}" is computed from itself.`, path));
  try {
    const value = evaluateText(s, computed.is, at);
    memo.set(id, value);
    return value;
  } catch (error) {
    memo.set(id, error as Error);
    throw error;
  }
}

const memos = new WeakMap<Setting['memo'], WeakMap<Reading, Map<string, number | Error>>>();
/** Computed values of a reading: remembered with what else was worked out, so that a lens sees its own. */
function computedMemo(s: Setting, reading: Reading): Map<string, number | Error> {
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

function overReadings(values: number[], member: string | undefined, name: string, scope: Scope): number {
  switch (member) {
    case undefined:
      return mean(values);
    case 'least':
      return Math.min(...values);
    case 'greatest':
      return Math.max(...values);
    case 'range':
      return Math.max(...values) - Math.min(...values);
    case 'count':
      return values.length;
    case 'standardDeviation':
      if (values.length < 2) throw new Absent(`${name}: one reading has no standard deviation`);
      return standardDeviation(values);
  }
  throw new DocumentError(
    `"${name}" is not offered: readings have least, greatest, range, standardDeviation and count.`,
    scope.path,
  );
}

/** A result where this scope stands: the mean over what the scope does not fix. */
function meanResult(s: Setting, series: Series, symbol: string, member: Member, scope: Scope): number {
  const doc = series.doc.results.find((r) => r.symbol === symbol)!;
  const overSweeps = doc.over?.includes('sweeps') || series.sweeps === null;
  const sweeps = overSweeps ? [null] : scope.sweep !== null ? [scope.sweep] : series.sweeps!.map((w) => w.id);
  const found: number[] = [];
  let why: Absent | null = null;
  for (const instance of scope.instance ? [scope.instance] : series.instances)
    for (const point of scope.point ? [scope.point] : pointsOf(s, series, instance))
      for (const sweep of sweeps)
        try {
          const { budget } = resultAt(s, series, doc, { ...scope, instance, point, sweep, reading: null, own: {} });
          found.push(member === undefined ? budget.estimate : budget[member]);
        } catch (error) {
          if (!(error instanceof Absent)) throw error;
          if (!why || error instanceof LeftOut) why = error;
        }
  if (found.length === 0) throw why ?? new Absent(`result ${symbol}`);
  return mean(found);
}
