import type { Certificate } from '../src/core/certificate/certificate';
import { drive, start, type Hand, type Shows } from './drive';
import { expect, test } from './server';

/** The point that a sentence asks for: the value before its colon, else the first in the unit. */
const nominalIn = (sentence: string, unit: string): number => {
  const value = `([−-]?[\\d.]+) (?:${unit})`;
  const found = new RegExp(`${value}:`).exec(sentence) ?? new RegExp(value).exec(sentence);
  return Number((found?.[1] ?? '0').replace('−', '-'));
};
const decimals: Record<string, number> = { '6 V': 3, '60 V': 2, '600 V': 1, '60 mA': 2, '6 kΩ': 3 };

type Family = {
  instrument: string;
  readings: number;
  shows: Shows;
  measured?: string;
  air?: string;
  /** As found; what was adjusted passes as left. */ verdict?: string;
  unit: string;
  adjustment?: string;
};

const families: Family[] = [
  {
    instrument: 'qm-0140',
    readings: 30 + 30,
    unit: 'µm',
    air: '20,4',
    measured: '1',
    adjustment: 'Set the zero',
    shows: (sentence, isAdjusted) => (nominalIn(sentence, 'mm') + (isAdjusted ? 0 : 0.006)).toFixed(3).replace('.', ','),
  },
  {
    instrument: 'qt-12',
    // The bath is set and judged again as left.
    readings: 2 * (15 + 36),
    unit: 'K',
    adjustment: 'Offset at the indicator',
    shows: (sentence, isAdjusted) => {
      const bath = nominalIn(sentence, '°C') + 0.004;
      return sentence.includes('reference') ? bath.toFixed(3).replace('.', ',') : (bath + (isAdjusted ? 0 : 0.19)).toFixed(2);
    },
  },
  {
    instrument: 'qb-03',
    readings: 2 * (24 + 5 + 10),
    unit: 'g',
    adjustment: 'Adjust the sensitivity',
    shows: (sentence, isAdjusted) => {
      if (sentence.includes('empty')) return '0.000';
      const load = nominalIn(sentence, 'g') || 70;
      return (sentence.startsWith('0 g') ? 0 : load * (isAdjusted ? 1 : 1.000022)).toFixed(3);
    },
  },
  {
    instrument: 'qp-22',
    readings: 20 + 20,
    unit: '%',
    adjustment: 'Zero and span, computed from the line',
    shows: (sentence, isAdjusted) => {
      const kPa = nominalIn(sentence, 'kPa');
      return sentence.includes('pressure') ? kPa.toFixed(2) : (4 + (16 * kPa) / 300 + (isAdjusted ? 0 : 0.035)).toFixed(3);
    },
  },
  {
    instrument: 'qc-34',
    // Outside at both places, two rings inside, the depth: the ring is proposed, since it goes with the blocks.
    readings: 2 * 5 * 2 + 2 * 3 + 2 * 2,
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
    readings: 2 + 3 * 8 + 3 * 2 + 3,
    unit: 'mm',
    measured: '80',
    shows: (sentence) => {
      if (sentence.includes('level')) return '0.20';
      if (sentence.includes('height')) return '25.10';
      if (sentence.includes('mark') || sentence.includes('quarter')) return '5.00';
      const isCentring = /Upper|Lower/.test(sentence);
      return sentence.includes('greatest') ? (isCentring ? '5.40' : '1.20') : isCentring ? '4.60' : '1.00';
    },
  },
  {
    instrument: 'qh-09',
    measured: '20,5',
    readings: 16,
    unit: '%',
    shows: (sentence) => (sentence.includes('solution') ? '22.60' : sentence.includes('magnesium') ? '33.0' : '75.4'),
  },
  {
    instrument: 'qw-02',
    readings: 4 * 12,
    unit: 'mg',
    // A kelvin from the air beside the comparator.
    measured: '1',
    // The standards of the works are good enough for M1, the class of last time, which is proposed again.
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
    // Zero of five ranges, direct voltage, five places of the alternating one, current, resistance.
    readings: 5 + 2 * (3 * 4 + 5 + 4 + 3),
    unit: 'V',
    measured: '11',
    // A zero has no place behind its range.
    shows: (sentence) =>
      (/, Zero/.test(sentence) ? 0 : /Nine tenths/.test(sentence) ? 540 : nominalIn(sentence, 'V|mA|kΩ')).toFixed(
        decimals[/^[^,:]+/.exec(sentence)![0]]!,
      ),
  },
  {
    instrument: 'qg-03',
    // With haze, as last time.
    readings: 2 * 4 + 3 * 3,
    unit: '',
    measured: '92.8',
    shows: (sentence) =>
      sentence.startsWith('20°') ? '87.2' : sentence.startsWith('60°') ? '92.8' : sentence.startsWith('Haze') ? '12.4' : '52.4',
  },
];

/** By keys every family; by fingers each on one of the two glasses, in turn. */
const devices: { title: string; hand: Hand; use: Parameters<typeof test.use>[0]; which: (i: number) => boolean }[] = [
  { title: 'by keyboard alone', hand: 'keys', use: {}, which: () => true },
  {
    title: 'on a tablet held upright',
    hand: 'fingers',
    use: { viewport: { width: 800, height: 1180 }, hasTouch: true, isMobile: true },
    which: (i) => i % 2 === 0,
  },
  {
    title: 'on a phone',
    hand: 'fingers',
    use: { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true },
    which: (i) => i % 2 === 1,
  },
];

for (const { title, hand, use, which } of devices)
  test.describe(title, () => {
    test.use(use);
    for (const family of families.filter((_, i) => which(i))) {
      const { instrument, readings, unit, shows, measured, air, verdict = 'pass', adjustment } = family;
      test(`${instrument}, from its start to its certificate, ${title}`, { tag: '@long' }, async ({ page, request, server }) => {
        test.setTimeout(180_000);
        const run = await start(page, hand, server, instrument);
        expect(await drive(page, hand, shows, { ...(measured && { measured }), ...(air && { air }) })).toBe(readings);
        const certificate = (await (await request.get(`/api/runs/${run}/certificate.json`)).json()) as Certificate;
        expect(certificate.asFound.incomplete).toBeNull();
        expect(certificate.adjustments.map((a) => a.title)).toEqual(adjustment ? [adjustment] : []);
        if (adjustment) expect(certificate.asLeft!.verdict).toBe('pass');
        else {
          expect(certificate.asFound.verdict).toBe(verdict);
          expect(certificate.remarks.every((r) => r.includes('ended early'))).toBe(true);
        }
        const judged = certificate.tables.filter((t) => t.rows.some((r) => r.limits));
        expect(judged.map((t) => t.units.value)).toContain(unit);
        const pdf = await request.get(`/api/runs/${run}/certificate.pdf`);
        expect((await pdf.body()).byteLength).toBeGreaterThan(10_000);
        if (!adjustment || hand !== 'keys') return;
        // The record shows what the certificate says: each value as left stands on the sheet with its uncertainty.
        const row = judged[0]!.rows[0]!;
        await expect(page.getByText(row.left!.value.replace('-', '−'), { exact: false }).first()).toBeVisible();
        expect(pdf.headers()['content-type']).toBe('application/pdf');
        await page.goto(`${server.url}/instruments/${instrument}`);
        await expect(page.getByText(certificate.next.date).first()).toBeVisible();
      });
    }
  });
