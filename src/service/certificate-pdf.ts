import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { create as createFont, type Font } from 'fontkit';
import PDFDocument from 'pdfkit';
import { verdictWords, type Certificate, type CertificatePoint, type CertificateSet } from '../core/certificate/certificate';

const ink = '#1d2a30';
const soft = '#51606a';
const rule = '#c9c2b0';
const brick = '#9c2f22';
const margin = 48;
const pageWidth = 595.28;
const pageHeight = 841.89;
const width = pageWidth - 2 * margin;

const faces = {
  regular: '@fontsource/b612/files/b612-latin-400-normal.woff',
  bold: '@fontsource/b612/files/b612-latin-700-normal.woff',
  mono: '@fontsource/b612-mono/files/b612-mono-latin-400-normal.woff',
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

/** The pair on the strip: hollow ring as found, filled dot as left, a stem between, drawn to the scale of the tolerance. */
function strip(
  doc: Doc,
  x: number,
  y: number,
  w: number,
  limit: number,
  found: CertificatePoint | undefined,
  left: CertificatePoint | undefined,
): void {
  const centre = x + w / 2;
  const unit = w / 3 / limit; // the strip shows one and a half times the tolerance on each side
  const at = (error: number) => Math.max(x, Math.min(x + w, centre + error * unit));
  doc.rect(at(-limit), y - 6, at(limit) - at(-limit), 12).fill('#efeadb');
  doc.lineWidth(0.5).strokeColor(soft);
  for (const edge of [-limit, 0, limit])
    doc
      .moveTo(at(edge), y - 6)
      .lineTo(at(edge), y + 6)
      .stroke();
  const mark = (point: CertificatePoint, dy: number, filled: boolean) => {
    const { error, expandedUncertainty } = point.computed;
    const color = Math.abs(error) > limit ? brick : ink;
    doc.lineWidth(0.7).strokeColor(color).fillColor(color);
    doc
      .moveTo(at(error - expandedUncertainty), y + dy)
      .lineTo(at(error + expandedUncertainty), y + dy)
      .stroke();
    if (filled) doc.circle(at(error), y + dy, 2.4).fill(color);
    else doc.circle(at(error), y + dy, 2.6).fillAndStroke('#ffffff', color);
  };
  if (found && left)
    doc
      .lineWidth(0.7)
      .strokeColor(ink)
      .moveTo(at(found.computed.error), y - 3)
      .lineTo(at(left.computed.error), y + 3)
      .stroke();
  if (found) mark(found, left ? -3 : 0, false);
  if (left) mark(left, 3, true);
}

type Column = { title: string; width: number; value: (p: CertificatePoint) => string };

/** Decimal points stand under each other: each number is set around its column's point. */
function decimal(doc: Doc, number: string, pointX: number, y: number, color: string): void {
  const text = number.replace('-', '−');
  const [whole] = text.split('.') as [string];
  doc.font('regular').fontSize(8.5).fillColor(color);
  doc.text(text, pointX - doc.widthOfString(whole), y, { lineBreak: false });
}

function results(doc: Doc, certificate: Certificate, y: number): number {
  const { asFound, asLeft, units } = certificate;
  const foundBy = new Map(asFound.points.map((p) => [p.nominal, p]));
  const leftBy = new Map((asLeft?.points ?? []).map((p) => [p.nominal, p]));
  const nominals = [...new Set([...foundBy.keys(), ...leftBy.keys()])].sort((a, b) => Number(a) - Number(b));
  const set = (title: string): Column[] => [
    { title: `${title}\nindication`, width: 58, value: (p) => p.indication },
    { title: `\nerror`, width: 34, value: (p) => p.error },
    { title: '\nU', width: 28, value: (p) => p.expandedUncertainty },
    { title: '\nk', width: 34, value: (p) => p.coverageFactor },
  ];
  const found = set('As found');
  const left = asLeft ? set('As left') : [];
  const base = margin + 100;
  const leftX = base + found.reduce((s, c) => s + c.width, 0) + 4;
  const stripX = leftX + left.reduce((s, c) => s + c.width, 0) + (asLeft ? 8 : 4);
  const stripWidth = pageWidth - margin - stripX;

  put(doc, `Results (length in ${units.length}; error, U in ${units.error})`, margin, y, { font: 'bold', size: 10.5 });
  y += 18;
  const header = (text: string, x: number, w: number) => put(doc, text, x, y, { size: 7.5, color: soft, width: w, lineGap: 0 });
  header('\nnominal', margin, 44);
  header('\nreference', margin + 40, 60);
  const headers = (columns: Column[], start: number) => {
    let x = start;
    for (const c of columns) {
      header(c.title, x, c.width + 14);
      x += c.width;
    }
  };
  headers(found, base);
  headers(left, leftX);
  header(`limits ${certificate.tolerance.halfWidth}`, stripX, stripWidth);
  y += 22;
  line(doc, y);
  y += 5;
  for (const nominal of nominals) {
    const f = foundBy.get(nominal);
    const l = leftBy.get(nominal);
    decimal(doc, nominal, margin + 18, y, ink);
    decimal(doc, (f ?? l)!.reference, margin + 58, y, ink);
    const columns = (list: Column[], start: number, p: CertificatePoint | undefined) => {
      let at = start;
      for (const c of list) {
        if (p)
          decimal(
            doc,
            c.value(p),
            at + (c.title.includes('indication') ? 16 : 14),
            y,
            c.title.includes('error') && (p.verdict === 'fail' || p.verdict === 'conditional-fail') ? brick : ink,
          );
        at += c.width;
      }
    };
    columns(found, base, f);
    columns(left, leftX, l);
    strip(doc, stripX, y + 5, stripWidth, certificate.tolerance.value, f, l ?? (asLeft ? undefined : f));
    y += 16;
  }
  line(doc, y + 1);
  y += 7;
  y =
    put(
      doc,
      'Hollow ring: as found. Filled dot: as left. The stem joins them; the whisker is U. Shaded: inside the limits.',
      margin,
      y,
      { size: 7.5, color: soft, width },
    ) + 6;
  const said = (title: string, s: CertificateSet) =>
    `${title}: ${s.verdict ? verdictWords(s.verdict) : 'not complete'}.${s.skipped.map((k) => ` ${k.nominal} mm not measured: ${k.reason}.`).join('')}`;
  y = put(doc, said('As found', asFound), margin, y, { font: 'bold', size: 9.5, width });
  y =
    put(doc, asLeft ? said('As left', asLeft) : certificate.asLeftStatement, margin, y + 1, { font: 'bold', size: 9.5, width }) +
    8;
  return y;
}

function paragraph(doc: Doc, title: string, text: string, y: number): number {
  doc.font('regular').fontSize(9);
  y = room(doc, y, 16 + doc.heightOfString(text, { width: width - 110 }));
  put(doc, title, margin, y, { font: 'bold', size: 9, width: 104 });
  return Math.max(put(doc, text, margin + 110, y, { size: 9, width: width - 110 }), y + 11) + 5;
}

/** The certificate as a PDF on A4, with its fonts embedded. */
export async function certificatePdf(certificate: Certificate): Promise<Buffer> {
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
  const ends = [
    facts(
      doc,
      [
        ['Instrument', instrument.identification],
        ['Make', instrument.designation],
        ['Owner', certificate.owner],
      ],
      margin,
      y,
      column - 12,
    ),
    facts(
      doc,
      [
        ['Range', instrument.range],
        ['Calibrated over', instrument.calibratedRange],
        ['Resolution', instrument.resolution],
      ],
      margin + column,
      y,
      column - 12,
    ),
    facts(
      doc,
      [
        ['Measured', measured.from === measured.to ? measured.from : `${measured.from} to ${measured.to}`],
        ['Issued', certificate.issued],
        ['Next calibration', certificate.next.date],
      ],
      margin + 2 * column,
      y,
      column - 12,
    ),
  ];
  y = Math.max(...ends) + 4;
  line(doc, y);
  y = results(doc, certificate, y + 10);

  const temperatures = (s: CertificateSet) =>
    s.conditions.map((c) => `room ${c.room} °C, instrument ${c.instrument} °C, blocks ${c.standard} °C`).join('; ');
  for (const s of certificate.standards)
    y = paragraph(
      doc,
      'Standard',
      `${s.identification}, ${s.designation}. Certificate ${s.certificate} of ${s.date}, ${s.issuer}, due ${s.due}. Results are traceable to the SI through this certificate.`,
      y,
    );
  y = paragraph(
    doc,
    'Conditions',
    `As found: ${temperatures(certificate.asFound)}.${certificate.asLeft ? ` As left: ${temperatures(certificate.asLeft)}.` : ''} Errors are stated for 20 °C.`,
    y,
  );
  y = paragraph(
    doc,
    'Procedure',
    `${certificate.procedure.title}, ${certificate.procedure.id} revision ${certificate.procedure.revision} (${certificate.procedure.sources.join('; ')}).`,
    y,
  );
  if (certificate.adjustment) {
    const a = certificate.adjustment;
    y = paragraph(
      doc,
      'Adjustment',
      `${a.kind} on ${a.at}: indication ${a.before} before, ${a.after} after.${a.note ? ` ${a.note}` : ''}`,
      y,
    );
  }
  y = paragraph(doc, 'Uncertainty', certificate.coverageStatement, y);
  y = paragraph(doc, 'Decision rule', certificate.decisionRule, y);
  y = paragraph(doc, 'Next date', `${certificate.next.date}: ${certificate.next.reason}`, y);
  if (certificate.remarks.length) y = paragraph(doc, 'Remarks', certificate.remarks.join('\n'), y);

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
    const foot = `${certificate.number} · page ${i + 1} of ${pages} · This certificate may be copied only whole.`;
    put(doc, foot, margin, pageHeight - 36, { size: 7.5, color: soft, width, align: 'center', lineBreak: false });
    if (!persons.reviewedBy)
      put(doc, 'Not yet reviewed', margin, 24, { font: 'bold', size: 9, color: brick, width, align: 'center', lineBreak: false });
  }
  doc.end();
  await ended;
  return Buffer.concat(chunks);
}
