import type { ProcedureDocument, SeriesDocument } from '../../procedure/document-schema';
import { Absent } from '../../faults';
import type { Point, Scope, Setting } from '../setting';
import { columnOf, itemColumnsOf, listColumns } from './columns';
import { known, nobody, plainId, type Head } from './head';

/** Columns of the points of a series, in whatever unit they are given. */
export function pointColumns(doc: ProcedureDocument, series: SeriesDocument): Set<string> {
  const { table, list, items, inUnit } = series.points ?? {};
  const tables = [table, ...Object.values(inUnit ?? {}).map((own) => own.table)];
  return new Set([
    'index',
    'nominal',
    ...tables.flatMap((rows) => (rows ?? []).flatMap((row) => Object.keys(row))),
    ...(typeof list === 'string' ? listColumns(doc, list) : []),
    ...(items === undefined ? [] : itemColumnsOf(doc, series, items)),
  ]);
}

export function pointValue(s: Setting, point: Point | null, member: string, scope: Scope): number {
  if (!point) throw new Absent(`point.${member}`);
  if (member === 'index') return point.index;
  if (member === 'nominal') return known(point.nominal, 'nominal of this point');
  return columnOf(s, point.columns, member, 'point', scope);
}

/** The point that is read. */
export const point: Head = {
  problem: (doc, rest, { series }, name) => (series && pointColumns(doc, series).has(rest[0]!) ? null : nobody(name)),
  value: (s, rest, scope) => pointValue(s, scope.point, rest[0]!, scope),
  words: (rest) => (rest[0] === 'nominal' ? 'the point' : `${rest.map(plainId).join(' ')} of point`),
};
