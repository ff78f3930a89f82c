import type { ProcedureDocument, SeriesDocument } from '../../procedure/document-schema';
import { Absent } from '../../faults';
import { columnOf, itemColumnsOf, listColumns } from './columns';
import { lastWord, nobody, type Head } from './head';

/** Columns of what a series runs through. @example eachColumns(document, series).size // 0 */
export function eachColumns(doc: ProcedureDocument, series: SeriesDocument): Set<string> {
  const each = series.forEach;
  if (!each) return new Set();
  if ('list' in each) return new Set(['index', ...listColumns(doc, each.list)]);
  if ('of' in each) return new Set(['index', ...each.of.flatMap((row) => Object.keys(row))]);
  return new Set(['index', ...itemColumnsOf(doc, series, each.items)]);
}

/** Columns of the instance that is read: a range, a position, an item. */
export const each: Head = {
  problem: (doc, rest, { series }, name) => (series && eachColumns(doc, series).has(rest[0]!) ? null : nobody(name)),
  value: (s, rest, scope, name) => {
    if (!scope.instance) throw new Absent(name);
    return rest[0] === 'index' ? scope.instance.index + 1 : columnOf(s, scope.instance.row, rest[0]!, 'each', scope);
  },
  words: (rest) => `its own ${lastWord(rest)}`,
};
