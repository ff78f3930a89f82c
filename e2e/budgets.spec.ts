import { readFileSync, writeFileSync } from 'node:fs';
import { awake, expect, test } from './server';

test(
  'a budget is written, checked while typing, compared with Monte Carlo, saved, exported and taken in again',
  { tag: '@long' },
  async ({ page, server }, info) => {
    await page.goto(`${server.url}/budgets`);
    await page.getByRole('link', { name: 'A new budget' }).click();
    await page.waitForURL(/\/budgets\/new/);
    await awake(page);
    const model = page.getByLabel(/^Model/);
    await expect(page.getByTestId('reported')).toContainText('Y = 10.0013 mm');
    await model.fill('x + * d');
    await expect(page.getByText('"*" cannot stand here.')).toBeVisible();
    await expect(page.locator('mark')).toHaveText('*');
    await expect(page.getByText('The result appears here as soon as')).toBeVisible();
    await model.fill('x + q');
    await expect(page.getByText('The model uses "q"')).toBeVisible();
    await model.fill('x * (1 + a*t)');
    // A sentence opens its input beneath the equation, as a term does.
    const open = (symbol: string) =>
      page.getByRole('list', { name: 'Inputs' }).getByRole('button', { name: new RegExp(`^${symbol} `) });
    await page.locator('.term', { hasText: 'x' }).click();
    await expect(page.getByRole('region', { name: 'Input x' })).toBeVisible();
    await open('d').click();
    await page.getByRole('button', { name: 'Remove d', exact: true }).click();
    for (const [i, [symbol, half]] of [
      ['a', '1,15e-5'],
      ['t', '0,5'],
    ].entries()) {
      await page.getByRole('button', { name: 'An input' }).click();
      await page.getByLabel(`Symbol of quantity ${i + 2}`).fill(symbol!);
      await page.getByLabel(`value of ${symbol}`).fill(i === 0 ? half! : '0');
      await page.getByLabel(`± of ${symbol}`).fill(i === 0 ? '-1e-6' : half!);
    }
    await expect(page.getByText('A half-width cannot be negative')).toBeVisible();
    await open('a').click();
    await page.getByLabel('± of a').fill('1e-6');
    await expect(page.getByText('The slope for "a" is zero')).toBeVisible();
    await page.getByLabel('Limit that it is to serve').fill('1');
    await expect(page.getByRole('region', { name: 'Against the limit' })).toContainText(/U takes [\d.]+ % of the limit/);
    await page.getByLabel('Budget', { exact: true }).fill('Length of a pipe');

    await page.getByRole('button', { name: 'Run 1 000 000 trials' }).click();
    await expect(page.getByTestId('validation')).toBeVisible({ timeout: 60_000 });
    await expect(page.getByRole('img', { name: /Distribution of 1000000 trials in 128 classes/ })).toBeVisible();
    await expect(page.getByTestId('validation')).toContainText(
      /good enough is at most [\d.]+ .*half a step of digit 2 of u \(JCGM 101, 8\.1\)/,
    );

    await page.getByRole('button', { name: 'Save' }).click();
    await page.waitForURL(/\/budgets\/[0-9a-f-]{36}$/);
    const shown = await page.getByTestId('reported').textContent();
    await page.reload();
    await expect(page.getByTestId('reported')).toHaveText(shown!);
    await open('a').click();
    await expect(page.getByLabel('value of a')).toHaveValue('0.0000115');

    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'As document' }).click(),
    ]);
    const file = info.outputPath('budget.json');
    await download.saveAs(file);
    expect(download.suggestedFilename()).toBe('Length of a pipe.json');
    expect(JSON.parse(readFileSync(file, 'utf8'))).toMatchObject({
      format: 'just-twice/budget',
      version: 1,
      model: 'x * (1 + a*t)',
    });
    await page.goto(`${server.url}/budgets`);
    await page.getByLabel('Take in a document').setInputFiles(file);
    await page.waitForURL(/\/budgets\/[0-9a-f-]{36}$/);
    await expect(page.getByTestId('reported')).toHaveText(shown!);
    const broken = info.outputPath('broken.json');
    writeFileSync(
      broken,
      '{"format":"just-twice/budget","version":1,"name":"x","output":{"symbol":"Y","unit":""},"model":"a","quantities":[{"symbol":"a","unit":"","distribution":{"type":"rectangular","mean":0,"halfWidth":-1}}]}',
    );
    await page.goto(`${server.url}/budgets`);
    await page.getByLabel('Take in a document').setInputFiles(broken);
    await expect(
      page.getByText('A half-width cannot be negative: give its magnitude. (at quantities · 0 · distribution · halfWidth)'),
    ).toBeVisible();
  },
);

test('long work can be cancelled, and the trials are not drawn in the page', async ({ page, server }) => {
  await page.goto(`${server.url}/budgets/budget-1`);
  await page.getByRole('button', { name: /^Run/ }).click();
  await page.getByRole('button', { name: /^Cancel/ }).click();
  await expect(page.getByRole('button', { name: /^Run/ })).toBeVisible();
  await expect(page.getByTestId('validation')).toHaveCount(0);
  await page.evaluate(() => {
    const seen = ((window as unknown as { tasks: number[] }).tasks = []) as number[];
    new PerformanceObserver((list) => seen.push(...list.getEntries().map((e) => e.duration))).observe({
      entryTypes: ['longtask'],
    });
  });
  const started = Date.now();
  await page.getByRole('button', { name: /^Run/ }).click();
  // Two nearly rectangular contributions: their sum is a trapezoid, which first order takes for a bell.
  await expect(page.getByTestId('validation')).toContainText('not good enough', { timeout: 60_000 });
  const took = Date.now() - started;
  const blocked = await page.evaluate(() => (window as unknown as { tasks: number[] }).tasks.reduce((a, b) => a + b, 0));
  // A share, not a time: a busy machine stretches both. Trials drawn in the page would block it for nearly all of it.
  expect(blocked / took).toBeLessThan(0.25);
});

test("a run's result opens as a budget with its actual numbers", async ({ page, server }) => {
  await page.goto(`${server.url}/instruments/qm-0131`);
  await page
    .getByRole('link', { name: /^C\d\d-/ })
    .first()
    .click();
  await page.waitForURL(/\/runs\//);
  await awake(page);
  await page.getByRole('row', { name: /20.2/ }).getByRole('button').first().click();
  const heading = await page.getByRole('heading', { level: 2, name: /20.2 mm, as (found|left): error/ }).textContent();
  await page.getByRole('link', { name: 'Open as a budget' }).click();
  await expect(page.getByLabel('Budget', { exact: true })).toHaveValue(/QM-0131, Error, 20.2 mm, as (found|left)/);
  const U = Number(/U ([\d.]+) µm/.exec(heading!)![1]) / 1000;
  const shown = Number(/U = ([\d.]+) mm/.exec((await page.getByRole('region', { name: 'Result' }).textContent())!)![1]);
  expect(Math.abs(shown - U)).toBeLessThan(0.00006);
});

test('every published example agrees in this browser', { tag: '@long' }, async ({ page, server }) => {
  await page.goto(`${server.url}/proof`);
  await expect(page.getByRole('status').first()).toHaveText(/All \d+ agree/, { timeout: 90_000 });
  await expect(page.locator('tbody tr td:last-child').filter({ hasText: /^\s*no\s*$/ })).toHaveCount(0);
  await expect(page.getByText('JCGM 100:2008, H.1 (end-gauge calibration)')).toBeVisible();
  await expect(page.getByRole('cell', { name: '50000838 nm', exact: true }).first()).toBeVisible();
  await expect(page.getByText(/^Just Twice \d+\.\d+\.\d+ · 20/)).toBeVisible();
  await expect(
    page.getByRole('heading', { level: 2, name: /^Functions that procedures may call: all 187 values agree$/ }),
  ).toBeVisible();
  await expect(
    page.getByRole('heading', { level: 2, name: /^Shares still inside, seen at intervals: all 8 values agree$/ }),
  ).toBeVisible();
});
