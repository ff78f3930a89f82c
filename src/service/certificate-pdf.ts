import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { create as createFont, type Font } from 'fontkit';
import PDFDocument from 'pdfkit';
import type { Certificate, CertificateSet, IssuedCertificate } from '../core/certificate/certificate';
import type { CertificateCell, CertificateLine, CertificateRow, CertificateTable } from '../core/certificate/certificate-tables';
import type { Verdict } from '../core/conformity/decide';
import { verdictWords } from '../core/certificate/certificate-words';
import { presentCertificate } from '../core/certificate/version-1';

const ink = '#1d2a30';
const soft = '#51606a';
const rule = '#c9c2b0';
const brick = '#9c2f22';
const margin = 48;
const pageWidth = 595.28;
const pageHeight = 841.89;
const width = pageWidth - 2 * margin;

const faces = {
  regular: '@fontsource/ibm-plex-sans/files/ibm-plex-sans-latin-400-normal.woff',
  bold: '@fontsource/ibm-plex-sans/files/ibm-plex-sans-latin-700-normal.woff',
  mono: '@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-400-normal.woff',
  // Names from everywhere: a wider face for texts that the first three cannot set.
  wide: 'dejavu-fonts-ttf/ttf/DejaVuSans.ttf',
} as const;
type Face = keyof typeof faces;
type LoadedFaces = Record<Face, { data: Buffer; covers: (text: string) => boolean }>;
let loaded: Promise<LoadedFaces> | undefined;

/** Fonts are read once from the packages that ship them and embedded in every certificate. */
function loadFaces(): Promise<LoadedFaces> {
  loaded ??= Promise.all(
    Object.entries(faces).map(async ([name, path]) => {
      const data = await readFile(join(process.cwd(), 'node_modules', path));
      const font = createFont(data) as Font;
      return [
        name,
        { data, covers: (text: string) => [...text].every((c) => c === '\n' || font.hasGlyphForCodePoint(c.codePointAt(0)!)) },
      ] as const;
    }),
  ).then((entries) => Object.fromEntries(entries) as LoadedFaces);
  return loaded;
}

type Doc = PDFKit.PDFDocument;

const coverage = new WeakMap<Doc, LoadedFaces>();

/** Text set at a place without moving anything else; returns where the next line would begin. */
function put(
  doc: Doc,
  text: string,
  x: number,
  y: number,
  options: PDFKit.Mixins.TextOptions & { font?: Face; size?: number; color?: string } = {},
): number {
  const { font = 'regular', size = 9, color = ink, ...rest } = options;
  doc
    .font(coverage.get(doc)![font].covers(text) ? font : 'wide')
    .fontSize(size)
    .fillColor(color)
    .text(text, x, y, rest);
  return doc.y;
}

const line = (doc: Doc, y: number, color = rule) =>
  doc
    .moveTo(margin, y)
    .lineTo(pageWidth - margin, y)
    .lineWidth(0.6)
    .strokeColor(color)
    .stroke();

/** Starts a new page when less than `needed` points are left; returns where to go on. */
function room(doc: Doc, y: number, needed: number): number {
  if (y + needed <= pageHeight - 70) return y;
  doc.addPage();
  return margin;
}

function facts(doc: Doc, entries: [string, string][], x: number, y: number, columnWidth: number): number {
  for (const [label, value] of entries) {
    put(doc, label, x, y, { size: 7.5, color: soft, width: columnWidth });
    y = put(doc, value || '–', x, doc.y + 0.5, { size: 9.5, width: columnWidth }) + 5;
  }
  return y;
}

type Limits = NonNullable<CertificateRow['limits']>;

const isOut = (cell: CertificateCell): boolean => cell.verdict === 'fail' || cell.verdict === 'conditional-fail';

/** The pair on the strip: hollow ring as found, filled dot as left, a stem between, drawn to the scale of the tolerance. */
function strip(
  doc: Doc,
  x: number,
  y: number,
  w: number,
  limits: Limits & { lower: number; upper: number },
  found: CertificateCell | null,
  left: CertificateCell | null,
): void {
  const middle = (limits.lower + limits.upper) / 2;
  const half = (limits.upper - limits.lower) / 2;
  const unit = w / 3 / half; // the strip shows one and a half times the tolerance on each side
  const at = (value: number) => Math.max(x, Math.min(x + w, x + w / 2 + (value - middle) * unit));
  doc.rect(at(limits.lower), y - 6, at(limits.upper) - at(limits.lower), 12).fill('#efeadb');
  doc.lineWidth(0.5).strokeColor(soft);
  for (const edge of [limits.lower, middle, limits.upper])
    doc
      .moveTo(at(edge), y - 6)
      .lineTo(at(edge), y + 6)
      .stroke();
  const mark = (cell: CertificateCell, dy: number, filled: boolean) => {
    const { value, expandedUncertainty } = cell.computed;
    const color = isOut(cell) ? brick : ink;
    doc.lineWidth(0.7).strokeColor(color).fillColor(color);
    doc
      .moveTo(at(value - expandedUncertainty), y + dy)
      .lineTo(at(value + expandedUncertainty), y + dy)
      .stroke();
    if (filled) doc.circle(at(value), y + dy, 2.4).fill(color);
    else doc.circle(at(value), y + dy, 2.6).fillAndStroke('#ffffff', color);
  };
  if (found && left)
    doc
      .lineWidth(0.7)
      .strokeColor(ink)
      .moveTo(at(found.computed.value), y - 3)
      .lineTo(at(left.computed.value), y + 3)
      .stroke();
  if (found) mark(found, left ? -3 : 0, false);
  if (left) mark(left, 3, true);
}

type Column = { title: string; text: (row: CertificateRow) => string; color?: (row: CertificateRow) => string };
type Placed = Column & { x: number; width: number; /** Where the decimal point stands, from x. */ pointX: number };

const tableSize = 8.5;
const gap = 9;
const [wholeOf, restOf] = [(t: string) => /^[−+-]?\d*/.exec(t)![0], (t: string) => t.slice(/^[−+-]?\d*/.exec(t)![0].length)];

/** Columns side by side, each as wide as what stands in it, decimal points under each other. */
function placed(doc: Doc, columns: readonly Column[], rows: readonly CertificateRow[], from: number): Placed[] {
  let x = from;
  const at = columns.map((column) => {
    doc.font('regular').fontSize(tableSize);
    const texts = rows.map((r) => printed(column.text(r)));
    const pointX = Math.max(0, ...texts.map((t) => doc.widthOfString(wholeOf(t))));
    const after = Math.max(0, ...texts.map((t) => doc.widthOfString(restOf(t))));
    doc.fontSize(7.5);
    const title = Math.max(...column.title.split('\n').map((t) => doc.widthOfString(t)));
    const width = Math.max(pointX + after, title);
    const here = { ...column, x, width, pointX };
    x += width + gap;
    return here;
  });
  // Columns that would run over the edge stand closer together.
  const over = x - gap - (pageWidth - margin);
  return over <= 0 ? at : at.map((c, i) => ({ ...c, x: c.x - (over * i) / Math.max(1, at.length - 1) }));
}

const printed = (text: string): string => text.replace(/(?<![\w-])-(?=\d)/g, '−');

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

const columnsOf = (table: CertificateTable): Column[] => {
  const { reference, value } = table.units;
  const withUnit = (title: string, unit: string) => (unit === '' || unit === '1' ? title : `${title}, ${unit}`);
  const cell = (side: 'found' | 'left', title: string): Column[] => {
    const of = (text: (c: CertificateCell) => string) => (row: CertificateRow) => (row[side] ? text(row[side]) : '');
    const color = (row: CertificateRow) => (row[side] && isOut(row[side]) ? brick : ink);
    return [
      ...(hasOwnReferences(table)
        ? [{ title: `${title}\n${withUnit('reference', reference)}`, text: of((c) => c.reference ?? '') }]
        : []),
      ...(table.rows.some((r) => r[side]?.indication)
        ? [
            {
              title: `${hasOwnReferences(table) ? '' : title}\n${withUnit('indication', reference)}`,
              text: of((c) => c.indication),
            },
          ]
        : []),
      {
        title: `${table.rows.some((r) => r[side]?.indication) ? '' : title}\n${withUnit(/^error\b/i.test(table.result) ? 'error' : 'value', value)}`,
        text: (row: CertificateRow) => (row[side] ? withSign(row[side].value, row.limits) : ''),
        color,
      },
      { title: withUnit('\nU', value), text: of((c) => c.expandedUncertainty) },
      ...(sameFactor(table) === null ? [{ title: '\nk', text: of((c) => c.coverageFactor) }] : []),
      ...(table.rows.some((r) => r[side]?.verdict)
        ? [{ title: '\nverdict', text: of((c) => (c.verdict ? shortVerdict[c.verdict] : '')), color }]
        : []),
    ];
  };
  return [
    ...(table.rows.some((r) => r.point && !table.series.startsWith(r.point))
      ? [{ title: '\npoint', text: (r: CertificateRow) => r.point }]
      : []),
    ...(table.rows.some((r) => r.sweep) ? [{ title: '\n', text: (r: CertificateRow) => r.sweep.toLowerCase() }] : []),
    ...(table.rows.some((r) => r.reference) && !hasOwnReferences(table)
      ? [{ title: `\n${withUnit('reference', reference)}`, text: (r: CertificateRow) => r.reference }]
      : []),
    ...(table.limits === '' && table.rows.some((r) => r.limits)
      ? [{ title: '\nlimits', text: (r: CertificateRow) => r.limitWords }]
      : []),
    ...(table.rows.some((r) => r.found) ? cell('found', 'As found') : []),
    ...(table.rows.some((r) => r.left) ? cell('left', 'As left') : []),
  ];
};

const isTwoSided = (limits: CertificateRow['limits']): limits is { lower: number; upper: number } =>
  limits !== null && limits.lower !== null && limits.upper !== null;

function tableHead(doc: Doc, columns: readonly Placed[], y: number): number {
  for (const c of columns) put(doc, c.title, c.x, y, { size: 7.5, color: soft, width: c.width + gap + 4, lineGap: 0 });
  line(doc, y + 22);
  return y + 27;
}

/** A strip narrower than this shows nothing. */
const leastStrip = 60;

function tableOf(doc: Doc, table: CertificateTable, y: number): number {
  const result = table.result.charAt(0).toLowerCase() + table.result.slice(1);
  const isNamed = table.rows.length > 0 && table.result !== 'Error' && table.result !== table.series;
  const title = [table.series, table.of, isNamed && result].filter(Boolean).join(': ');
  y = room(doc, y, 70);
  put(doc, title, margin, y, { font: 'bold', size: 10, width: width - 190 });
  const below = doc.y;
  const factor = sameFactor(table);
  const aside = [table.limits && `limits ${table.limits}`, factor && `k = ${factor}`].filter(Boolean).join('; ');
  if (table.rows.length && aside)
    put(doc, aside, margin + width - 180, y + 1.5, { size: 8.5, color: soft, width: 180, align: 'right' });
  y = below + 4;
  if (table.rows.length) {
    const columns = placed(doc, columnsOf(table), table.rows, margin);
    const last = columns.at(-1)!;
    const stripX = last.x + last.width + gap;
    const stripWidth = pageWidth - margin - stripX;
    y = tableHead(doc, columns, y);
    for (const row of table.rows) {
      const next = room(doc, y, 16);
      if (next !== y) y = tableHead(doc, columns, next);
      for (const c of columns) {
        const text = printed(c.text(row));
        doc
          .font(coverage.get(doc)!.regular.covers(text) ? 'regular' : 'wide')
          .fontSize(tableSize)
          .fillColor(c.color?.(row) ?? ink);
        doc.text(text, c.x + Math.max(0, c.pointX - doc.widthOfString(wholeOf(text))), y, { lineBreak: false });
      }
      if (isTwoSided(row.limits) && stripWidth > leastStrip)
        strip(doc, stripX, y + 5, stripWidth, row.limits, row.found, row.left);
      y += 15;
    }
    line(doc, y + 1);
    y += 6;
  }
  for (const entry of table.lines) y = lineOf(doc, entry, y);
  return y + 8;
}

/** A statistic or an answer on a line of its own. */
function lineOf(doc: Doc, entry: CertificateLine, y: number): number {
  y = room(doc, y, 14);
  const said = (side: CertificateLine['found'], title: string) =>
    side ? `${title}${printed(side.value)}${side.verdict ? ` (${verdictWords(side.verdict)})` : ''}` : '';
  const words = [
    said(entry.found, entry.left ? 'as found ' : ''),
    said(entry.left, 'as left '),
    entry.limitWords && `limits: ${entry.limitWords}`,
  ]
    .filter(Boolean)
    .join('; ');
  put(doc, entry.title, margin, y, { size: 8.5, width: 190 });
  const under = doc.y;
  put(doc, words, margin + 200, y, { size: 8.5, width: width - 200 });
  return Math.max(under, doc.y) + 2;
}

function results(doc: Doc, certificate: Certificate, y: number): number {
  const { asFound, asLeft, check } = certificate;
  for (const table of certificate.tables) y = tableOf(doc, table, y);
  if (certificate.tables.some((t) => t.rows.some((r) => isTwoSided(r.limits))))
    y =
      put(
        doc,
        'Hollow ring: as found. Filled dot: as left. The stem joins them; the whisker is U. Shaded: inside the limits.',
        margin,
        room(doc, y, 12),
        {
          size: 7.5,
          color: soft,
          width,
        },
      ) + 6;
  const said = (s: CertificateSet) =>
    `${s.title}: ${s.verdict ? verdictWords(s.verdict) : 'not judged as a whole'}.${s.incomplete ? ` ${s.incomplete}` : ''}${s.skipped.map((k) => ` ${k.what} not measured: ${k.reason}.`).join('')}`;
  y = room(doc, y, 40);
  for (const text of [said(asFound), asLeft ? said(asLeft) : certificate.asLeftStatement, ...(check ? [said(check)] : [])])
    y = put(doc, text, margin, y, { font: 'bold', size: 9.5, width }) + 1;
  return y + 7;
}

function paragraph(doc: Doc, title: string, text: string, y: number, under = 0): number {
  doc.font('regular').fontSize(9);
  y = room(doc, y, 16 + under + doc.heightOfString(text, { width: width - 110 }));
  put(doc, title, margin, y, { font: 'bold', size: 9, width: 104 });
  return Math.max(put(doc, text, margin + 110, y, { size: 9, width: width - 110 }), y + 11) + 5;
}

/** The certificate as a PDF on A4, with its fonts embedded. */
export async function certificatePdf(issued: IssuedCertificate): Promise<Buffer> {
  const certificate = presentCertificate(issued);
  const fonts = await loadFaces();
  const doc = new PDFDocument({
    size: 'A4',
    margin,
    bufferPages: true,
    info: {
      Title: `Calibration certificate ${certificate.number}`,
      Author: certificate.laboratory.name,
      CreationDate: new Date(`${certificate.issued}T12:00:00Z`),
    },
  });
  const chunks: Buffer[] = [];
  doc.on('data', (chunk: Buffer) => chunks.push(chunk));
  const ended = new Promise<void>((resolve) => doc.on('end', resolve));
  for (const [name, { data }] of Object.entries(fonts)) doc.registerFont(name, data);
  coverage.set(doc, fonts);

  put(doc, certificate.laboratory.name, margin, margin, { font: 'bold', size: 11, width: 300 });
  put(doc, certificate.laboratory.address, margin, doc.y + 1, { size: 9, color: soft, width: 300 });
  put(doc, 'Calibration certificate', margin + 250, margin, { size: 9, color: soft, width: width - 250, align: 'right' });
  put(doc, certificate.number, margin + 250, margin + 12, { font: 'mono', size: 16, width: width - 250, align: 'right' });
  let y = 96;
  line(doc, y, ink);
  y += 10;
  const column = width / 3;
  const { instrument, measured, persons } = certificate;
  const isNextStated = certificate.next.isStated !== false;
  const choices = certificate.procedure.choices.map((c): [string, string] => [c.title, c.value]);
  const ends = [
    facts(
      doc,
      [
        [
          'Instrument',
          [instrument.identification, instrument.serialNumber && `serial number ${instrument.serialNumber}`]
            .filter(Boolean)
            .join(', '),
        ],
        ['Make', instrument.designation],
        ['Owner', [certificate.owner, certificate.ownerAddress].filter(Boolean).join(', ')],
      ],
      margin,
      y,
      column - 12,
    ),
    facts(
      doc,
      [
        ['Range', instrument.range],
        ...(instrument.usedRange === instrument.range ? [] : [['Calibrated over', instrument.usedRange] as [string, string]]),
        ['Resolution', instrument.resolution],
        ...instrument.details.map((d): [string, string] => [d.title, d.value]),
      ],
      margin + column,
      y,
      column - 12,
    ),
    facts(
      doc,
      [
        ['Measured', measured.from === measured.to ? measured.from : `${measured.from} to ${measured.to}`],
        ...(certificate.received ? [['Received', certificate.received] as [string, string]] : []),
        ['Issued', certificate.issued],
        ...(isNextStated ? [['Next calibration', certificate.next.date] as [string, string]] : []),
        ...(certificate.place ? [['Place of use', certificate.place] as [string, string]] : []),
        ...choices,
      ],
      margin + 2 * column,
      y,
      column - 12,
    ),
  ];
  y = Math.max(...ends) + 4;
  line(doc, y);
  y = results(doc, certificate, y + 10);

  const conditions = (s: CertificateSet) => s.conditions.map((c) => `${c.title.toLowerCase()} ${c.value}`).join(', ');
  for (const s of certificate.standards)
    y = paragraph(
      doc,
      'Standard',
      `${[s.identification, s.designation].filter(Boolean).join(', ')}. Certificate ${s.certificate} of ${s.date}, ${s.issuer}${s.due ? `, due ${s.due}` : ''}. Results are traceable to the SI through this certificate.`,
      y,
    );
  const held = [
    certificate.asFound.conditions.length && `As found: ${conditions(certificate.asFound)}.`,
    certificate.asLeft?.conditions.length && `As left: ${conditions(certificate.asLeft)}.`,
  ].filter(Boolean);
  if (held.length)
    y = paragraph(
      doc,
      'Conditions',
      [...held, certificate.laboratory.conditionInstruments && `Read from: ${certificate.laboratory.conditionInstruments}`]
        .filter(Boolean)
        .join(' '),
      y,
    );
  y = paragraph(
    doc,
    'Procedure',
    `${certificate.procedure.title}, ${certificate.procedure.id} revision ${certificate.procedure.revision} (${certificate.procedure.sources.join('; ')}).`,
    y,
  );
  for (const a of certificate.adjustments) {
    const stored = a.stored.map((v) => `${v.title} ${v.before ? `${v.before} before, ` : ''}${v.after} after`).join('; ');
    y = paragraph(
      doc,
      'Adjustment',
      `${a.title} on ${a.at}${stored ? `: ${printed(stored)}` : ''}.${a.note ? ` ${a.note}` : ''}`,
      y,
    );
  }
  y = paragraph(doc, 'Uncertainty', certificate.coverageStatement, y);
  if (certificate.limitsFrom) y = paragraph(doc, 'Limits', certificate.limitsFrom, y);
  const last: [string, string][] = [
    ['Decision rule', certificate.decisionRule],
    ...(isNextStated ? [['Next date', `${certificate.next.date}: ${certificate.next.reason}`] as [string, string]] : []),
    ...(certificate.remarks.length ? [['Remarks', certificate.remarks.join('\n')] as [string, string]] : []),
  ];
  for (const [i, [title, text]] of last.entries())
    // The signatures never stand on a page alone: the last paragraph goes with them.
    y = paragraph(doc, title, text, y, i === last.length - 1 ? 60 : 0);

  y = room(doc, y + 6, 50);
  line(doc, y);
  facts(doc, [['Measured by', persons.measuredBy.join(', ')]], margin, y + 8, column - 12);
  facts(doc, [['Finished by', persons.finishedBy]], margin + column, y + 8, column - 12);
  facts(
    doc,
    [['Reviewed and signed by', persons.reviewedBy ? `${persons.reviewedBy}, ${persons.reviewedOn}` : 'not reviewed yet']],
    margin + 2 * column,
    y + 8,
    column - 12,
  );

  const pages = doc.bufferedPageRange().count;
  for (let i = 0; i < pages; i++) {
    doc.switchToPage(i);
    doc.page.margins.bottom = 0;
    const foot = `${certificate.number} · page ${i + 1} of ${pages} · The results relate only to this item. To be copied only whole.`;
    put(doc, foot, margin, pageHeight - 36, { size: 7.5, color: soft, width, align: 'center', lineBreak: false });
    if (!persons.reviewedBy)
      put(doc, 'Not yet reviewed', margin, 24, { font: 'bold', size: 9, color: brick, width, align: 'center', lineBreak: false });
  }
  doc.end();
  await ended;
  return Buffer.concat(chunks);
}
