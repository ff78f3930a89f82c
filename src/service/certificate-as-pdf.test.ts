import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { describe, expect, it } from 'vitest';
import { presentCertificate } from '../core/certificate/version-1';
import type { Database } from '../store/database';
import * as schema from '../store/schema';
import { certificateFor } from './certificate-service';
import type { CertificateTable } from '../core/certificate/certificate-tables';
import { readHead } from '../core/seal/seal';
import { sealText } from './seal-service';
import { certificatePdf } from './certificate-pdf/certificate-pdf';
import { joined } from './certificate-pdf/result-table';
import { refusalOf } from './fixtures/refusal-of';
import { ownCopy } from './fixtures/own-copy';

let db: Database;
ownCopy((opened) => (db = opened));

describe('the certificate as PDF', () => {
  async function textOf(pdf: Buffer): Promise<{ text: string; pages: number; size: number[] }> {
    const document = await getDocument({ data: new Uint8Array(pdf), useSystemFonts: false, verbosity: 0 }).promise;
    const pages = await Promise.all(Array.from({ length: document.numPages }, (_, i) => document.getPage(i + 1)));
    const texts = await Promise.all(
      pages.map(async (p) =>
        // Words come one by one, with the blanks between them; a line ends with none.
        (await p.getTextContent()).items
          .map((item) => ('str' in item ? `${item.str}${item.hasEOL ? ' ' : ''}` : ''))
          .join('')
          .replace(/\s+/g, ' '),
      ),
    );
    return { text: texts.join(' '), pages: pages.length, size: pages[0]!.view };
  }
  it('prints on A4 what the JSON carries, with its fonts embedded', async () => {
    const adjusted = (await db.select().from(schema.runs)).find(
      (r) => r.summary?.adjusted && r.procedureId === 'outside-micrometer' && r.isReviewed,
    )!;
    const issued = await certificateFor(adjusted.id);
    const certificate = presentCertificate(issued);
    const pdf = await certificatePdf(issued);
    const { text, size, pages } = await textOf(pdf);
    expect(size.map(Math.round)).toEqual([0, 0, 595, 842]);
    expect(pages).toBeLessThanOrEqual(2);
    expect(pdf.toString('latin1')).toContain('/FontFile');
    for (const { reference, found, left } of certificate.tables.flatMap((t) => t.rows))
      for (const number of [
        reference,
        ...[found!, left!].flatMap((c) => [c.indication, c.value, c.expandedUncertainty, c.coverageFactor]),
      ])
        expect(text).toContain(number.replace('-', '−'));
    for (const word of [
      certificate.number,
      certificate.standards[0]!.certificate,
      certificate.persons.reviewedBy!,
      certificate.next.date,
      certificate.laboratory.name,
    ])
      expect(text).toContain(word);
    expect(text).toMatch(/[µμ]m/);
  });
  it('carries the seal of its record, as a line and as a code', async () => {
    const run = (await db.select().from(schema.runs)).find((r) => r.isReviewed && r.certificate)!;
    const seal = (await sealText(run.id, run.certificate!))!;
    expect(readHead(seal)).not.toBeNull();
    const { text } = await textOf(await certificatePdf(await certificateFor(run.id), seal));
    expect(text.replace(/\s/g, '')).toContain(seal.replace(/\s/g, ''));
  });
  it('sets names that its own face lacks, and says when nobody has signed', async () => {
    const run = (await db.select().from(schema.runs)).find((r) => r.status === 'finished' && !r.isReviewed)!;
    const certificate = { ...(await certificateFor(run.id)), owner: 'Łódź Ωmega Ж' };
    const { text } = await textOf(await certificatePdf(certificate));
    expect(text).toContain('Łódź Ωmega Ж');
    expect(text).toContain('Not yet reviewed');
  });
  it.each(['thermometer-in-bath', 'balance', 'pressure-transmitter'])(
    'prints a %s in its own unit, on as many pages as it needs',
    async (procedure) => {
      const run = (await db.select().from(schema.runs)).find((r) => r.summary?.adjusted && r.procedureId === procedure)!;
      const certificate = presentCertificate(await certificateFor(run.id));
      const { text, pages } = await textOf(await certificatePdf(certificate));
      expect(pages).toBeLessThanOrEqual(2);
      for (const word of [
        certificate.instrument.range,
        ...certificate.tables.map((t) => t.series),
        certificate.adjustments[0]!.title,
      ])
        expect(text).toContain(word);
      expect(text).not.toMatch(/[µμ]m\b/);
    },
  );
  it('breaks a long table over pages: its headings go with it, no line is parted, signatures never stand alone', async () => {
    const run = (await db.select().from(schema.runs)).find((r) => r.summary?.adjusted && r.procedureId === 'balance')!;
    const certificate = presentCertificate(await certificateFor(run.id));
    const table = certificate.tables.at(-1)!;
    for (const count of [40, 90, 150]) {
      const rows = Array.from({ length: count }, (_, i) => ({ ...table.rows[i % 5]!, point: `load ${i + 1}` }));
      const pdf = await certificatePdf({ ...certificate, tables: [{ ...table, lines: [], rows }] });
      const document = await getDocument({ data: new Uint8Array(pdf), useSystemFonts: false, verbosity: 0 }).promise;
      const pages = await Promise.all(
        Array.from({ length: document.numPages }, async (_, i) => {
          const { items } = await (await document.getPage(i + 1)).getTextContent();
          const placed = items.flatMap((item) => ('str' in item && item.str.trim() ? [item] : []));
          // Nothing stands over the edges of the paper.
          for (const { transform, width } of placed) {
            expect(transform[4]).toBeGreaterThan(40);
            expect(Number(transform[4]) + width).toBeLessThan(595 - 40);
            expect(transform[5]).toBeGreaterThan(20);
          }
          return items.map((item) => ('str' in item ? `${item.str}${item.hasEOL ? ' ' : ''}` : '')).join('');
        }),
      );
      const loads = pages.map((text) => [...text.matchAll(/load (\d+)/g)].map((m) => Number(m[1])));
      expect(loads.flat()).toEqual(rows.map((_, i) => i + 1));
      for (const [i, text] of pages.entries()) if (loads[i]!.length) expect(text).toMatch(/As found.*As left.*indication, g/s);
      expect(pages.at(-1)).toMatch(/(Remarks|Next date|Decision rule).*Measured by/s);
    }
  });
  it('tells positions with one row each in one table', () => {
    const row = { point: '', sweep: '', reference: '', limits: null, limitWords: '', found: null, left: null };
    const one = (of: string, lines: CertificateTable['lines'] = [], limits = '±1 mm'): CertificateTable => ({
      series: 'Height',
      of,
      result: 'Height',
      units: { reference: '', value: 'mm' },
      limits,
      rows: [{ ...row, point: 'Height' }],
      lines,
    });
    const rowsOf = (tables: CertificateTable[]) => joined(tables).map((t) => t.rows.map((r) => r.point));
    expect(rowsOf([one('A'), one('B'), one('C')])).toEqual([['A', 'B', 'C']]);
    // Other limits, or a statistic of its own, keep a table apart.
    expect(rowsOf([one('A'), one('B', [], '±2 mm')])).toEqual([['Height'], ['Height']]);
    expect(rowsOf([one('A'), one('B', [{ title: 'Tilt', limitWords: '', found: null, left: null }])])).toEqual([
      ['Height'],
      ['Height'],
    ]);
  });
  it('does not exist for an open run', async () =>
    expect(
      await refusalOf(certificateFor((await db.select().from(schema.runs)).find((r) => r.status === 'open')!.id)),
    ).toMatchObject({ status: 409 }));
});
