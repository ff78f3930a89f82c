import type { View } from '../../evaluate/names/head';
import { mostPoints } from '../../evaluate/setting';
import { isSameKind } from '../../quantity/unit';
import type { SeriesDocument } from '../../procedure/document-schema';

import type { DocumentCheck, Path } from './document-check';

export function checkPoints(check: DocumentCheck, series: SeriesDocument, view: View, path: Path): void {
  const points = series.points;
  if (!points) return;
  checkPointMembers(check, series, points, view, path);
  for (const [unit, own] of Object.entries(points.inUnit ?? {})) {
    const at = [...path, 'inUnit', unit];
    const document = check.doc.instrument.unit;
    if (document === undefined)
      check.fault('Points in a unit of their own need the unit of the document: name it at instrument.unit.', at);
    if (!isSameKind(unit, document)) check.fault(`"${unit}" does not measure what ${document} does.`, at);
    checkPointMembers(check, series, own, view, at);
  }
}

export function checkPointMembers(
  check: DocumentCheck,
  series: SeriesDocument,
  points: NonNullable<SeriesDocument['points']>,
  view: View,
  path: Path,
): void {
  if (typeof points.list === 'string' && !check.doc.instrument.lists.some((l) => l.id === points.list))
    check.fault(`"${points.list}" is not a list of the instrument.`, [...path, 'list']);
  const { from, to, step } = points;
  if (typeof from === 'number' && typeof to === 'number' && typeof step === 'number' && !points.fractions) {
    const count = Math.floor(Math.abs(to - from) / step + 1e-9) + 1;
    if (!(count <= mostPoints)) check.fault(`These are ${count} points; a series has at most ${mostPoints}.`, [...path, 'step']);
  }
  for (const member of ['items', 'nearest'] as const) {
    const use = points[member];
    if (use !== undefined) check.role(series.uses[use]?.role ?? use, [...path, member]);
  }
  check.nums(
    {
      list: points.list,
      fractions: points.fractions,
      offsets: points.offsets,
      from: points.from,
      to: points.to,
      step: points.step,
    },
    view,
    path,
  );
  points.table?.forEach((row, i) => {
    const { when, ...columns } = row;
    check.when(when, view, [...path, 'table', i, 'when']);
    check.nums(columns, view, [...path, 'table', i]);
  });
}
