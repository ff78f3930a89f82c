import { unitCode } from '../quantity/unit';
import type { ProcedureDocument, SeriesDocument } from '../procedure/document-schema';

/** What is not wrong in a document but leaves something open: where it stands, and what to do. */
export type DocumentWarning = { path: (string | number)[]; message: string };

/** What follows a point's number in a text: a unit there would be printed twice, or be the wrong one. */
const unitBehindNominal = /\{point\.nominal\}[\s\u00a0\u202f]*(?!in [a-z])([^\s{}.,;:!?()]+)/g;

/**
 * Where a document names no unit, so that its numbers stand as they are whatever the instrument is told in, and where it writes a unit
 * behind a point's number, which is printed with its own.
 * @example documentWarnings(document) // []
 */
export function documentWarnings(doc: ProcedureDocument): DocumentWarning[] {
  const units =
    doc.instrument.unit === undefined ? [noUnit(['instrument'], 'The document names no unit for the instrument')] : [];
  return [...units, ...doc.series.flatMap((series, i) => withoutUnits(doc, series, ['series', i])), ...unitsInTexts(doc, [])];
}

const noUnit = (path: DocumentWarning['path'], what: string): DocumentWarning => ({
  path,
  message: `${what}: its numbers stand as they are. Name a unit.`,
});

function withoutUnits(doc: ProcedureDocument, series: SeriesDocument, path: DocumentWarning['path']): DocumentWarning[] {
  const { points } = series;
  const hasNominals =
    points !== undefined &&
    points.items === undefined &&
    typeof points.list !== 'string' &&
    (points.table === undefined || points.table.some((row) => row.nominal !== undefined));
  return [
    ...(hasNominals && points.unit === undefined ? [noUnit([...path, 'points'], 'The points have no unit')] : []),
    ...series.observe.flatMap((o, i) =>
      o.type === 'number' && o.unit === undefined ? [noUnit([...path, 'observe', i], `${o.title ?? o.id} has no unit`)] : [],
    ),
    ...Object.entries(series.uses).flatMap(([name, use]) => {
      const role = doc.standards.find((r) => r.role === (use.role ?? name));
      const isValued = (use.item ?? use.stack ?? use.at) !== undefined;
      return isValued && use.unit === undefined && role?.unit === undefined
        ? [noUnit([...path, 'uses', name], `Neither this use nor its role says in which unit ${role?.title ?? name} is read`)]
        : [];
    }),
  ];
}

function unitsInTexts(value: unknown, path: DocumentWarning['path']): DocumentWarning[] {
  if (typeof value === 'string')
    return [...value.matchAll(unitBehindNominal)].flatMap(([, written = '']) =>
      unitCode(written) === undefined
        ? []
        : [
            {
              path,
              message: `"{point.nominal}" prints its own unit: leave out the "${written}" behind it.`,
            },
          ],
    );
  if (typeof value !== 'object' || value === null) return [];
  return Object.entries(value).flatMap(([key, inner]) =>
    key === 'example' ? [] : unitsInTexts(inner, [...path, Array.isArray(value) ? Number(key) : key]),
  );
}
