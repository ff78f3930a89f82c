import type { ProcedureDocument, SeriesDocument } from '../../procedure/document-schema';
import { Absent, DocumentError, LeftOut } from '../../faults';
import { pointsOf, type Point, type Scope, type Series, type Setting } from '../setting';
import { lastWord, nobody, type Head } from './head';
import { pointColumns, pointValue } from './point';
import { problemWith, valueOf } from './registry';

/**
 * Whether a name can mean a point of a series: an end, a label, or an id that such a series can have.
 * @example isPointName(series, 'last') // true
 */
export function isPointName(series: SeriesDocument, name: string): boolean {
  if (name === 'first' || name === 'last') return true;
  const { table, list, inUnit } = series.points ?? {};
  const own = Object.values(inUnit ?? {});
  if ([table, ...own.map((o) => o.table)].some((t) => t?.some((row) => row.label === name))) return true;
  if (typeof list === 'string') return true;
  const lengths = [{ table, list }, ...own].map((p) => (p.table ?? p.list)?.length ?? Infinity);
  const number = name.startsWith('p') ? Number(name.slice(1)) : NaN;
  return Number.isInteger(number) && number >= 1 && name === `p${number}` && number <= Math.max(...lengths);
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

const isLocal = (series: Series, name: string): boolean =>
  [...series.doc.observe, ...series.doc.computed, ...series.doc.aggregates].some((x) => x.id === name) ||
  series.doc.results.some((r) => r.symbol === name);

/** Something at another point of the same series. */
export const at: Head = {
  problem: (doc: ProcedureDocument, rest, { series }, name) => {
    if (!series || rest.length < 2) return nobody(name);
    if (!isPointName(series, rest[0]!)) return `"${rest[0]}" is not a point of ${series.id}.`;
    const there = rest.slice(1).join('.');
    if (there === 'nominal' || pointColumns(doc, series).has(there)) return null;
    return problemWith(doc, there, { series, readings: true }) ? nobody(name) : null;
  },
  value: (s, [where, ...rest], scope) => {
    if (!scope.series) throw new Absent(`at.${where}`);
    const point = namedPoint(s, scope.series, scope, where!);
    const there: Scope = { ...scope, point, reading: null, used: undefined };
    const name = rest.join('.');
    if (name === 'nominal' || (rest.length === 1 && Object.hasOwn(point.columns, name) && !isLocal(scope.series, name)))
      return pointValue(s, point, name, there);
    return valueOf(s, name, there);
  },
  words: lastWord,
  isGrowing: true,
};
