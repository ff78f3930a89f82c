import Papa from 'papaparse';
import { parseReading } from '../quantity/reading';

/** A column of a pasted table: a number, or a text that is kept as it stands. */
export type TableColumn = { id: string; title: string; type?: 'text' };
export type CertificateTable = {
  rows: Record<string, number | string>[];
  faults: { /** From 1. */ line: number; message: string }[];
};

/** The most rows a certificate's table may have. */
export const mostRows = 2000;

/**
 * The cells of one line. Tabs or semicolons part them, and blanks then belong to them; then commas, where they cannot be decimal
 * ones: not between two digits, or in a line without blanks; blanks otherwise.
 */
export function cellsOf(raw: string): string[] {
  const line = raw.trim();
  if (line === '') return [];
  const delimiter = line.includes('\t')
    ? '\t'
    : line.includes(';')
      ? ';'
      : /(?<!\d),|,(?!\d)|^[^\s,]+(,[^\s,]+){2,}$/.test(line)
        ? ','
        : null;
  if (delimiter === null) return line.split(/\s+/);
  const [cells = []] = Papa.parse<string[]>(line, { delimiter }).data;
  return cells.map((c) => c.trim()).filter(Boolean);
}

/**
 * Reads the table of a certificate, pasted or typed: a line a row, cells parted as `cellsOf` says. Decimal comma and
 * point both work; empty lines and a line of headings are passed over. The first column may not repeat itself.
 * @example parseCertificateTable('100\t100.0001', [{ id: 'nominal', title: 'nominal' }, { id: 'value', title: 'value' }]).rows // [{ nominal: 100, value: 100.0001 }]
 */
export function parseCertificateTable(text: string, columns: readonly TableColumn[]): CertificateTable {
  const rows: CertificateTable['rows'] = [];
  const faults: CertificateTable['faults'] = [];
  const seen = new Set<string>();
  text.split(/\r?\n/).forEach((raw, index) => {
    const cells = cellsOf(raw);
    if (cells.length === 0) return;
    const line = index + 1;
    const isHeading = rows.length === 0 && columns.every((c, i) => c.type === 'text' || !parseReading(cells[i] ?? '').ok);
    if (isHeading) return;
    if (rows.length >= mostRows) {
      if (rows.length === mostRows && faults.at(-1)?.line !== mostRows + 1)
        faults.push({ line: mostRows + 1, message: `a table has at most ${mostRows} rows.` });
      return;
    }
    if (cells.length !== columns.length)
      return void faults.push({
        line,
        message: `has ${cells.length} ${cells.length === 1 ? 'entry' : 'entries'}; ${columns.length} are wanted: ${columns.map((c) => c.title).join(', ')}.`,
      });
    const row: Record<string, number | string> = {};
    for (const [i, column] of columns.entries()) {
      const cell = cells[i]!;
      if (column.type === 'text') row[column.id] = cell;
      else {
        const parsed = parseReading(cell);
        if (!parsed.ok) return void faults.push({ line, message: `"${cell}" is not a number (${column.title}).` });
        row[column.id] = parsed.reading.value;
      }
    }
    const key = cells[0]!;
    if (seen.has(key)) return void faults.push({ line, message: `${key} stands twice.` });
    seen.add(key);
    rows.push(row);
  });
  return { rows, faults };
}
