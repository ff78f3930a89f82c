import type { Page } from '@playwright/test';
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
  '/set-ups/00000000-0000-4000-8002-000000000001',
  '/budgets',
  '/budgets/budget-1',
  '/proof',
  '/practice',
  '/laboratory',
  '/due',
  '/day',
  '/quick',
  '/families/pressure-transmitter?with=wind%20chest',
  '/families/pressure-transmitter',
  '/instruments/qi-92',
  '/instruments/qi-92/checks',
  '/instruments/qi-92/label',
  '/instruments/hv-21',
  '/standards/prt-3',
  '/instruments/qp-22',
  '/runs/00000000-0000-4000-8000-000000000063',
  '/runs/00000000-0000-4000-8000-000000000092',
  ...onBench,
];

/** One of so many is looked at by `npm test`, the others by `npm run test:long`. */
const oneIn = 20;

for (const [i, view] of views.entries())
  test(
    `${view} passes the accessibility checks, on a desk and on a tablet held upright`,
    { tag: i % oneIn === 0 ? [] : ['@long'] },
    async ({ page, server }) => {
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
    },
  );

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test('no page scrolls sideways, whatever stands on it', { tag: '@long' }, async ({ page, server }) => {
    for (const view of views) {
      const path = view.startsWith('/') ? view : `/runs/${await openRunOf(server, view)}`;
      await page.goto(`${server.url}${path}`);
      const [content, window_] = await page.evaluate(() => [document.documentElement.scrollWidth, window.innerWidth]);
      expect([path, content, window_]).toEqual([path, 390, 390]);
    }
  });
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

test('identifications stand in a face of one width whose zero is no O; all faces come from here', async ({ page, server }) => {
  const elsewhere: string[] = [];
  page.on('request', (r) => !r.url().startsWith(server.url) && !r.url().startsWith('data:') && elsewhere.push(r.url()));
  await page.goto(`${server.url}/instruments/qm-0140`);
  await page.evaluate(() => document.fonts.ready);
  const title = page.getByRole('heading', { level: 1 });
  expect(await title.evaluate((e) => getComputedStyle(e).fontFamily)).toMatch(/^"?IBM Plex Mono/);
  expect(await page.evaluate(() => getComputedStyle(document.body).fontFamily)).toMatch(/^"?IBM Plex Sans/);
  const loaded = await page.evaluate(() =>
    [...document.fonts].filter((f) => f.status === 'loaded').map((f) => f.family.replaceAll('"', '')),
  );
  expect([...new Set(loaded)].sort()).toEqual(['IBM Plex Mono', 'IBM Plex Sans']);
  // Drawn side by side, zero and O differ.
  const drawn = await page.evaluate(() => {
    const of = (text: string) => {
      const canvas = Object.assign(document.createElement('canvas'), { width: 60, height: 60 });
      const context = canvas.getContext('2d')!;
      context.font = '48px "IBM Plex Mono"';
      context.fillText(text, 10, 48);
      return canvas.toDataURL();
    };
    return [of('0'), of('O'), of('(') === of('[')];
  });
  expect(drawn[0]).not.toBe(drawn[1]);
  expect(drawn[2]).toBe(false);
  expect(elsewhere).toEqual([]);
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

/** Chooses in a list by typing a part of a name and Enter. */
async function choose(page: Page, label: string, part: string) {
  await page.getByRole('combobox', { name: label, exact: false }).first().click();
  await page.keyboard.type(part);
  await page.keyboard.press('Enter');
}

test('from an empty laboratory to the first run: administrator, laboratory, standard, instrument', async ({ page }) => {
  const server = await serve('empty');
  // Nobody can sign in yet: whoever comes first chooses a password, and nothing is open before.
  await page.context().setExtraHTTPHeaders({});
  await page.goto(`${server.url}/instruments`);
  await expect(page.getByRole('heading', { name: 'The first administrator' })).toBeVisible();
  expect((await page.request.get(`${server.url}/api/people`)).status()).toBe(401);
  await expect(page.getByLabel('Your name')).toBeFocused();
  for (const typed of ['Orla Brandt', 'orla brandt', '1234']) {
    await page.keyboard.type(typed);
    await page.keyboard.press('Tab');
  }
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByText('A password has at least 12 characters')).toBeVisible();
  await expect(page.getByText('These digits are the first that anybody tries')).toBeVisible();
  await page.getByLabel('A password').fill('seven brass weights in a box');
  await page.getByLabel('Four to eight digits').fill('2718');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/instruments/);
  await page.goto(server.url);
  await expect(page.getByRole('heading', { name: 'Three steps to the first calibration' })).toBeVisible();
  const step = page.locator('[aria-current=step]');
  await expect(step).toContainText('Name the laboratory');
  await step.getByRole('link').click();
  await page.waitForURL(/\/laboratory/);
  await awake(page);
  await page.getByLabel('Name, as it stands').fill(' ');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('The name of the laboratory is missing.').first()).toBeVisible();
  await page.getByLabel('Name, as it stands').fill('Brandt Measuring');
  await choose(page, 'Time zone', 'lisbon');
  await page.getByRole('button', { name: 'Save' }).click();

  await expect(step).toContainText('Enter the first reference standard');
  await expect(page.getByRole('button', { name: /Orla Brandt/ }).first()).toBeVisible();

  await step.getByRole('link').click();
  await page.waitForURL(/\/standards\/new/);
  await awake(page);
  await choose(page, 'Kind', 'gauge block');
  await page.getByLabel('Identification').fill('GB-1');
  await page.getByLabel('Certificate issued by').fill('Length Institute');
  await page.getByLabel('Certificate number').fill('77');
  await page.getByLabel('Date', { exact: true }).fill('10.01.2026');
  await page.getByLabel('Due').fill('2096-01-10');
  await choose(page, 'Unit', 'mm');
  await page.getByLabel('Expansion coefficient').fill('0,0000115');
  const sizes = [2.5, 5.1, 7.7, 10.3, 12.9, 15, 17.6, 20.2, 22.8];
  const table = page.getByLabel(/A line each/);
  await table.fill([...sizes, 25].map((n) => `${n} ${n} ${n === 25 ? 'none' : n + 0.0001} 0.00008`).join('\n'));
  await expect(page.getByText('Line 10: "none" is not a number')).toBeVisible();
  await page.getByRole('button', { name: 'Enter the standard' }).click();
  await expect(page.getByRole('alert')).toContainText('Line 10: "none" is not a number');
  // As certificates give it: a serial number, the deviation in micrometres, and a column that means nothing here.
  await table.fill(
    [
      'Serial no.;Nominal (mm);Grade;Deviation (µm);U (µm)',
      ...[...sizes, 25].map((n, i) => `S${i};${n};K;0,1;0,08`.replaceAll('.', ',')),
    ].join('\n'),
  );
  await expect(page.getByText('10 lines read')).toBeVisible();
  await expect(page.getByText('deviation from nominal in µm')).toBeVisible();
  await page.getByRole('button', { name: 'Enter the standard' }).click();
  await expect(page.getByRole('alert')).toContainText('is written 20');
  await expect(page.getByLabel('Date', { exact: false }).first()).toBeFocused();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('2026-01-10');
  await page.keyboard.press('Enter');

  await expect(step).toContainText('Register the first instrument');
  await step.getByRole('link').click();
  await page.waitForURL(/\/instruments\/new/);
  await awake(page);
  await choose(page, 'Kind', 'outside micro');
  await page.getByLabel('Identification').fill('MIC-1');
  await page.getByLabel('Owner', { exact: true }).fill('Own');
  await choose(page, 'Unit', 'mm');
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
