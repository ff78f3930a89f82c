import { enter, expect, prepareByKeyboard, serve, test, type TestServer } from './server';
import type { Page } from '@playwright/test';

async function startRun(page: Page, server: TestServer, instrument: string): Promise<string> {
  await page.goto(`${server.url}/instruments/${instrument}?start`);
  await page.getByRole('button', { name: 'Put it on the bench' }).click();
  await page.waitForURL(/\/runs\//);
  return page.url();
}
const cell = (page: Page, name: string) => page.getByRole('button', { name, exact: true });

test('killing the server between two readings loses nothing, and the run opens where it was', async ({ page }) => {
  const server = await serve('demo');
  await page.context().setExtraHTTPHeaders(server.as('Maud Ellery'));
  const address = await startRun(page, server, 'fw-04');
  await prepareByKeyboard(page);
  await enter(page, '2.501');
  await enter(page, '2.502');
  await expect(page.getByText('All recorded')).toBeVisible();
  await server.kill('SIGKILL');
  await enter(page, '2,503');
  await expect(page.getByText('The server does not answer. 1 entry is kept in this browser')).toBeVisible();
  await enter(page, '5.101');
  await server.start();
  await expect(page.getByText('All recorded')).toBeVisible();
  await page.goto(address);
  await expect(cell(page, '2.5 mm, Micrometer 3: 2.503')).toBeVisible();
  await expect(cell(page, '5.1 mm, Micrometer 1: 5.101')).toBeVisible();
  await expect(page.getByRole('heading', { name: '5.1 mm: micrometer, 2 of 3.' })).toBeVisible();
  await server.kill('SIGKILL');
  await server.start();
  await page.reload();
  await expect(page.getByRole('heading', { name: '5.1 mm: micrometer, 2 of 3.' })).toBeVisible();
  await server.kill();
});

test('a second window follows; another bench that is behind is told so, and loses nothing', async ({ page, server, browser }) => {
  const address = await startRun(page, server, 'tr-112');
  await prepareByKeyboard(page);
  const sameBrowser = await page.context().newPage();
  const otherBench = await (await browser.newContext()).newPage();
  await otherBench.context().setExtraHTTPHeaders(server.as('Tobias Wrenfield'));
  for (const other of [sameBrowser, otherBench]) {
    await other.goto(address);
    await expect(other.getByLabel(/Micrometer in mm/)).toBeFocused();
    await expect(other.getByRole('heading', { name: '2.5 mm: micrometer, 1 of 3.' })).toBeVisible();
  }
  // The other bench hears nothing for a moment.
  await otherBench.route(/events\?after=/, (route) => route.abort());
  await enter(page, '2.501');
  await expect(page.getByText('All recorded')).toBeVisible();
  await expect(cell(sameBrowser, '2.5 mm, Micrometer 1: 2.501')).toBeVisible();
  await enter(otherBench, '2.509');
  await expect(otherBench.getByText('This run has moved on in another window.')).toBeVisible();
  await expect(otherBench.getByRole('list', { name: 'Not recorded' })).toContainText('Micrometer: 2.509 mm');
  await expect(cell(otherBench, '2.5 mm, Micrometer 1: 2.501')).toBeVisible();
  // Nothing goes before it is decided, and a reload forgets nothing.
  await otherBench.reload();
  await expect(otherBench.getByRole('list', { name: 'Not recorded' })).toContainText('Micrometer: 2.509 mm');
  await otherBench.getByRole('button', { name: 'Leave out this' }).click();
  await expect(otherBench.getByRole('heading', { name: '2.5 mm: micrometer, 2 of 3.' })).toBeVisible();
  await expect(otherBench.getByText('All recorded')).toBeVisible();
  // Once it hears again, it follows by itself.
  await otherBench.unroute(/events\?after=/);
  await enter(page, '2.502');
  await expect(cell(otherBench, '2.5 mm, Micrometer 2: 2.502')).toBeVisible();
  await expect(otherBench.getByRole('heading', { name: '2.5 mm: micrometer, 3 of 3.' })).toBeVisible();
});

test('the soak runs on over a reload and shows on the bench', { tag: '@long' }, async ({ page, server }) => {
  const address = await startRun(page, server, 'qm-0121');
  await expect(page.getByLabel('Number engraved on the frame')).toBeFocused();
  await enter(page, 'QM-0121');
  for (const next of ['free of damage', 'wiped clean', 'worse one show', 'on both together', 'the unit in which']) {
    await expect(page.getByRole('heading', { name: new RegExp(next) })).toBeVisible();
    if (/show|both/.test(next)) await page.keyboard.type('1');
    await page.keyboard.press('Enter');
  }
  await expect(page.getByRole('heading', { name: /box of blocks/ })).toBeVisible();
  await enter(page, 'QM-GB-47');
  await page.getByRole('button', { name: /Start the 60 minutes/ }).click();
  await expect(page.getByRole('timer')).toHaveText(/^(1:00:00|59:5\d)$/);
  await page.waitForTimeout(2200);
  await page.goto(address);
  await expect(page.getByRole('timer')).toHaveText(/^59:5\d$/);
  await page.goto(server.url);
  await expect(page.getByRole('link', { name: /QM-0121/ })).toContainText(/59:\d\d/);
});

test(
  'keys: stepping back, striking out, other blocks, a slip asked about once, help',
  { tag: '@long' },
  async ({ page, server }) => {
    await startRun(page, server, 'qm-0126');
    await prepareByKeyboard(page);
    await enter(page, '2.500');
    await enter(page, '25.03');
    await expect(page.getByText('Did you mean 2.503 mm? This looks like a slipped decimal point.')).toBeVisible();
    // Enter never records a number that nobody typed: what is offered is taken by a key of its own.
    await page.keyboard.press('Enter');
    await expect(cell(page, '2.5 mm, Micrometer 2: open')).toBeVisible();
    await page.keyboard.press('m');
    await expect(cell(page, '2.5 mm, Micrometer 2: 2.503')).toBeVisible();
    await enter(page, '2.703');
    await expect(page.getByText('away from the other readings here')).toBeVisible();
    // Enter alone never keeps what is doubted, and what is typed next takes its place.
    await page.keyboard.press('Enter');
    await expect(cell(page, '2.5 mm, Micrometer 3: open')).toBeVisible();
    await page.keyboard.press('=');
    await page.keyboard.press('1');
    await expect(cell(page, '2.5 mm, Micrometer 3: 2.703')).toBeVisible();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('x');
    await expect(page.getByRole('heading', { name: 'Strike out 2.703 mm: why?' })).toBeVisible();
    await page.keyboard.press('1');
    await expect(page.getByRole('heading', { name: '2.5 mm: micrometer, 3 of 3.' })).toBeVisible();
    await enter(page, '-2.5');
    await expect(page.getByText('This looks like a lost sign')).toBeVisible();
    await enter(page, '2,501');
    await expect(page.getByRole('heading', { name: '5.1 mm: micrometer, 1 of 3.' })).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(page.getByText('Nothing was typed')).toBeVisible();
    await page.keyboard.press('s');
    await expect(page.getByRole('heading', { name: 'What is used for 5.1 mm' })).toBeVisible();
    for (const size of ['4', '1.1', '3', '1', '1,1']) await enter(page, size);
    await expect(page.getByText('5.1 of 5.1')).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Gauge blocks: 3 and 1 and 1.1')).toBeVisible();
    await page.keyboard.press('?');
    await expect(page.getByRole('heading', { name: 'Keys' })).toBeVisible();
    await page.keyboard.press('Escape');
    await enter(page, '5.100');
    await page.keyboard.press('u');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('u');
    await expect(page.getByRole('columnheader', { name: 'Share of the variance' })).toBeVisible();
  },
);

test('the keyboard stays alive after a click beside everything, a dialog, a refusal and a skipped point', async ({
  page,
  server,
}) => {
  await startRun(page, server, 'qm-0147');
  await prepareByKeyboard(page);
  const entry = page.getByLabel(/Micrometer in mm/);
  await expect(entry).toBeFocused();
  // A click on nothing: what is typed then still goes to the entry, whole.
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.type('2.500');
  await expect(entry).toHaveValue('2.500');
  await page.keyboard.press('Enter');
  await expect(cell(page, '2.5 mm, Micrometer 1: 2.500')).toBeVisible();
  // A dialog opened and closed.
  await page.getByRole('button', { name: /^Maud Ellery: hand on/ }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.type('2,501');
  await page.keyboard.press('Enter');
  await expect(cell(page, '2.5 mm, Micrometer 2: 2.501')).toBeVisible();
  // A refusal selects what was typed: the next digits take its place and never run on.
  await enter(page, '2.5003');
  await expect(page.getByRole('alert')).toContainText('it shows 2.5 or 2.501 mm, not 2.5003');
  await enter(page, '2.5');
  // The missing zeros stand on the sheet.
  await expect(cell(page, '2.5 mm, Micrometer 3: 2.500')).toBeVisible();
  await page.keyboard.press('k');
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: '7.7 mm: micrometer, 1 of 3.' })).toBeVisible();
  await enter(page, '7.700');
  await expect(cell(page, '7.7 mm, Micrometer 1: 7.700')).toBeVisible();
});

test('a bench whose parts come late takes no key before it listens: nothing typed is lost', async ({ page, server }) => {
  const address = await startRun(page, server, 'fw-04');
  let letThrough = () => {};
  const held = new Promise<void>((resolve) => (letThrough = resolve));
  await page.route('**/IdentifyPanel.*.js', async (route) => {
    await held;
    await route.continue();
  });
  await page
    .context()
    .newCDPSession(page)
    .then((session) => session.send('Network.setCacheDisabled', { cacheDisabled: true }));
  const going = page.goto(address);
  const entry = page.getByLabel('Number engraved on the frame');
  await expect(entry).toBeVisible();
  await expect(page.locator('astro-island[ssr]')).toHaveCount(0);
  // What the server wrote stands as it is, and has no keyboard.
  await page.keyboard.type('lost');
  await page.keyboard.press('Enter');
  await expect(entry).not.toBeFocused();
  await expect(entry).toHaveValue('');
  await expect(page.getByText('One moment…')).toHaveCount(0);
  letThrough();
  await going;
  await expect(entry).toBeFocused();
  await enter(page, 'something else');
  await expect(page.getByText('The record says')).toBeVisible();
  expect(page.url()).toBe(address);
});
