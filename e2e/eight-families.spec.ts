import type { Certificate } from '../src/core/certificate/certificate';
import { driveByKeyboard, startByKeyboard, type Shows } from './drive';
import { expect, test } from './server';

const nominalIn = (sentence: string, unit: string): number =>
  Number((new RegExp(`([−\\d.]+) (?:${unit}):`).exec(sentence)?.[1] ?? '0').replace('−', '-'));
const decimals: Record<string, number> = { '6 V': 3, '60 V': 2, '600 V': 1, '60 mA': 2, '6 kΩ': 3 };

const families: { instrument: string; readings: number; shows: Shows; measured?: string; verdict?: string; unit: string }[] = [
  {
    instrument: 'qc-34',
    // No ring is taken unless somebody chooses one.
    readings: 2 * 5 * 2 + 2 * 2,
    unit: 'mm',
    shows: (sentence) => nominalIn(sentence, 'mm').toFixed(2).replace('.', ','),
  },
  {
    instrument: 'qr-06',
    readings: 3 + 3 * 5,
    unit: '%',
    shows: (sentence) =>
      ({ Fine: '0.412', Middle: '2.97', Coarse: '10.14' })[/^(Fine|Middle|Coarse)/.exec(sentence)?.[1] ?? ''] ?? '0.390',
  },
  {
    instrument: 'ha-st-2',
    readings: 2 + 3 * 6 + 3 * 2 + 3,
    unit: 'mm',
    measured: '80',
    shows: (sentence) => {
      if (sentence.includes('level')) return '0.20';
      if (sentence.includes('height')) return '25.10';
      if (sentence.includes('mark')) return '5.00';
      const isCentring = /Upper|Lower/.test(sentence);
      return sentence.includes('greatest') ? (isCentring ? '5.40' : '1.20') : isCentring ? '4.60' : '1.00';
    },
  },
  {
    instrument: 'qh-09',
    readings: 16,
    unit: '%',
    shows: (sentence) => (sentence.includes('solution') ? '22.60' : sentence.includes('magnesium') ? '33.0' : '75.4'),
  },
  {
    instrument: 'qw-02',
    readings: 4 * 12,
    unit: 'mg',
    // The standards of the works are good enough for M1, not for F1, which is chosen unless somebody chooses another.
    verdict: 'not-determined',
    shows: (sentence) => nominalIn(sentence, 'g').toFixed(5),
  },
  {
    instrument: 'qs-04',
    readings: 6 + 3 + 3,
    unit: 'dB',
    shows: (sentence) => {
      if (sentence.startsWith('Frequency')) return '1000.20';
      if (sentence.startsWith('Total')) return '0.80';
      return sentence.includes('reference') ? '94.01' : '93.99';
    },
  },
  {
    instrument: 'qe-13',
    readings: 2 * (3 * 4 + 3 + 4 + 3),
    unit: 'V',
    shows: (sentence) => nominalIn(sentence, 'V|mA|kΩ').toFixed(decimals[/^[^,]+/.exec(sentence)![0]]!),
  },
  {
    instrument: 'qg-03',
    readings: 2 * 4 + 3,
    unit: '',
    measured: '92.8',
    shows: (sentence) =>
      sentence.startsWith('20°') ? '87.2' : sentence.startsWith('60°') ? '92.8' : sentence.startsWith('Haze') ? '12.4' : '52.4',
  },
];

for (const { instrument, readings, unit, shows, measured, verdict = 'pass' } of families)
  test(`${instrument}, from its start to its certificate, by keyboard alone`, async ({ page, request, server }) => {
    test.setTimeout(120_000);
    const run = await startByKeyboard(page, server, instrument);
    expect(await driveByKeyboard(page, shows, measured)).toBe(readings);
    const certificate = (await (await request.get(`/api/runs/${run}/certificate.json`)).json()) as Certificate;
    expect(certificate.asFound.verdict).toBe(verdict);
    expect(certificate.asFound.incomplete).toBeNull();
    expect(certificate.remarks.every((r) => r.includes('ended early'))).toBe(true);
    const judged = certificate.tables.filter((t) => t.rows.some((r) => r.limits));
    expect(judged.map((t) => t.units.value)).toContain(unit);
    const pdf = await request.get(`/api/runs/${run}/certificate.pdf`);
    expect((await pdf.body()).byteLength).toBeGreaterThan(10_000);
  });
