import { parseFigure } from '../quantity/reading';
import { convert, convertDifference, printedUnit, unitCode } from '../quantity/unit';
import { cellsOf, mostRows } from './certificate-table';

/** What a certificate's table states: items with their markings, corrections to what is shown, values over an argument, or items each with corrections of its own. */
export type TableContent = 'items' | 'corrections' | 'values' | 'tables';

type Role = 'marking' | 'nominal' | 'certified' | 'deviation' | 'at' | 'correction' | 'error' | 'value' | 'U' | 'k' | 'other';
type Column = {
  role: Role;
  title: string;
  /** Where its heading names one. */ unit: string | null;
  /** Of a column beyond those of every table: what procedures call it. */ further?: string;
};
/** What procedures ask of each line beyond its value: the frequency of a voltage, the density of a weight. */
export type FurtherColumn = { id: string; title: string };

export type StandardRow = {
  /** Of items. */ marking?: string;
  nominal?: number;
  certified?: number;
  /** Of corrections and values. */ at?: number;
  correction?: number;
  value?: number;
  expandedUncertainty: number;
  /** Where a column states it. */ coverageFactor?: number;
  /** By id, where the table has such columns. */ further?: Record<string, number>;
};
export type StandardTable = {
  rows: StandardRow[];
  faults: { /** From 1. */ line: number; message: string }[];
  /** How each column was read, in words. */ columns: string[];
};

/** Columns in their order where no headings say otherwise. */
const plain: Record<TableContent, Role[]> = {
  items: ['marking', 'nominal', 'certified', 'U'],
  corrections: ['at', 'correction', 'U'],
  values: ['at', 'value', 'U'],
  tables: ['marking', 'nominal', 'at', 'correction', 'U'],
};
export const plainTitles: Record<TableContent, string> = {
  items: 'marking, nominal, certified, U',
  corrections: 'shows, correction, U',
  values: 'at, value, U',
  tables: 'marking, nominal, shows, correction, U',
};

/** What a heading means, the first that fits. The trade's words vary; the sense of a deviation and of an error does not. */
const headings: Record<TableContent, [RegExp, Role][]> = {
  items: [
    [/^U\b|uncertainty/i, 'U'],
    [/^k$|coverage/i, 'k'],
    [/serial|marking|ident|\bs\/?n\b|number|^no\.?$/i, 'marking'],
    [/deviation|correction|difference|error/i, 'deviation'],
    [/nominal|denomination/i, 'nominal'],
    [/certified|actual|measured|true|value|length|mass/i, 'certified'],
  ],
  corrections: [
    [/^U\b|uncertainty/i, 'U'],
    [/^k$|coverage/i, 'k'],
    [/correction/i, 'correction'],
    [/error|deviation/i, 'error'],
    [/shows|shown|indicat|reading|nominal|^at\b/i, 'at'],
  ],
  tables: [
    [/^U\b|uncertainty/i, 'U'],
    [/^k$|coverage/i, 'k'],
    [/serial|marking|ident|\bs\/?n\b|number|^no\.?$/i, 'marking'],
    [/nominal|denomination/i, 'nominal'],
    [/correction/i, 'correction'],
    [/error|deviation/i, 'error'],
    [/shows|shown|indicat|reading|^at\b/i, 'at'],
  ],
  values: [
    [/^U\b|uncertainty/i, 'U'],
    [/^k$|coverage/i, 'k'],
    [/value|certified|measured|sensitivity|response/i, 'value'],
    [/^at\b|nominal|frequency|temperature|point|argument/i, 'at'],
  ],
};

const words: Record<Role, string> = {
  marking: 'marking',
  nominal: 'nominal',
  certified: 'certified value',
  deviation: 'deviation from nominal',
  at: 'where',
  correction: 'correction',
  error: 'error (the correction with the other sign)',
  value: 'value',
  U: 'U',
  k: 'k',
  other: 'passed over',
};

/** A heading with its unit: `Deviation (µm)`, `U [µm]`, `U, µm`, `U / µm`. */
function columnOf(heading: string, content: TableContent, further: readonly FurtherColumn[]): Column {
  const inside = /[([]([^)\]]*)[)\]]|[,/]\s*([^,/]+)$/.exec(heading);
  const unit = inside ? (unitCode(inside[1] ?? inside[2] ?? '') ?? null) : null;
  const title = (inside && unit !== null ? heading.replace(inside[0], '') : heading).trim();
  const own = further.find((f) => [f.id, f.title].some((name) => name.toLowerCase() === title.toLowerCase()));
  if (own) return { role: 'other', title: own.title, unit, further: own.id };
  const role = headings[content].find(([pattern]) => pattern.test(title))?.[1] ?? 'other';
  return { role, title, unit };
}

const needs: Record<TableContent, Role[][]> = {
  items: [['nominal'], ['certified', 'deviation'], ['U']],
  corrections: [['at'], ['correction', 'error'], ['U']],
  values: [['at'], ['value'], ['U']],
  tables: [['marking'], ['nominal'], ['at'], ['correction', 'error'], ['U']],
};

/**
 * Reads the table of a standard's certificate as it was pasted: cells parted by tabs, semicolons, commas or blanks, decimal commas
 * and points. A line of headings says what each column is and in which unit (serial numbers, deviations in µm); a column that
 * means nothing here is passed over and named. Without headings the columns come in the order of `plainTitles`.
 * @param unit of the standard, UCUM; '' where it has none
 * @param further columns that are read where a heading names them, as they stand
 * @param smallUnit of U and of deviations where no heading names one; '' for `unit`
 * @example readStandardTable('Serial;Nominal (mm);Deviation (µm);U (µm)\nA1;5;0,12;0,05', 'items', 'mm', '').rows.length // 1
 *   // [{ marking: 'A1', nominal: 5, certified: 5.00012, expandedUncertainty: 0.00005 }]
 */
export function readStandardTable(
  text: string,
  content: TableContent,
  unit: string,
  smallUnit: string,
  further: readonly FurtherColumn[] = [],
): StandardTable {
  const rows: StandardRow[] = [];
  const faults: StandardTable['faults'] = [];
  const seen = new Set<string>();
  let columns: Column[] = plain[content].map((role) => ({ role, title: words[role], unit: null }));
  let isFirst = true;

  for (const [index, raw] of text.split(/\r?\n/).entries()) {
    const cells = cellsOf(raw);
    if (cells.length === 0) continue;
    const line = index + 1;
    const fault = (message: string) => void faults.push({ line, message });
    if (isFirst) {
      isFirst = false;
      if (cells.length > 1 && cells.every((c) => !parseFigure(c).ok)) {
        const named = cells.map((c) => columnOf(c, content, further));
        const lacks = needs[content].find((any) => !named.some((c) => any.includes(c.role)));
        const recognised = named.filter((c) => c.role !== 'other' || c.further).length;
        // Headings that say nothing leave the columns in their plain order.
        if (!lacks) columns = named;
        else if (recognised > 1 && cells.length !== columns.length)
          fault(`no column is ${lacks.map((r) => words[r]).join(' or ')}. Name it in its heading.`);
        continue;
      }
    }
    if (rows.length >= mostRows) {
      faults.push({ line, message: `a table has at most ${mostRows} rows.` });
      break;
    }
    if (cells.length !== columns.length) {
      fault(
        `has ${cells.length} ${cells.length === 1 ? 'entry' : 'entries'}; ${columns.length} are wanted: ${columns.map((c) => c.title).join(', ')}.`,
      );
      continue;
    }
    const at = (role: Role) => columns.findIndex((c) => c.role === role);
    let isWhole = true;
    /** A number of this line; a small one (U, deviation) in the unit of its heading, turned into that of the standard. */
    const number = (role: Role, isSmall = false): number | undefined => {
      const i = at(role);
      if (i < 0) return undefined;
      const parsed = parseFigure(cells[i]!);
      if (!parsed.ok) {
        if (isWhole) fault(`"${cells[i]}" is not a number (${columns[i]!.title}).`);
        isWhole = false;
        return undefined;
      }
      const from = columns[i]!.unit ?? ((isSmall && smallUnit) || unit);
      if (from === unit || unit === '' || role === 'k') return parsed.reading.value;
      try {
        // A factor such as 1/1000 leaves binary noise behind the digits typed.
        return Number((isSmall ? convertDifference : convert)(parsed.reading.value, from, unit).toPrecision(12));
      } catch {
        if (isWhole) fault(`${printedUnit(from)} (${columns[i]!.title}) cannot be turned into ${printedUnit(unit)}.`);
        isWhole = false;
        return undefined;
      }
    };
    const sum = (a: number | undefined, b: number | undefined) =>
      a === undefined || b === undefined ? undefined : Number((a + b).toPrecision(14));
    const minus = (a: number | undefined) => (a === undefined ? undefined : a === 0 ? 0 : -a);
    const nominal = number('nominal');
    const body =
      content === 'items'
        ? {
            marking: cells[at('marking')] ?? cells[at('nominal')]!,
            nominal,
            certified: at('certified') >= 0 ? number('certified') : sum(nominal, number('deviation', true)),
          }
        : content !== 'values'
          ? {
              ...(content === 'tables' ? { marking: cells[at('marking')]!, nominal } : {}),
              at: number('at'),
              correction: at('correction') >= 0 ? number('correction', true) : minus(number('error', true)),
            }
          : { at: at('at') < 0 ? undefined : plainNumber(cells[at('at')]!, fault), value: number('value') };
    const beyond: Record<string, number> = {};
    for (const [i, { further: id, title }] of columns.entries()) {
      if (id === undefined) continue;
      // A dash: this line has none.
      if (/^[-–—]$/.test(cells[i]!)) continue;
      const parsed = parseFigure(cells[i]!);
      if (parsed.ok) beyond[id] = parsed.reading.value;
      else {
        if (isWhole) fault(`"${cells[i]}" is not a number (${title}).`);
        isWhole = false;
      }
    }
    const expandedUncertainty = number('U', true);
    const coverageFactor = number('k');
    if (!isWhole || Object.values(body).includes(undefined)) continue;
    // The same voltage at two frequencies is two lines.
    const key = [...Object.values(body).slice(0, content === 'tables' ? 3 : 1), ...Object.values(beyond)].join(', ');
    if (seen.has(key)) fault(`${key} stands twice.`);
    else {
      seen.add(key);
      rows.push({
        ...body,
        expandedUncertainty: expandedUncertainty!,
        ...(coverageFactor === undefined ? {} : { coverageFactor }),
        ...(Object.keys(beyond).length ? { further: beyond } : {}),
      } as StandardRow);
    }
  }
  return {
    rows,
    faults,
    columns: columns.map((c) =>
      c.further
        ? c.title
        : c.role === 'other'
          ? `“${c.title}” passed over`
          : `${words[c.role]}${c.unit ? ` in ${printedUnit(c.unit)}` : ''}`,
    ),
  };
}

/** Where a value of a function holds: in the unit of its argument, which is not that of the value. */
function plainNumber(cell: string, fault: (message: string) => void): number | undefined {
  const parsed = parseFigure(cell);
  if (parsed.ok) return parsed.reading.value;
  fault(`"${cell}" is not a number.`);
  return undefined;
}
