import type { Locator, Page } from '@playwright/test';
import { expect, openRunOf, test } from './server';

const now = (page: Page) => page.getByRole('region', { name: 'Now' });

test.describe('on a phone, with fingers alone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test('read, change the sign, step back, strike, skip, take up again, look at conditions and at other items', async ({
    page,
    server,
  }) => {
    await page.goto(`${server.url}/runs/${await openRunOf(server, 'qc-31')}`);
    const entry = now(page).locator('input[data-keys]');
    const heading = now(page).getByRole('heading').first();
    await expect(entry).toBeVisible();
    await expect(entry).toHaveAttribute('inputmode', 'decimal');
    const asked = (await heading.textContent())!;
    const nominal = Number(/([\d.]+) mm/.exec(asked)![1]);

    // A decimal pad has no minus: the sign has a button of its own.
    await entry.tap();
    await page.keyboard.insertText('0,02');
    await page.getByRole('button', { name: 'Change the sign' }).tap();
    await expect(entry).toHaveValue('-0,02');
    await page.getByRole('button', { name: 'Change the sign' }).tap();
    await expect(entry).toHaveValue('0,02');
    await entry.fill((nominal + 0.03).toFixed(2));
    await page.getByRole('button', { name: 'Take the reading' }).tap();
    await expect(heading).not.toHaveText(asked);
    const next = (await heading.textContent())!;

    // Back to it, and struck out with a ready reason; what was there stays to be seen.
    await page.getByRole('button', { name: 'Step back' }).tap();
    await expect(heading).toHaveText(/taken \d\d:\d\d by Maud Ellery/);
    await page.getByRole('button', { name: /Strike it out/ }).tap();
    await page.getByRole('button', { name: /Mistyped/ }).tap();
    await expect(page.locator('td s', { hasText: (nominal + 0.03).toFixed(2) })).toBeVisible();
    await expect(page.locator('td s').first()).toHaveAttribute('title', 'Struck out: Mistyped');
    await expect(heading).toHaveText(asked);
    // Zeros that were left out are completed to the step of the display on the sheet.
    await entry.fill(String(nominal));
    await page.getByRole('button', { name: 'Take the reading' }).tap();
    await expect(heading).toHaveText(next);
    await page.getByRole('tab', { name: /At the tips/ }).tap();
    await expect(page.getByRole('button', { name: `Calliper 2: ${nominal.toFixed(2)}` })).toBeVisible();

    // Conditions and items are looked at and left as they are.
    await page.getByRole('button', { name: /^Conditions/ }).tap();
    await expect(now(page).getByRole('heading', { name: /^Conditions/ })).toBeVisible();
    await page.getByRole('button', { name: /^Back/ }).tap();
    await page.getByRole('button', { name: /^Others/ }).tap();
    await expect(page.getByRole('button', { name: /^Back/ })).toBeVisible();
    await page.getByRole('button', { name: /^Back/ }).tap();
    await expect(heading).toHaveText(next);

    await page.getByRole('button', { name: /^Skip/ }).tap();
    await page.getByRole('button', { name: /does not reach/ }).tap();
    await expect(heading).not.toHaveText(next);
    await page.getByRole('button', { name: 'Step back' }).tap();
    await expect(now(page).getByText('This was skipped: The instrument does not reach it')).toBeVisible();
    await page.getByRole('button', { name: 'Take it up again' }).tap();
    await expect(entry).toBeEnabled();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  });
});

test.describe('on a tablet held upright', () => {
  test.use({ viewport: { width: 800, height: 1180 }, hasTouch: true, isMobile: true });
  test('the header takes one row, and so do instrument and stages', async ({ page, server }) => {
    await page.goto(`${server.url}/runs/${await openRunOf(server, 'qc-31')}`);
    const middle = async (part: Locator) => {
      const { y, height } = (await part.boundingBox())!;
      return y + height / 2;
    };
    const bar = [
      page.getByRole('link', { name: 'Just Twice, to the bench' }),
      page.getByRole('link', { name: 'Laboratory' }),
      page.getByRole('button', { name: 'Maud Ellery' }),
    ];
    const [first, ...others] = await Promise.all(bar.map(middle));
    for (const other of others) expect(Math.abs(other - first!)).toBeLessThan(12);
    const [title, stages] = await Promise.all(
      [page.getByRole('heading', { level: 1 }), page.getByLabel('Stages of the run')].map(middle),
    );
    expect(Math.abs(title! - stages!)).toBeLessThan(30);
  });
});
