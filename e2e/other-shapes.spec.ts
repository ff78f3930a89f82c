import type { Certificate } from '../src/core/certificate/certificate';
import { driveByKeyboard, startByKeyboard, type Shows } from './drive';
import { expect, test } from './server';

const nominalIn = (sentence: string): number => Number(/(-?[\d.]+) (?:°C|g|kPa)/.exec(sentence)?.[1] ?? 0);

const shapes: { instrument: string; readings: number; unit: string; adjustment: string; shows: Shows }[] = [
  {
    instrument: 'qt-12',
    readings: 15 + 36 + 36,
    unit: 'K',
    adjustment: 'Offset at the indicator',
    shows: (sentence, isAdjusted) => {
      const bath = nominalIn(sentence) + 0.004;
      return sentence.includes('reference') ? bath.toFixed(3).replace('.', ',') : (bath + (isAdjusted ? 0 : 0.19)).toFixed(2);
    },
  },
  {
    instrument: 'qb-03',
    readings: 12 + 5 + 10 + 10,
    unit: 'g',
    adjustment: 'Adjust the sensitivity',
    shows: (sentence, isAdjusted) => {
      if (sentence.includes('empty')) return '0.000';
      const load = nominalIn(sentence) || 100;
      return (sentence.startsWith('0 g') ? 0 : load * (isAdjusted ? 1 : 1.000022)).toFixed(3);
    },
  },
  {
    instrument: 'qp-22',
    readings: 20 + 20,
    unit: '%',
    adjustment: 'Zero and span, computed from the line',
    shows: (sentence, isAdjusted) => {
      const kPa = nominalIn(sentence);
      return sentence.includes('pressure') ? kPa.toFixed(2) : (4 + (16 * kPa) / 300 + (isAdjusted ? 0 : 0.035)).toFixed(3);
    },
  },
];

for (const { instrument, readings, unit, adjustment, shows } of shapes)
  test(`${instrument}, from its start to its certificate, by keyboard alone`, async ({ page, request, server }) => {
    test.setTimeout(120_000);
    const run = await startByKeyboard(page, server, instrument);
    expect(await driveByKeyboard(page, shows)).toBe(readings);
    const certificate = (await (await request.get(`/api/runs/${run}/certificate.json`)).json()) as Certificate;
    expect(certificate.adjustments.map((a) => a.title)).toEqual([adjustment]);
    expect(certificate.asLeft!.verdict).toBe('pass');
    const judged = certificate.tables.filter((t) => t.rows.some((r) => r.limits));
    expect(judged[0]!.units.value).toBe(unit);
    // The record shows what the certificate says: each value as left stands on the sheet with its uncertainty.
    const row = judged[0]!.rows[0]!;
    await expect(page.getByText(row.left!.value.replace('-', '−'), { exact: false }).first()).toBeVisible();
    const pdf = await request.get(`/api/runs/${run}/certificate.pdf`);
    expect(pdf.headers()['content-type']).toBe('application/pdf');
    await page.goto(`${server.url}/instruments/${instrument}`);
    await expect(page.getByText(certificate.next.date).first()).toBeVisible();
  });
