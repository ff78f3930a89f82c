import type { Page } from '@playwright/test';
import type { Certificate } from '../src/core/certificate/certificate';
import { expect, test, type TestServer } from './server';

/** What the instrument on the bench shows, by the sentence that asks for it; after an adjustment without its error. */
type Shows = (sentence: string, isAdjusted: boolean) => string;

const conditions: Record<string, string> = { air: '21,5', pressure: '1003', humidity: '45' };
const now = (page: Page) => page.getByRole('region', { name: 'Now' });

/** Does with keys alone what the run asks for, whatever it is, until its record is there. @returns how many readings were typed */
async function driveByKeyboard(page: Page, shows: Shows): Promise<number> {
  let [typed, isAdjusted] = [0, false];
  const enter = async (text: string) => {
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  for (let act = 0; act < 400; act++) {
    if (await page.getByRole('link', { name: 'As JSON' }).isVisible()) return typed;
    if (!(await now(page).getByRole('heading').first().isVisible())) {
      // A panel is on its way, or the run is finished and the page makes its record.
      await expect(
        now(page)
          .getByRole('heading')
          .or(page.getByRole('link', { name: 'As JSON' }))
          .first(),
      ).toBeVisible();
      continue;
    }
    const before = await now(page).innerHTML();
    const sentence = (await now(page).getByRole('heading').first().textContent()) ?? '';
    const text = (await now(page).textContent()) ?? '';
    const inputs = now(page).locator('input[data-keys]');
    const count = await inputs.count();
    if (text.includes('This is what it says')) {
      await expect(inputs.first()).toBeFocused();
      // Nothing is told before something was read; another thing is refused, and what is typed next replaces it.
      await enter('something else');
      const refusal = await now(page).getByRole('alert').textContent();
      await enter(/The record says (.*?)(?: or .*)?, not/.exec(refusal!)![1]!);
    } else if (sentence.startsWith('Conditions'))
      for (let i = 0; i < count; i++) await enter(conditions[(await inputs.nth(i).getAttribute('name'))!]!);
    else if (text.includes('End it early')) {
      await now(page).getByRole('button', { name: 'End it early' }).focus();
      await page.keyboard.press('Enter');
      await expect(now(page).getByRole('heading', { name: /why end it early/ })).toBeVisible();
      await page.keyboard.press('1');
    } else if (text.includes('Record the adjustment')) {
      for (const proposed of await now(page).locator('legend').allTextContents()) {
        await enter('0');
        await enter(/proposed ([−\d.]+)/.exec(proposed)?.[1]?.replace('−', '-') ?? '0');
      }
      if (count === 0) await page.keyboard.press('Enter');
      isAdjusted = true;
    } else if (count > 0) {
      await expect(inputs.first()).toBeFocused();
      const isReading = text.includes('Take the reading');
      await enter(isReading ? shows(sentence, isAdjusted) : '150');
      if (isReading) typed++;
    } else {
      await expect(now(page).locator('button[data-keys]').first()).toBeFocused();
      await page.keyboard.press('Enter');
    }
    await expect
      .poll(
        async () => (await page.getByRole('link', { name: 'As JSON' }).isVisible()) || (await now(page).innerHTML()) !== before,
      )
      .toBe(true);
  }
  throw new Error('The run did not come to its end.');
}

async function startByKeyboard(page: Page, server: TestServer, instrument: string): Promise<string> {
  await page.goto(`${server.url}/instruments/${instrument}?start`);
  await page.getByRole('button', { name: 'Put it on the bench' }).focus();
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/runs\//);
  await expect(page.locator('astro-island[ssr]')).toHaveCount(0);
  return page.url().split('/').at(-1)!;
}

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
