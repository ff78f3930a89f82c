import type { CanvasElement, Content, CustomTableLayout, TableCell } from 'pdfmake/interfaces';
import type {
  CertificateCell,
  CertificateLine,
  CertificateRow,
  CertificateTable,
} from '../../core/certificate/certificate-tables';
import { verdictWords } from '../../core/certificate/certificate-words';
import type { Verdict } from '../../core/conformity/decide';
import { brick, ink, printed, rule, set, soft, widthOf } from './type';

const size = 8.5;
const headingSize = 7.5;

type Limits = NonNullable<CertificateRow['limits']>;
type Column = { group: string; title: string; text: (row: CertificateRow) => string; color?: (row: CertificateRow) => string };

const isOut = (cell: CertificateCell): boolean => cell.verdict === 'fail' || cell.verdict === 'conditional-fail';

const isTwoSided = (limits: CertificateRow['limits']): limits is { lower: number; upper: number } =>
  limits !== null && limits.lower !== null && limits.upper !== null;

/** Whether what was found and what was left were compared with different values, as conditions or items changed. */
const hasOwnReferences = (table: CertificateTable): boolean =>
  table.rows.some((r) => r.found?.reference && r.left?.reference && r.found.reference !== r.left.reference);

/** The coverage factor of all lines, where they have one. */
function sameFactor(table: CertificateTable): string | null {
  const factors = new Set(table.rows.flatMap((r) => [r.found, r.left].flatMap((c) => (c ? [c.coverageFactor] : []))));
  return factors.size === 1 ? [...factors][0]! : null;
}

/** An error about zero is written with its sign, a value with limits without. */
const withSign = (text: string, limits: CertificateRow['limits']): string =>
  limits && (limits.lower ?? 0) < 0 && (limits.upper ?? 0) > 0 && /[1-9]/.test(text) && !/^[+-]/.test(text) ? `+${text}` : text;

const shortVerdict: Record<Verdict, string> = {
  pass: 'pass',
  'conditional-pass': 'cond. pass',
  'not-determined': 'not determined',
  'conditional-fail': 'cond. fail',
  fail: 'fail',
};

function columnsOf(table: CertificateTable): Column[] {
  const { reference, value } = table.units;
  const withUnit = (title: string, unit: string) => (unit === '' || unit === '1' ? title : `${title}, ${unit}`);
  const rowColumn = (title: string, text: (row: CertificateRow) => string): Column => ({ group: '', title, text });
  const cell = (side: 'found' | 'left', group: string): Column[] => {
    const of = (text: (c: CertificateCell) => string) => (row: CertificateRow) => (row[side] ? text(row[side]) : '');
    const color = (row: CertificateRow) => (row[side] && isOut(row[side]) ? brick : ink);
    const any = (has: (c: CertificateCell) => unknown) => table.rows.some((r) => r[side] && has(r[side]));
    return [
      ...(hasOwnReferences(table)
        ? [{ group, title: withUnit('reference', reference), text: of((c) => c.reference ?? '') }]
        : []),
      ...(any((c) => c.indication) ? [{ group, title: withUnit('indication', reference), text: of((c) => c.indication) }] : []),
      {
        group,
        title: withUnit(/^error\b/i.test(table.result) ? 'error' : 'value', value),
        text: (row) => (row[side] ? withSign(row[side].value, row.limits) : ''),
        color,
      },
      { group, title: withUnit('U', value), text: of((c) => c.expandedUncertainty) },
      ...(sameFactor(table) === null ? [{ group, title: 'k', text: of((c) => c.coverageFactor) }] : []),
      ...(any((c) => c.verdict)
        ? [{ group, title: 'verdict', text: of((c) => (c.verdict ? shortVerdict[c.verdict] : '')), color }]
        : []),
    ];
  };
  return [
    ...(table.rows.some((r) => r.point && !table.series.startsWith(r.point)) ? [rowColumn('point', (r) => r.point)] : []),
    ...(table.rows.some((r) => r.sweep) ? [rowColumn('', (r) => r.sweep.toLowerCase())] : []),
    ...(table.rows.some((r) => r.reference) && !hasOwnReferences(table)
      ? [rowColumn(withUnit('reference', reference), (r) => r.reference)]
      : []),
    ...(table.limits === '' && table.rows.some((r) => r.limits) ? [rowColumn('limits', (r) => r.limitWords)] : []),
    ...(table.rows.some((r) => r.found) ? cell('found', 'As found') : []),
    ...(table.rows.some((r) => r.left) ? cell('left', 'As left') : []),
  ];
}

/** What stands before the decimal mark, and from it on. */
const partsOf = (text: string): [string, string] => {
  const [whole] = /^[−+-]?\d*/.exec(text)!;
  return [whole, text.slice(whole.length)];
};
const isNumeric = (texts: readonly string[]): boolean =>
  texts.every((t) => t === '' || (/^[−+]?\d/.test(t) && !/[a-z±]/i.test(t)));

type Placed = { cells: TableCell[]; width: number; isNumeric: boolean };

/** A column as wide as what stands in it, decimal points under each other: what lacks places after the point keeps their room. */
function placed(column: Column, rows: readonly CertificateRow[]): Placed {
  const texts = rows.map((r) => printed(column.text(r)));
  const numeric = isNumeric(texts);
  const wholes = texts.map((t) => widthOf(partsOf(t)[0], size));
  const rests = texts.map((t) => widthOf(partsOf(t)[1], size));
  const rest = Math.max(0, ...rests);
  const width = numeric ? Math.max(0, ...wholes) + rest : Math.max(0, ...texts.map((t) => widthOf(t, size)));
  return {
    isNumeric: numeric,
    width: Math.max(width, widthOf(column.title, headingSize)) + 0.5,
    cells: texts.map(
      (text, i) =>
        set(text, {
          fontSize: size,
          color: column.color?.(rows[i]!) ?? ink,
          noWrap: true,
          ...(numeric ? { alignment: 'right', margin: [0, 0, rest - rests[i]!, 0] } : {}),
        }) as TableCell,
    ),
  };
}

/** The pair on the strip: hollow ring as found, filled dot as left, a stem between, drawn to the scale of the tolerance. */
function strip(
  width: number,
  limits: Limits & { lower: number; upper: number },
  found: CertificateCell | null,
  left: CertificateCell | null,
): CanvasElement[] {
  const [middle, half, y] = [(limits.lower + limits.upper) / 2, (limits.upper - limits.lower) / 2, 6];
  // The strip shows one and a half times the tolerance on each side.
  const at = (value: number) => Math.max(0, Math.min(width, width / 2 + ((value - middle) * width) / 3 / half));
  const stroke = (x1: number, y1: number, x2: number, y2: number, lineColor: string, lineWidth = 0.7): CanvasElement => ({
    type: 'line',
    x1,
    y1,
    x2,
    y2,
    lineColor,
    lineWidth,
  });
  const mark = (cell: CertificateCell, dy: number, isFilled: boolean): CanvasElement[] => {
    if (!cell.computed) return [];
    const { value, expandedUncertainty: U } = cell.computed;
    const color = isOut(cell) ? brick : ink;
    return [
      stroke(at(value - U), y + dy, at(value + U), y + dy, color),
      {
        type: 'ellipse',
        x: at(value),
        y: y + dy,
        r1: 2.4,
        r2: 2.4,
        color: isFilled ? color : '#ffffff',
        lineColor: color,
        lineWidth: 0.7,
      },
    ];
  };
  return [
    { type: 'rect', x: at(limits.lower), y: 0, w: at(limits.upper) - at(limits.lower), h: 12, color: '#efeadb' },
    ...[limits.lower, middle, limits.upper].map((edge) => stroke(at(edge), 0, at(edge), 12, soft, 0.5)),
    ...(found?.computed && left?.computed ? [stroke(at(found.computed.value), y - 3, at(left.computed.value), y + 3, ink)] : []),
    ...(found ? mark(found, left ? -3 : 0, false) : []),
    ...(left ? mark(left, 3, true) : []),
  ];
}

/** Room between columns: as much as there is, up to the first of these; less than the second would run them together. */
const [wideGap, leastGap] = [9, 2.5];
/** A strip narrower than this shows nothing. */
const leastStrip = 60;

const layout = (headers: number, gap: number): CustomTableLayout => ({
  hLineWidth: (i, node) => (i === headers || i === node.table.body.length ? 0.6 : 0),
  hLineColor: () => rule,
  vLineWidth: () => 0,
  paddingLeft: () => 0,
  paddingRight: (i, node) => (i === node.table.widths!.length - 1 ? 0 : gap),
  paddingTop: (i) => (i < headers ? 0 : 2),
  paddingBottom: (i) => (i < headers ? 1.5 : 1),
});

/** A statistic or an answer on a line of its own. */
function lineOf(entry: CertificateLine): TableCell[] {
  const said = (side: CertificateLine['found'], title: string) =>
    side ? `${title}${printed(side.value)}${side.verdict ? ` (${verdictWords(side.verdict)})` : ''}` : '';
  const words = [
    said(entry.found, entry.left ? 'as found ' : ''),
    said(entry.left, 'as left '),
    entry.limitWords && `limits: ${entry.limitWords}`,
  ].filter(Boolean);
  return [set(entry.title, { fontSize: size }), set(words.join('; '), { fontSize: size })] as TableCell[];
}

/** Tables of one row each that differ in what they are of, as one table. */
export function joined(tables: readonly CertificateTable[]): CertificateTable[] {
  const all: CertificateTable[] = [];
  const kind = (t: CertificateTable) => JSON.stringify([t.series, t.result, t.units, t.limits]);
  // A point named as its table is no more than that.
  const pointOf = (t: CertificateTable) => (t.series.startsWith(t.rows[0]!.point) ? '' : t.rows[0]!.point);
  const isSingle = (t: CertificateTable) => t.of !== '' && t.rows.length === 1 && t.lines.length === 0;
  for (const [i, t] of tables.entries()) {
    const next = tables[i + 1];
    const last = all.at(-1);
    const row = () => ({ ...t.rows[0]!, point: [t.of, pointOf(t)].filter(Boolean).join(', ') });
    if (isSingle(t) && last?.of === '' && last.lines.length === 0 && i > 0 && isSingle(tables[i - 1]!) && kind(last) === kind(t))
      last.rows.push(row());
    else all.push(isSingle(t) && next && isSingle(next) && kind(next) === kind(t) ? { ...t, of: '', rows: [row()] } : t);
  }
  return all;
}

/** A table of results over at most `width` points: its title goes with it over the pages, no line of it is parted. */
export function resultTable(table: CertificateTable, width: number): { content: Content[]; hasStrips: boolean } {
  const result = table.result.charAt(0).toLowerCase() + table.result.slice(1);
  const isNamed = table.rows.length > 0 && table.result !== 'Error' && table.result !== table.series;
  const title = [table.series, table.of, isNamed && result].filter(Boolean).join(': ');
  const factor = sameFactor(table);
  const aside = [table.limits && `limits ${table.limits}`, factor && `k = ${factor}`].filter(Boolean).join('; ');
  const head: Content = {
    columns: [
      { width: '*', stack: [set(title, { bold: true, fontSize: 10 })] },
      ...(table.rows.length && aside
        ? [{ width: 190, stack: [set(aside, { fontSize: size, color: soft, alignment: 'right', margin: [0, 1.5, 0, 0] })] }]
        : []),
    ],
  };
  const lines: Content[] = table.lines.length
    ? [{ table: { widths: [190, '*'], dontBreakRows: true, body: table.lines.map(lineOf) }, layout: layout(-1, wideGap) }]
    : [];
  if (table.rows.length === 0)
    return {
      content: [{ stack: [head, ...lines], margin: [0, 0, 0, 8], unbreakable: table.lines.length < 8 }],
      hasStrips: false,
    };

  const columns = columnsOf(table);
  const at = columns.map((c) => placed(c, table.rows));
  const taken = at.reduce((sum, c) => sum + c.width, 0);
  const gap = Math.max(leastGap, Math.min(wideGap, (width - taken) / Math.max(1, at.length - 1)));
  const isOver = taken + leastGap * (at.length - 1) > width;
  const stripWidth = width - taken - gap * at.length;
  // What no column needs belongs to the strips, or stays empty: every table is as wide as the page.
  const hasRest = stripWidth > 0;
  const hasStrips = stripWidth > leastStrip && table.rows.some((r) => isTwoSided(r.limits));
  const last: TableCell[] = hasRest ? [''] : [];
  const count = columns.length + last.length;
  const spanned = (cell: TableCell, over: number): TableCell[] => [
    { ...(cell as object), colSpan: over } as TableCell,
    ...Array.from({ length: over - 1 }, () => ({}) as TableCell),
  ];
  const groups = columns.flatMap((c, i): TableCell[] => {
    if (i > 0 && columns[i - 1]!.group === c.group) return [];
    const over = columns.slice(i).findIndex((x) => x.group !== c.group);
    return spanned(
      set(c.group, { fontSize: headingSize, bold: true, color: soft }) as TableCell,
      over < 0 ? columns.length - i : over,
    );
  });
  const headings = columns.map(
    (c, i) =>
      set(c.title, {
        fontSize: headingSize,
        color: soft,
        noWrap: true,
        ...(at[i]!.isNumeric ? { alignment: 'right' } : {}),
      }) as TableCell,
  );
  const body: TableCell[][] = [
    spanned(head as TableCell, count),
    [...groups, ...last],
    [...headings, ...last],
    ...table.rows.map((row, r): TableCell[] => [
      ...at.map((c) => c.cells[r]!),
      ...(hasStrips && isTwoSided(row.limits)
        ? [{ canvas: strip(stripWidth, row.limits, row.found, row.left) } as TableCell]
        : last),
    ]),
  ];
  const content: Content[] = [
    {
      table: {
        headerRows: 3,
        keepWithHeaderRows: Math.min(2, table.rows.length),
        dontBreakRows: true,
        widths: [...at.map((c) => (isOver ? 'auto' : c.width)), ...(hasRest ? [stripWidth] : [])],
        body,
      },
      layout: layout(3, gap),
      margin: [0, 0, 0, lines.length ? 2 : 8],
    },
    ...lines.map((l) => ({ ...(l as object), margin: [0, 0, 0, 8] }) as Content),
  ];
  return { content, hasStrips };
}
