import AxeBuilder from '@axe-core/playwright';
import { awake, expect, openRunOf, serve, test } from './server';

/** Opened by their instrument: ids of runs are nobody's business. */
const onBench = ['qm-0118', 'qm-0131', 'qt-11', 'qb-02', 'qp-21'];
const views = [
  '/',
  '/instruments',
  '/instruments/qm-0140',
  '/instruments/qm-0140/edit',
  '/instruments/new',
  '/standards',
  '/standards/gb-47',
  '/standards/new',
  '/standards/gb-47/edit',
  '/procedures',
  '/procedures/thermometer-in-bath',
  '/budgets',
  '/budgets/budget-1',
  '/proof',
  '/laboratory',
  '/standards/prt-3',
  '/instruments/qp-22',
  '/runs/00000000-0000-4000-8000-000000000063',
  '/runs/00000000-0000-4000-8000-000000000092',
  ...onBench,
];

for (const view of views)
  test(`${view} passes the accessibility checks, on a desk and on a tablet held upright`, async ({ page, server }) => {
    const errors: string[] = [];
    page.on('pageerror', (e) => errors.push(e.message));
    page.on('console', (m) => m.type() === 'error' && errors.push(m.text()));
    for (const size of [
      { width: 1280, height: 800 },
      { width: 820, height: 1180 },
    ]) {
      await page.setViewportSize(size);
      await page.goto(server.url + (onBench.includes(view) ? `/runs/${await openRunOf(server, view)}` : view));
      await page.waitForLoadState('networkidle');
      const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa']).analyze();
      expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
      expect(
        await page.evaluate(() => document.documentElement.scrollWidth - innerWidth),
        `${size.width} wide`,
      ).toBeLessThanOrEqual(0);
    }
    expect(errors).toEqual([]);
  });

test('the run fits 1280×800 without scrolling the page, and its targets suit a glove', async ({ page, server }) => {
  await page.goto(`${server.url}/runs/${await openRunOf(server, 'qm-0118')}`);
  await expect(page.getByRole('heading', { name: /12.9 mm: micrometer/ })).toBeVisible();
  expect(await page.evaluate(() => [document.documentElement.scrollHeight, document.documentElement.scrollWidth])).toEqual([
    800, 1280,
  ]);
  const last = await page.getByRole('rowheader', { name: '25.0' }).boundingBox();
  expect(last!.y + last!.height).toBeLessThan(800);
  const take = await page.getByRole('button', { name: 'Take the reading' }).boundingBox();
  expect(take!.height).toBeGreaterThanOrEqual(44);
  expect(
    Number.parseFloat(await page.getByLabel(/Micrometer in mm/).evaluate((e) => getComputedStyle(e).fontSize)),
  ).toBeGreaterThan(50);
});

test('the list of instruments finds and filters', async ({ page, server }) => {
  await page.goto(`${server.url}/instruments`);
  await page.getByRole('searchbox').fill('turbines');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row')).toHaveCount(4);
  await page.goto(`${server.url}/instruments?due=overdue`);
  await expect(page.getByRole('link', { name: 'FW-04' })).toBeVisible();
  await page.goto(`${server.url}/instruments?q=nothing-like-it`);
  await expect(page.getByText('No instrument fits.')).toBeVisible();
});

test('from an empty laboratory to the first run', async ({ page }) => {
  const server = await serve('empty');
  await page.context().clearCookies();
  await page.goto(server.url);
  await expect(page.getByRole('heading', { name: 'Three steps to the first calibration' })).toBeVisible();
  await page.getByRole('button', { name: 'Who is at the bench?' }).click();
  await page.getByLabel('Someone new').fill('Orla Brandt');
  await page.getByRole('button', { name: 'Add' }).click();
  await expect(page.getByRole('button', { name: 'Orla Brandt' }).first()).toBeVisible();

  await page.getByRole('link', { name: 'Enter a standard' }).click();
  await page.waitForURL(/\/standards\/new/);
  await awake(page);
  await page.getByLabel('Kind').fill('gauge-block-set');
  await page.getByLabel('Identification').fill('GB-1');
  await page.getByLabel('Certificate issued by').fill('Length Institute');
  await page.getByLabel('Certificate number').fill('77');
  await page.getByLabel('Date', { exact: true }).fill('2026-01-10');
  await page.getByLabel('Due').fill('2096-01-10');
  await page.getByLabel('Unit', { exact: false }).first().fill('mm');
  await page.getByLabel('U is given in').fill('um');
  await page.getByLabel('Expansion coefficient').fill('0,0000115');
  const sizes = [2.5, 5.1, 7.7, 10.3, 12.9, 15, 17.6, 20.2, 22.8];
  const table = page.getByLabel(/A line each/);
  await table.fill([...sizes, 25].map((n) => `${n} ${n} ${n === 25 ? 'none' : n + 0.0001} 0.08`).join('\n'));
  await expect(page.getByText('Line 10: "none" is not a number')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Enter the standard' })).toBeDisabled();
  await table.fill([...sizes, 25].map((n) => `${n};${n};${n + 0.0001};0,08`.replace('.', ',')).join('\n'));
  await expect(page.getByText('10 lines read')).toBeVisible();
  await page.getByRole('button', { name: 'Enter the standard' }).click();
  await expect(page.getByRole('heading', { name: 'GB-1' })).toBeVisible();

  await page.goto(`${server.url}/instruments/new`);
  await page.getByLabel('Kind').selectOption('outside-micrometer');
  await page.getByLabel('Identification').fill('MIC-1');
  await page.getByLabel('Owner', { exact: true }).fill('Own');
  await page.getByLabel('Unit', { exact: false }).first().fill('mm');
  const range = page.getByRole('group', { name: 'Range of the instrument' });
  await range.getByLabel('from').fill('0');
  await range.getByLabel('to', { exact: false }).last().fill('25');
  await page.getByLabel('Resolution, mm').fill('fine');
  await page.getByRole('button', { name: 'Register' }).click();
  await expect(page.getByText('That is not a number.').first()).toBeVisible();
  await page.getByLabel('Resolution, mm').fill('0,001');
  await page.getByRole('button', { name: 'Register' }).click();
  await expect(page.getByRole('heading', { name: 'MIC-1' })).toBeVisible();
  await awake(page);
  await page.getByRole('button', { name: 'Start a calibration' }).click();
  await page.getByRole('button', { name: 'Put it on the bench' }).click();
  await expect(page.getByRole('heading', { name: /engraved on the frame/ })).toBeVisible();
  await server.kill();
});
