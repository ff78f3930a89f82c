import type { Page } from '@playwright/test';
import type { Certificate } from '../src/core/certificate/certificate';
import { drive, type Hand } from './drive';
import { awake, expect, test, type TestServer } from './server';

const now = (page: Page) => page.getByRole('region', { name: 'Now' });
const row = (page: Page) => page.getByRole('list', { name: 'Instruments of the set-up' });

/** A bath that the reference shows, and thermometers beside it; one is off until it is adjusted. */
const bathOf = (page: Page, off?: string) => async (sentence: string, isAdjusted: boolean) => {
  const bath = Number(/(\d+) °C/.exec(sentence)![1]) + 0.004;
  if (sentence.includes('reference')) return bath.toFixed(3).replace('.', ',');
  const isOff = off !== undefined && !isAdjusted && (await now(page).getByLabel('For whom').textContent()) === off;
  return (bath + (isOff ? 0.27 : 0.01)).toFixed(2);
};

const bench = { measured: '150', air: '21,5' };

async function press(page: Page, hand: Hand, name: string): Promise<void> {
  const button = page.getByRole('button', { name });
  if (hand === 'fingers') return button.tap();
  await button.focus();
  await page.keyboard.press('Enter');
}

/** The finished run of an instrument, opened from the set-up. */
async function certificateOf(page: Page, server: TestServer, instrument: string): Promise<Certificate> {
  const address = await row(page).getByRole('link', { name: instrument }).getAttribute('href');
  return (await (await page.request.get(`${server.url}/api${address}/certificate.json`)).json()) as Certificate;
}

test(
  'two thermometers in one bath, from their start to their certificates, by keyboard alone',
  { tag: '@long' },
  async ({ page, server }) => {
    test.setTimeout(240_000);
    await page.goto(`${server.url}/instruments/qt-12?start`);
    const other = page.getByRole('checkbox', { name: /QT-14/ });
    await other.focus();
    await page.keyboard.press('Space');
    await expect(page.getByText('Read in this order and back: QT-12, QT-14.')).toBeVisible();
    await press(page, 'keys', 'Put 2 on the bench');
    await page.waitForURL(/\/set-ups\//);
    await awake(page);

    const typed = await drive(page, 'keys', bathOf(page, 'QT-14'), bench);
    // Stability and reference once for both, each thermometer six times at three temperatures; then what was adjusted alone, the bath judged anew.
    expect(typed).toBe(15 + 18 + 36 + 15 + 18 + 18);
    const [left, adjusted] = [await certificateOf(page, server, 'QT-12'), await certificateOf(page, server, 'QT-14')];
    expect(left.adjustments).toHaveLength(0);
    expect(adjusted.adjustments).toHaveLength(1);
    expect([left.asFound.verdict, adjusted.asFound.verdict, adjusted.asLeft!.verdict]).toEqual(['pass', 'fail', 'pass']);
    // On the bench nothing is left of it; each run leads to its own record.
    await page.goto(server.url);
    await expect(page.getByRole('link', { name: /QT-12.*Carry on/ })).toHaveCount(0);
    await expect(page.getByRole('link', { name: /QT-21 QT-22 QT-23.*Carry on/ })).toHaveCount(1);
  },
);

test('back to what another was read at, and to the reference of all, by keyboard', async ({ page, server }) => {
  await page.goto(`${server.url}/set-ups/00000000-0000-4000-8002-000000000001`);
  await awake(page);
  const who = now(page).getByLabel('For whom');
  await expect(who).toHaveText('QT-22');
  await expect(now(page).locator('input[data-keys]')).toBeFocused();
  // Up goes to what was read last, whoever it was: QT-23 on its way back.
  await page.keyboard.press('ArrowUp');
  await expect(who).toHaveText('QT-23');
  await page.keyboard.press('x');
  await page.keyboard.press('1');
  await expect(who).toHaveText('QT-23');
  await expect(now(page).getByRole('heading').first()).toContainText('thermometer, second, 1 of 3');
  await page.keyboard.type('50,05');
  await page.keyboard.press('Enter');
  await expect(who).toHaveText('QT-22');
  // Further up, the reference: struck out for all, and read again for all.
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowUp');
  await expect(now(page).getByRole('heading').first()).toContainText('Reference, first 1: taken');
  await expect(who).toHaveText('For all 3');
  await page.keyboard.press('x');
  await page.keyboard.press('1');
  await expect(who).toHaveText('For all 3');
  await page.keyboard.type('50,006');
  await page.keyboard.press('Enter');
  await expect(who).toHaveText('QT-22');
  await expect(page.getByText('All recorded')).toBeVisible();
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });
  test('nothing is cut off, and a finger takes the next reading', async ({ page, server }) => {
    await page.goto(`${server.url}/set-ups/00000000-0000-4000-8002-000000000001`);
    await awake(page);
    expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
    const who = now(page).getByLabel('For whom');
    await expect(who).toHaveText('QT-22');
    await now(page).locator('input[data-keys]').tap();
    await page.keyboard.insertText('50,04');
    await press(page, 'fingers', 'Take the reading');
    await expect(who).toHaveText('QT-21');
  });
});

test('one is taken out, and the others go on; it is carried on alone', { tag: '@long' }, async ({ page, server }) => {
  test.setTimeout(240_000);
  await page.goto(server.url);
  await page.getByRole('link', { name: /QT-21 QT-22 QT-23/ }).focus();
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/set-ups\//);
  await awake(page);
  const entry = now(page).locator('input[data-keys]');
  await expect(entry).toBeFocused();

  await page.keyboard.press('o');
  await expect(page.getByRole('heading', { name: /Take QT-2. out/ })).toBeVisible();
  await page.keyboard.press('Escape');
  // The keyboard is back at the entry, and what was begun there is not lost.
  await expect(entry).toBeFocused();
  await page.keyboard.press('o');
  await press(page, 'keys', 'Another one');
  await page.keyboard.press('2');
  await expect(page.getByRole('heading', { name: /Take QT-22 out/ })).toBeVisible();
  await page.keyboard.press('1');
  await expect(row(page).getByRole('link', { name: /QT-22/ })).toContainText('taken out');
  await expect(now(page).getByLabel('For whom')).toHaveText('QT-21');

  await drive(page, 'keys', bathOf(page), bench);
  for (const instrument of ['QT-21', 'QT-23'])
    expect((await certificateOf(page, server, instrument)).asFound.verdict).toBe('pass');
  await row(page).getByRole('link', { name: /QT-22/ }).focus();
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/runs\//);
  await awake(page);
  await drive(page, 'keys', bathOf(page), bench);
  await expect(page.getByText('Taken out of it: It does not work')).toBeVisible();
});
