import * as z from 'zod';
import type { StandardDeclaration } from '../../core/document/declarations';
import { standardEntrySchema } from '../../core/register/entry-schemas';
import { disciplineFunctions } from '../../core/disciplines/registry';
import type { StandardContent, StandardDocument } from '../../core/standard/standard-schema';
import {
  plainTitles,
  readStandardTable,
  type FurtherColumn,
  type StandardRow,
  type TableContent,
} from '../../core/standard/standard-table';
import { shownNumber, typedNumber, typedText } from '../../ui/form/typed';
import type { FormField } from '../../ui/form/FormFields';
import { plainDecimal } from '../../core/quantity/rounding';
import { notWhole } from '../../ui/not-whole';

export type StandardValues = { id: string | null; place: string; document: StandardDocument };
export type Content = TableContent | 'function' | 'nothing' | 'document';

export const contentTitles: Record<Content, string> = {
  items: 'Single items, each with its marking',
  tables: 'Several of them, each with corrections of its own',
  corrections: 'Corrections to what it shows',
  values: 'Values over an argument',
  function: 'A function with its parameters',
  nothing: 'No certified values',
  document: 'As a document',
};

export const isTable = (content: Content): content is TableContent =>
  content === 'items' || content === 'corrections' || content === 'values' || content === 'tables';

/** What stands in the fields of one part: of a standard without parts, of itself. */
export type PartTyped = {
  id: string;
  unit: string;
  resolution: string;
  content: Content;
  /** The table as pasted. */ table: string;
  smallUnit: string;
  function: { name: string; parameters: Record<string, string>; expandedUncertainty: string; from: string; to: string };
};
/** What stands in the fields. */
export type StandardTyped = {
  place: string;
  parts: PartTyped[];
  /** The whole as a document. */ source: string;
  coverageFactor: string;
  document: {
    kind: string;
    identification: string;
    designation: string;
    certificate: Record<'issuer' | 'number' | 'date' | 'due', string>;
    properties: Record<string, string>;
  };
};

type Stated = Pick<StandardContent, 'items' | 'corrections' | 'values' | 'function' | 'unit' | 'resolution'>;

/** Items with values or functions of their own are told as a document only, and so are those of which not all have corrections. */
const isBeyond = ({ items = [] }: Stated): boolean =>
  items.some((i) => i.values ?? i.function) || (items.some((i) => i.corrections) && !areTables(items));
const areTables = (items: NonNullable<Stated['items']>): boolean =>
  items.length > 0 && items.every((i) => i.corrections && i.marking);

const contentOf = (d: Stated): Content =>
  d.function
    ? 'function'
    : d.items && areTables(d.items)
      ? 'tables'
      : d.items
        ? 'items'
        : d.corrections
          ? 'corrections'
          : d.values
            ? 'values'
            : 'nothing';

const figure = (n: number) => plainDecimal(Number(n.toPrecision(12)));

/** Members of a line that every table has. */
const plainMembers = new Set(['at', 'correction', 'value', 'expandedUncertainty', 'coverageFactor']);
const ofItems = new Set(['id', 'marking', 'nominal', 'certified', 'expandedUncertainty', 'coverageFactor', 'resolution']);

/** The lines of its table: items, or corrections or values, or the corrections of all its items. */
const linesOf = (d: Stated) =>
  d.items && areTables(d.items) ? d.items.flatMap((i) => i.corrections!) : (d.items ?? d.corrections ?? d.values ?? []);

/** What the lines state beyond their values: the frequency of a voltage, the density of a weight. */
function furtherOf(d: Stated): { ids: string[]; of: Record<string, number>[] } {
  const of = linesOf(d).map((row): Record<string, number> => {
    const known = 'nominal' in row ? ofItems : plainMembers;
    const own = Object.entries(row).filter((entry): entry is [string, number] => typeof entry[1] === 'number');
    const properties = 'properties' in row ? (row.properties as Record<string, number> | undefined) : undefined;
    return { ...Object.fromEntries(own.filter(([id]) => !known.has(id))), ...properties };
  });
  return { ids: [...new Set(of.flatMap((row) => Object.keys(row)))], of };
}

/** The table of a document as text, one line a row, with k of each where they differ. */
function tableText(d: Stated): string {
  const list = linesOf(d);
  const hasOwnFactors = new Set(list.map((r) => r.coverageFactor)).size > 1;
  const further = furtherOf(d);
  const cells =
    d.items && areTables(d.items)
      ? d.items.flatMap((i) => i.corrections!.map((c) => [i.marking!, ...[i.nominal, c.at, c.correction].map(figure)]))
      : (d.items?.map((i) => [
          i.marking || String(i.nominal),
          figure(i.nominal),
          i.certified === undefined ? '' : figure(i.certified),
        ]) ??
        d.corrections?.map((c) => [figure(c.at), figure(c.correction)]) ??
        d.values?.map((v) => [figure(v.at), figure(v.value)]) ??
        []);
  const lines = cells.map((own, i) => [
    ...own,
    figure(list[i]!.expandedUncertainty),
    ...(hasOwnFactors ? [figure(list[i]!.coverageFactor)] : []),
    ...further.ids.map((id) => (further.of[i]![id] === undefined ? '–' : figure(further.of[i]![id]!))),
  ]);
  const heading = plainTitles[contentOf(d) as TableContent]?.split(', ') ?? [];
  const isPlain = !hasOwnFactors && further.ids.length === 0;
  return [...(isPlain ? [] : [[...heading, ...(hasOwnFactors ? ['k'] : []), ...further.ids]]), ...lines]
    .map((l) => l.join('\t'))
    .join('\n');
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
  { name: 'coverageFactor', title: 'Coverage factor k', type: 'number', hint: 'Where no column states it' },
  ...(declared?.properties ?? []).map((p): FormField => ({
    name: `document.properties.${p.id}`,
    title: p.title,
    type: 'number',
    ...(typeof p.unit === 'string' ? { unit: p.unit } : {}),
  })),
];

/** What is asked of one part. */
export const partFields = (i: number, content: Content): FormField[] => [
  { name: `parts.${i}.unit`, title: 'Unit', type: 'unit' },
  { name: `parts.${i}.resolution`, title: 'Resolution', type: 'number', hint: 'Of its display, if it has one' },
  ...(isTable(content)
    ? [
        {
          name: `parts.${i}.smallUnit`,
          title: 'U and deviations are given in',
          type: 'unit',
          hint: 'Not chosen: in the unit',
        } as const,
      ]
    : []),
];

/** What is asked of a function that is certified. */
export const functionFields = (i: number, name: string): FormField[] => {
  const at = `parts.${i}.function`;
  const known = disciplineFunctions.get(name);
  return [
    ...(known?.parameters.slice(1) ?? []).map((p): FormField => ({
      name: `${at}.parameters.${p.id}`,
      title: p.title === p.id ? p.id : `${p.id}, ${p.title}`,
      type: 'number',
      unit: p.unit,
      isWanted: true,
    })),
    { name: `${at}.expandedUncertainty`, title: 'U of its value', type: 'number', isWanted: true },
    { name: `${at}.from`, title: 'Holds from', type: 'number', ...(known ? { unit: known.unit } : {}) },
    { name: `${at}.to`, title: 'to', type: 'number', ...(known ? { unit: known.unit } : {}) },
  ];
};

export const functionNames = [...disciplineFunctions.values()].map((f) => ({ value: f.name, title: `${f.title} (${f.name})` }));

/** A part with nothing in it yet. */
export const blankPart = (id = '', unit = ''): PartTyped => ({
  id,
  unit,
  resolution: '',
  content: 'corrections',
  table: '',
  smallUnit: '',
  function: { name: '', parameters: {}, expandedUncertainty: '', from: '', to: '' },
});

function typedPart(id: string, d: Stated): PartTyped {
  const f = d.function;
  return {
    ...blankPart(id, d.unit ?? ''),
    resolution: shownNumber(d.resolution),
    content: contentOf(d),
    table: tableText(d),
    function: {
      name: f?.name ?? '',
      parameters: Object.fromEntries(Object.entries(f?.parameters ?? {}).map(([p, v]) => [p, shownNumber(v)])),
      expandedUncertainty: shownNumber(f?.expandedUncertainty),
      from: shownNumber(f?.from),
      to: shownNumber(f?.to),
    },
  };
}

const firstOf = (d: Stated) => d.items?.[0] ?? d.corrections?.[0] ?? d.values?.[0] ?? d.function;

export function typedStandard(
  { place, document: d }: StandardValues,
  declarations: readonly StandardDeclaration[],
): StandardTyped {
  const all: (Stated & { id: string })[] = d.parts ?? [{ ...d, id: '' }];
  const first = all.map(firstOf).find((x) => x !== undefined);
  const asked = declarations.flatMap((x) => x.properties.map((p) => p.id));
  const isDocument = all.some(isBeyond);
  return {
    place,
    parts: isDocument ? [{ ...blankPart(), content: 'document' }] : all.map((part) => typedPart(part.id, part)),
    source: isDocument ? JSON.stringify(d, null, 2) : '',
    coverageFactor: shownNumber(first?.coverageFactor ?? 2),
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
      properties: Object.fromEntries(asked.map((id) => [id, shownNumber(d.properties?.[id])])),
    },
  };
}

const typedDocument = z.object({
  kind: typedText,
  identification: typedText,
  designation: typedText,
  certificate: z.object({ issuer: typedText, number: typedText, date: typedText, due: typedText }),
  properties: z.record(z.string(), typedNumber),
});
const typedPartSchema = z.object({
  id: typedText,
  unit: typedText,
  resolution: typedNumber,
  content: z.enum(['items', 'tables', 'corrections', 'values', 'function', 'nothing', 'document']),
  table: z.string(),
  smallUnit: typedText,
  function: z.object({
    name: typedText,
    parameters: z.record(z.string(), typedNumber),
    expandedUncertainty: typedNumber,
    from: typedNumber,
    to: typedNumber,
  }),
});

/** What the entry's schema then checks. */
const asEntry = (entry: object) => entry as z.input<typeof standardEntrySchema>;

/** Columns beyond those of every table, as procedures ask for them of a kind. */
export const furtherColumns = (declared: StandardDeclaration | undefined, former: StandardDocument): FurtherColumn[] => {
  const titles = new Map([...(declared?.properties ?? []).map((p) => [p.id, p.title] as const), ['dof', 'degrees of freedom']]);
  const kept = [former, ...(former.parts ?? [])].flatMap((d) => furtherOf(d).ids);
  const ids = new Set([...(declared?.columns ?? []), ...titles.keys(), ...kept]);
  return [...ids].map((id) => ({ id, title: titles.get(id) ?? id }));
};

/** Turns what was typed into the entry that is sent. */
export function standardFormSchema(former: StandardDocument, declarations: readonly StandardDeclaration[]) {
  return z
    .object({
      place: typedText,
      parts: z.array(typedPartSchema).min(1),
      source: z.string(),
      coverageFactor: typedNumber,
      document: typedDocument,
    })
    .transform((typed, context) => {
      const { place, parts } = typed;
      const fault = (path: (string | number)[], message: string) => {
        context.addIssue({ code: 'custom', path, message });
        return z.NEVER;
      };
      if (parts[0]!.content === 'document') {
        try {
          return asEntry({ place, document: JSON.parse(typed.source) as unknown });
        } catch (error) {
          return fault(['source'], notWhole(error));
        }
      }
      const d = typed.document;
      const declared = declarations.find((x) => x.kind === d.kind);
      const further = furtherColumns(declared, former);
      const properties = new Set(declared?.properties.map((p) => p.id));
      const k = typed.coverageFactor ?? 2;
      const stated = parts.map((part, i) => {
        const old: Stated = former.parts?.find((x) => x.id === part.id) ?? former;
        const plain = {
          ...(part.unit ? { unit: part.unit } : {}),
          ...(part.resolution === null ? {} : { resolution: part.resolution }),
        };
        if (part.content === 'function') {
          const { name, parameters, expandedUncertainty, from, to } = part.function;
          const known = disciplineFunctions.get(name);
          if (!known) return fault(['parts', i, 'function', 'name'], 'Choose the function.');
          const missing = known.parameters.slice(1).find((p) => (parameters[p.id] ?? null) === null);
          if (missing) return fault(['parts', i, 'function', 'parameters', missing.id], `${missing.id} is missing.`);
          if (expandedUncertainty === null) return fault(['parts', i, 'function', 'expandedUncertainty'], 'U is missing.');
          return {
            ...plain,
            function: {
              name,
              parameters: Object.fromEntries(known.parameters.slice(1).map((p) => [p.id, parameters[p.id]!])),
              expandedUncertainty,
              coverageFactor: k,
              ...(from === null ? {} : { from }),
              ...(to === null ? {} : { to }),
            },
          };
        }
        if (!isTable(part.content)) return plain;
        const list = readStandardTable(part.table, part.content, part.unit, part.smallUnit, further);
        const [wrong] = list.faults;
        if (wrong) return fault(['parts', i, 'table'], `Line ${wrong.line}: ${wrong.message}`);
        if (list.rows.length === 0) return plain;
        const rows = list.rows.map(({ further: beyond, ...r }) => ({ ...r, coverageFactor: r.coverageFactor ?? k, ...beyond }));
        if (part.content === 'tables') return { ...plain, items: tablesOf(rows, old) };
        return { ...plain, [part.content]: part.content === 'items' ? itemsOf(rows, old, properties) : rows };
      });
      if (stated.includes(z.NEVER)) return z.NEVER;
      const isOne = parts.length === 1 && parts[0]!.id === '';
      const nameless = parts.findIndex((part) => part.id === '');
      if (!isOne && nameless >= 0) return fault(['parts', nameless, 'id'], 'A part needs a name.');
      const { issuer, number, date, due } = d.certificate;
      const hasCertificate = [issuer, number, date].some((t) => t !== '');
      // Of what was typed, what this kind is asked for; what no procedure asks for stays.
      const own = Object.fromEntries([
        ...Object.entries(former.properties ?? {}).filter(
          ([id]) => !(id in d.properties) || (d.kind === former.kind && !properties.has(id)),
        ),
        ...Object.entries(d.properties).filter(([id, v]) => v !== null && properties.has(id)),
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
          ...(isOne ? (stated[0] as object) : {}),
          ...(isOne && former.argument ? { argument: former.argument } : {}),
          ...(isOne
            ? {}
            : {
                ...shared(former),
                parts: parts.map((part, i) => ({ ...keptOf(former, part.id), id: part.id, ...(stated[i] as object) })),
              }),
          ...(Object.keys(own).length ? { properties: own } : {}),
          ...(former.lot ? { lot: former.lot } : {}),
        },
      });
    })
    .pipe(standardEntrySchema);
}

/** What a standard states for all its parts. */
const shared = ({ parts, unit, resolution }: StandardDocument) =>
  parts ? { ...(unit === undefined ? {} : { unit }), ...(resolution === undefined ? {} : { resolution }) } : {};

/** What the form does not show of a part stays with it. */
function keptOf({ parts }: StandardDocument, id: string) {
  const part = parts?.find((p) => p.id === id);
  if (!part) return {};
  const { title, argument, properties } = part;
  return { ...(title ? { title } : {}), ...(argument ? { argument } : {}), ...(properties ? { properties } : {}) };
}

/** Lines of one marking are the corrections of one item. */
function tablesOf(rows: StandardRow[], former: Stated) {
  const known = new Map((former.items ?? []).map((i) => [i.marking, i]));
  return [...new Set(rows.map((r) => r.marking!))].map((marking) => {
    const own = rows.filter((r) => r.marking === marking);
    const { corrections: _former, ...old } = known.get(marking) ?? { id: marking, expandedUncertainty: 0, coverageFactor: 2 };
    const corrections = own.map(({ marking: _marking, nominal: _nominal, ...line }) => line);
    return { ...old, marking, nominal: own[0]!.nominal, corrections };
  });
}

/** Items keep their id and what the table does not show; what procedures ask of each stands among its properties. */
function itemsOf(rows: StandardRow[], former: Stated, properties: ReadonlySet<string>) {
  const known = new Map((former.items ?? []).map((i) => [i.marking || String(i.nominal), i]));
  return rows.map((r) => {
    const old = known.get(r.marking!);
    const isProperty = (id: string) => properties.has(id) || old?.properties?.[id] !== undefined;
    const beyond = { ...old?.properties, ...Object.fromEntries(Object.entries(r).filter(([id]) => isProperty(id))) };
    const own = Object.fromEntries(Object.entries(r).filter(([id]) => !isProperty(id)));
    return {
      ...own,
      id: old?.id ?? r.marking,
      ...(Object.keys(beyond).length ? { properties: beyond } : {}),
      ...(old?.resolution ? { resolution: old.resolution } : {}),
    };
  });
}
