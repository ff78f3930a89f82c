import type { InstrumentSnapshot } from '../../core/plan/snapshots';
import * as z from 'zod';
import { ownForm } from '../../core/evaluate/own-unit';
import type { InstrumentDeclaration } from '../../core/document/declarations';
import { isSameKind } from '../../core/quantity/unit';
import { instrumentEntrySchema } from '../../core/register/entry-schemas';
import { parseCertificateTable, type TableColumn } from '../../core/standard/certificate-table';
import { shownNumber, typedNumber, typedText } from '../../ui/form/typed';
import type { FormField } from '../../ui/form/FormFields';

type Numbers = 'lower' | 'upper' | 'usedLower' | 'usedUpper' | 'resolution';
/** An entry of the register; numbers are missing until they are typed. */
export type InstrumentValues = Pick<
  InstrumentSnapshot,
  | 'identification'
  | 'serialNumber'
  | 'kind'
  | 'designation'
  | 'owner'
  | 'ownerAddress'
  | 'nextDateWanted'
  | 'place'
  | 'unit'
  | 'characteristics'
  | 'lists'
  | 'parts'
  | 'stored'
  | 'decisionRule'
  | 'adjustmentAllowed'
  | 'intervalMonths'
> &
  Record<Numbers, number | null> & { id: string | null; use: string; state: 'in-use' | 'out-of-use'; nextDue: string | null };

/** What stands in the fields: text as typed, and what is ticked. */
export type InstrumentTyped = Record<
  | 'kind'
  | 'unit'
  | 'identification'
  | 'serialNumber'
  | 'designation'
  | 'owner'
  | 'ownerAddress'
  | 'place'
  | 'use'
  | 'intervalMonths'
  | 'nextDue'
  | Numbers,
  string
> &
  Record<'characteristics' | 'parts' | 'stored' | 'lists', Record<string, string>> &
  Record<'adjustmentAllowed' | 'nextDateWanted' | 'outOfUse', boolean>;

type List = InstrumentDeclaration['lists'][number];

/** Rows of a list as text: id, title, then its columns; a line a row. */
const columnsOf = (list: List): TableColumn[] => [
  { id: 'id', title: 'id', type: 'text' },
  { id: 'title', title: 'title', type: 'text' },
  ...list.columns.map((c): TableColumn => ({ id: c.id, title: c.title, ...(c.type === 'text' ? { type: 'text' } : {}) })),
];
const listText = (list: List, rows: InstrumentValues['lists'][string] | undefined): string =>
  (rows ?? [])
    .map((r) =>
      columnsOf(list)
        .map((c) => String((r as Record<string, unknown>)[c.id] ?? '–'))
        .join('; '),
    )
    .join('\n');

const storedNumber = ({ stored }: InstrumentValues, id: string): number | null => {
  const value = stored[id];
  return typeof value === 'number' ? value : null;
};

/** Members that no declaration of this form names. */
const hidden = <T>(all: Record<string, T>, declared: readonly { id: string }[] | undefined): Record<string, T> =>
  Object.fromEntries(Object.entries(all).filter(([id]) => !declared?.some((d) => d.id === id)));

const unitOf = (unit: unknown) => (typeof unit === 'string' ? { unit } : {});

/** How a number that procedures declare in their unit is shown and typed for an instrument of another; null where as declared. */
const formOf = (declared: InstrumentDeclaration | undefined, own: string, of: unknown) =>
  declared?.unit === undefined || declared.unit === own || !isSameKind(declared.unit, own)
    ? null
    : ownForm({ document: declared.unit, own }, of);
const clean = (value: number): number => Number(value.toPrecision(12));
const inOwn = (declared: InstrumentDeclaration | undefined, own: string, of: unknown, value: number): number => {
  const form = formOf(declared, own, of);
  return form ? clean(form.toOwn(value)) : value;
};
/** A number as typed, in the declared unit; what stood there already stays as it was. */
const asDeclared = (
  declared: InstrumentDeclaration | undefined,
  own: string,
  of: unknown,
  typed: number,
  known: unknown,
): number => {
  if (typeof known === 'number' && inOwn(declared, own, of, known) === typed) return known;
  const form = formOf(declared, own, of);
  return form ? clean(form.toDocument(typed)) : typed;
};

/** The fields that every instrument has, in the unit it is entered in. */
export const ownFields = (unit: string): Record<'names' | 'range' | 'used' | 'times' | 'ticks', FormField[]> => ({
  names: [
    { name: 'identification', title: 'Identification', type: 'text', hint: 'As engraved or on its label', isWanted: true },
    { name: 'serialNumber', title: 'Serial number', type: 'text' },
    { name: 'designation', title: 'Make and type', type: 'text' },
    { name: 'owner', title: 'Owner', type: 'text', isWanted: true },
    { name: 'ownerAddress', title: 'Address of the owner', type: 'text', hint: 'As certificates state it', longest: 300 },
    { name: 'place', title: 'Place', type: 'text' },
    {
      name: 'use',
      title: 'Used for',
      type: 'text',
      hint: 'Where that tells instruments of one kind apart: rough work, reference',
    },
    { name: 'resolution', title: 'Resolution', type: 'number', unit, hint: 'One step of what it shows', isWanted: true },
  ],
  range: [
    { name: 'lower', title: 'from', type: 'number', unit, isWanted: true },
    { name: 'upper', title: 'to', type: 'number', unit, isWanted: true },
  ],
  used: [
    { name: 'usedLower', title: 'from', type: 'number', unit, placeholder: 'as above' },
    { name: 'usedUpper', title: 'to', type: 'number', unit, placeholder: 'as above' },
  ],
  times: [
    { name: 'intervalMonths', title: 'Interval, months', type: 'whole', hint: "Empty: the procedure's policy" },
    { name: 'nextDue', title: 'Next calibration due', type: 'day', hint: 'Set anew by each run' },
  ],
  ticks: [
    { name: 'adjustmentAllowed', title: 'The owner allows adjustment', type: 'check' },
    { name: 'nextDateWanted', title: 'The owner wants the next date on the certificate', type: 'check' },
    { name: 'outOfUse', title: 'Out of use: it is not planned and cannot be put on the bench', type: 'check' },
  ],
});

/** The fields that the procedures of a kind ask for, in the unit of the instrument where they count in it. */
export const declaredFields = (declared: InstrumentDeclaration, own: string): Record<'single' | 'lists', FormField[]> => ({
  single: [
    ...declared.characteristics.map((c): FormField => ({
      name: `characteristics.${c.id}`,
      title: c.title,
      type: c.type === 'text' ? 'text' : 'number',
      ...unitOf(formOf(declared, own, c.unit)?.unit ?? c.unit),
      ...(c.default === undefined
        ? {}
        : { hint: `Empty: ${String(typeof c.default === 'number' ? inOwn(declared, own, c.unit, c.default) : c.default)}` }),
    })),
    ...declared.parts.map((p): FormField => ({ name: `parts.${p.id}`, title: `${p.title}: number on it`, type: 'text' })),
    ...declared.stored.map((s): FormField => ({
      name: `stored.${s.id}`,
      title: `${s.title}, now`,
      type: 'number',
      ...unitOf(formOf(declared, own, s.unit)?.unit ?? s.unit),
      hint: 'Empty: not known. Set anew by each adjustment',
    })),
  ],
  lists: declared.lists.map((list): FormField => ({
    name: `lists.${list.id}`,
    title: `${list.title}, a line each: ${columnsOf(list)
      .map((c) => c.title)
      .join('; ')}`,
    type: 'rows',
    longest: 8000,
  })),
});

/** What stands in the fields before anything is typed, whatever kind is chosen. */
export function typedInstrument(values: InstrumentValues, declarations: readonly InstrumentDeclaration[]): InstrumentTyped {
  const each = (of: 'characteristics' | 'parts' | 'stored' | 'lists', text: (d: never, of: InstrumentDeclaration) => string) =>
    Object.fromEntries(
      [...declarations]
        // The kind of the instrument comes last: what it says stands.
        .sort((a, b) => Number(a.kind === values.kind) - Number(b.kind === values.kind))
        .flatMap((d) => d[of].map((x) => [x.id, text(x as never, d)])),
    ) as Record<string, string>;
  const { usedLower, usedUpper, lower, upper } = values;
  return {
    kind: values.kind,
    unit: values.unit,
    identification: values.identification,
    serialNumber: values.serialNumber,
    designation: values.designation,
    owner: values.owner,
    ownerAddress: values.ownerAddress ?? '',
    place: values.place,
    use: values.use,
    resolution: shownNumber(values.resolution),
    lower: shownNumber(lower),
    upper: shownNumber(upper),
    usedLower: shownNumber(usedLower),
    usedUpper: shownNumber(usedUpper),
    intervalMonths: shownNumber(values.intervalMonths),
    nextDue: values.nextDue ?? '',
    characteristics: each('characteristics', ({ id, unit }: { id: string; unit?: unknown }, of) => {
      const value = values.characteristics[id] ?? '';
      return String(typeof value === 'number' ? inOwn(of, values.unit, unit, value) : value);
    }),
    parts: each('parts', ({ id }: { id: string }) => values.parts[id] ?? ''),
    stored: each('stored', ({ id, unit }: { id: string; unit?: unknown }, of) => {
      const value = storedNumber(values, id);
      return shownNumber(value === null ? null : inOwn(of, values.unit, unit, value));
    }),
    lists: each('lists', (list: List) => listText(list, values.lists[list.id])),
    adjustmentAllowed: values.adjustmentAllowed,
    nextDateWanted: values.nextDateWanted ?? false,
    outOfUse: values.state === 'out-of-use',
  };
}

const typedRows = (list: List) =>
  z.string().transform((text, context) => {
    const { rows, faults } = parseCertificateTable(text, columnsOf(list));
    for (const f of faults.slice(0, 1)) context.addIssue({ code: 'custom', message: `Line ${f.line}: ${f.message}` });
    return rows;
  });

const objectOf = <T extends { id: string }, S extends z.ZodType>(list: readonly T[], schema: (of: T) => S) =>
  z.object(Object.fromEntries(list.map((x) => [x.id, schema(x)])));

const stated = <T>(all: Record<string, T>, isStated: (value: T) => boolean): Record<string, T> =>
  Object.fromEntries(Object.entries(all).filter(([, value]) => isStated(value)));

/** What the entry's schema then checks: a number may still be missing. */
const asEntry = (entry: object) => entry as z.input<typeof instrumentEntrySchema>;

/** Turns what was typed into the entry that is sent; what another procedure asked for stays, though this form does not show it. */
export function instrumentFormSchema(values: InstrumentValues, declared: InstrumentDeclaration | undefined) {
  const d: InstrumentDeclaration = declared ?? { kind: values.kind, characteristics: [], lists: [], parts: [], stored: [] };
  return z
    .object({
      kind: typedText,
      unit: typedText,
      identification: typedText,
      serialNumber: typedText,
      designation: typedText,
      owner: typedText,
      ownerAddress: typedText,
      place: typedText,
      use: typedText,
      resolution: typedNumber,
      lower: typedNumber,
      upper: typedNumber,
      usedLower: typedNumber,
      usedUpper: typedNumber,
      intervalMonths: typedNumber,
      nextDue: typedText,
      characteristics: objectOf(d.characteristics, (c): z.ZodType<string | number | null, string> =>
        c.type === 'text' ? typedText : typedNumber,
      ),
      parts: objectOf(d.parts, () => typedText),
      stored: objectOf(d.stored, () => typedNumber),
      lists: objectOf(d.lists, typedRows),
      adjustmentAllowed: z.boolean(),
      nextDateWanted: z.boolean(),
      outOfUse: z.boolean(),
    })
    .transform(({ outOfUse, ...typed }) =>
      asEntry({
        ...typed,
        usedLower: typed.usedLower ?? typed.lower,
        usedUpper: typed.usedUpper ?? typed.upper,
        nextDue: typed.nextDue || null,
        state: outOfUse ? ('out-of-use' as const) : ('in-use' as const),
        decisionRule: values.decisionRule,
        characteristics: {
          ...hidden(values.characteristics, d.characteristics),
          ...Object.fromEntries(
            Object.entries(stated(typed.characteristics, (v) => v !== null && v !== '')).map(([id, v]) => {
              const { unit } = d.characteristics.find((c) => c.id === id)!;
              return [id, typeof v === 'number' ? asDeclared(declared, typed.unit, unit, v, values.characteristics[id]) : v];
            }),
          ),
        },
        parts: { ...hidden(values.parts, d.parts), ...stated(typed.parts, (v) => v !== '') },
        lists: { ...hidden(values.lists, d.lists), ...stated(typed.lists, (rows) => rows.length > 0) },
        // Only what was typed here: a run may have stored something since the form was opened.
        stored: Object.fromEntries(
          Object.entries(typed.stored)
            .map(([id, value]): [string, number | null] => {
              const { unit } = d.stored.find((s) => s.id === id)!;
              return [id, value === null ? null : asDeclared(declared, typed.unit, unit, value, storedNumber(values, id))];
            })
            .filter(([id, value]) => value !== storedNumber(values, id)),
        ),
      }),
    )
    .pipe(instrumentEntrySchema);
}
