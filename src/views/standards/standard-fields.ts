import * as z from 'zod';
import type { StandardDeclaration } from '../../core/procedure/declarations';
import { standardEntrySchema } from '../../core/register/entry-schemas';
import type { StandardDocument } from '../../core/standard/standard-schema';
import { readStandardTable, type StandardRow, type TableContent } from '../../core/standard/standard-table';
import { shownNumber, typedNumber, typedText } from '../../ui/form/typed';
import type { FormField } from '../../ui/form/FormFields';
import { notWhole } from '../../ui/not-whole';

export type StandardValues = { id: string | null; place: string; document: StandardDocument };
export type Content = TableContent | 'nothing' | 'document';

export const contentTitles: Record<Content, string> = {
  items: 'Single items, each with its marking',
  corrections: 'Corrections to what it shows',
  values: 'Values over an argument',
  nothing: 'No certified values',
  document: 'As a document (parts, functions)',
};

export const isTable = (content: Content): content is TableContent => content !== 'nothing' && content !== 'document';

/** What stands in the fields. */
export type StandardTyped = {
  place: string;
  content: Content;
  /** The table as pasted, or the standard as a document. */ table: string;
  source: string;
  coverageFactor: string;
  smallUnit: string;
  document: {
    kind: string;
    identification: string;
    designation: string;
    certificate: Record<'issuer' | 'number' | 'date' | 'due', string>;
    unit: string;
    resolution: string;
    properties: Record<string, string>;
  };
};

const contentOf = (d: StandardDocument): Content => {
  if (d.parts || d.function) return 'document';
  return d.items ? 'items' : d.corrections ? 'corrections' : d.values ? 'values' : 'nothing';
};

const figure = (n: number) => String(Number(n.toPrecision(12)));

/** The table of a document as text, one line a row, with k of each where they differ. */
function tableText(d: StandardDocument): string {
  const list = d.items ?? d.corrections ?? d.values ?? [];
  const hasOwnFactors = new Set(list.map((r) => r.coverageFactor)).size > 1;
  const heading = d.items
    ? ['marking', 'nominal', 'certified', 'U', 'k']
    : d.corrections
      ? ['shows', 'correction', 'U', 'k']
      : ['at', 'value', 'U', 'k'];
  const lines = (
    d.items?.map((i) => [
      i.marking || String(i.nominal),
      figure(i.nominal),
      i.certified === undefined ? '' : figure(i.certified),
    ]) ??
    d.corrections?.map((c) => [figure(c.at), figure(c.correction)]) ??
    d.values?.map((v) => [figure(v.at), figure(v.value)]) ??
    []
  ).map((cells, i) => [
    ...cells,
    figure(list[i]!.expandedUncertainty),
    ...(hasOwnFactors ? [figure(list[i]!.coverageFactor)] : []),
  ]);
  return [...(hasOwnFactors ? [heading] : []), ...lines].map((l) => l.join('\t')).join('\n');
}

export const nameFields: FormField[] = [
  { name: 'document.identification', title: 'Identification', type: 'text', hint: 'As engraved', isWanted: true },
  { name: 'document.designation', title: 'What it is', type: 'text' },
];

/** What the certificate says of the whole table, and what procedures ask of standards of this kind. */
export const certificateFields = (declared: StandardDeclaration | undefined): FormField[] => [
  { name: 'document.certificate.issuer', title: 'Certificate issued by', type: 'text' },
  { name: 'document.certificate.number', title: 'Certificate number', type: 'text' },
  { name: 'document.certificate.date', title: 'Date', type: 'day' },
  { name: 'document.certificate.due', title: 'Due', type: 'day' },
  { name: 'document.unit', title: 'Unit', type: 'unit' },
  { name: 'document.resolution', title: 'Resolution', type: 'number', hint: 'Of its display, if it has one' },
  { name: 'coverageFactor', title: 'Coverage factor k', type: 'number', hint: 'Where no column states it' },
  { name: 'smallUnit', title: 'U and deviations are given in', type: 'unit', hint: 'Not chosen: in the unit' },
  ...(declared?.properties ?? []).map((p): FormField => ({
    name: `document.properties.${p.id}`,
    title: p.title,
    type: 'number',
    ...(typeof p.unit === 'string' ? { unit: p.unit } : {}),
  })),
];

export function typedStandard(
  { place, document: d }: StandardValues,
  declarations: readonly StandardDeclaration[],
): StandardTyped {
  const content = contentOf(d);
  const first = d.items?.[0] ?? d.corrections?.[0] ?? d.values?.[0];
  const asked = declarations.flatMap((x) => x.properties.map((p) => p.id));
  return {
    place,
    content,
    table: tableText(d),
    source: content === 'document' ? JSON.stringify(d, null, 2) : '',
    coverageFactor: shownNumber(first?.coverageFactor ?? 2),
    smallUnit: '',
    document: {
      kind: d.kind,
      identification: d.identification,
      designation: d.designation,
      certificate: {
        issuer: d.certificate?.issuer ?? '',
        number: d.certificate?.number ?? '',
        date: d.certificate?.date ?? '',
        due: d.certificate?.due ?? '',
      },
      unit: d.unit ?? '',
      resolution: shownNumber(d.resolution),
      properties: Object.fromEntries(asked.map((id) => [id, shownNumber(d.properties?.[id] ?? d.items?.[0]?.properties?.[id])])),
    },
  };
}

const typedDocument = z.object({
  kind: typedText,
  identification: typedText,
  designation: typedText,
  certificate: z.object({ issuer: typedText, number: typedText, date: typedText, due: typedText }),
  unit: typedText,
  resolution: typedNumber,
  properties: z.record(z.string(), typedNumber),
});

/** What the entry's schema then checks. */
const asEntry = (entry: object) => entry as z.input<typeof standardEntrySchema>;

/** Turns what was typed into the entry that is sent. */
export function standardFormSchema(former: StandardDocument, declarations: readonly StandardDeclaration[]) {
  return z
    .object({
      place: typedText,
      content: z.enum(['items', 'corrections', 'values', 'nothing', 'document']),
      table: z.string(),
      source: z.string(),
      coverageFactor: typedNumber,
      smallUnit: typedText,
      document: typedDocument,
    })
    .transform((typed, context) => {
      const { place, content } = typed;
      const fault = (path: string[], message: string) => {
        context.addIssue({ code: 'custom', path, message });
        return z.NEVER;
      };
      if (content === 'document') {
        try {
          return asEntry({ place, document: JSON.parse(typed.source) as unknown });
        } catch (error) {
          return fault(['source'], notWhole(error));
        }
      }
      const d = typed.document;
      const list = isTable(content) ? readStandardTable(typed.table, content, d.unit, typed.smallUnit) : null;
      const [wrong] = list?.faults ?? [];
      if (wrong) return fault(['table'], `Line ${wrong.line}: ${wrong.message}`);
      const rows = (list?.rows ?? []).map((r) => ({ ...r, coverageFactor: r.coverageFactor ?? typed.coverageFactor ?? 2 }));
      const { issuer, number, date, due } = d.certificate;
      const hasCertificate = [issuer, number, date].some((t) => t !== '');
      // Of what was typed, what this kind is asked for; what no procedure asks for stays.
      const asked = new Set(declarations.filter((x) => x.kind === d.kind).flatMap((x) => x.properties.map((p) => p.id)));
      const properties = Object.fromEntries([
        ...Object.entries(former.properties ?? {}).filter(([id]) => !(id in d.properties)),
        ...Object.entries(d.properties).filter(([id, v]) => v !== null && asked.has(id)),
      ]);
      return asEntry({
        place,
        document: {
          format: 'just-twice/standard',
          version: 1,
          identification: d.identification,
          kind: d.kind,
          designation: d.designation,
          ...(hasCertificate ? { certificate: { issuer, number, date, ...(due ? { due } : {}) } } : {}),
          ...(d.unit ? { unit: d.unit } : {}),
          ...(d.resolution === null ? {} : { resolution: d.resolution }),
          ...(isTable(content) && rows.length ? { [content]: content === 'items' ? itemsOf(rows, former) : rows } : {}),
          ...(former.argument ? { argument: former.argument } : {}),
          ...(Object.keys(properties).length ? { properties } : {}),
          ...(former.lot ? { lot: former.lot } : {}),
        },
      });
    })
    .pipe(standardEntrySchema);
}

/** Properties of items that were entered as a document stay with the item of the same marking. */
function itemsOf(rows: StandardRow[], former: StandardDocument) {
  const known = new Map((former.items ?? []).map((i) => [i.marking || String(i.nominal), i]));
  return rows.map((r) => {
    const old = known.get(r.marking!);
    return {
      ...r,
      id: old?.id ?? r.marking,
      ...(old?.properties ? { properties: old.properties } : {}),
      ...(old?.dof ? { dof: old.dof } : {}),
    };
  });
}
