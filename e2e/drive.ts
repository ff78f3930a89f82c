import type { Page } from '@playwright/test';
import { expect, type TestServer } from './server';

/** What the instrument on the bench shows, by the sentence that asks for it; after an adjustment without its error. */
export type Shows = (sentence: string, isAdjusted: boolean) => string;

const conditions: Record<string, string> = { air: '21,5', pressure: '1003', humidity: '45' };
const now = (page: Page) => page.getByRole('region', { name: 'Now' });

/** Does with keys alone what the run asks for, whatever it is, until its record is there. @returns how many readings were typed */
export async function driveByKeyboard(page: Page, shows: Shows, measured = '150'): Promise<number> {
  let [typed, isAdjusted] = [0, false];
  const enter = async (text: string) => {
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  for (let act = 0; act < 400; act++) {
    if (await page.getByRole('link', { name: 'As a data file' }).isVisible()) return typed;
    if (!(await now(page).getByRole('heading').first().isVisible())) {
      // A panel is on its way, or the run is finished and the page makes its record.
      await expect(
        now(page)
          .getByRole('heading')
          .or(page.getByRole('link', { name: 'As a data file' }))
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
      for (let i = 0; i < count; i++) await enter(conditions[(await inputs.nth(i).getAttribute('name'))!] ?? '20,5');
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
      await enter(isReading ? shows(sentence, isAdjusted) : measured);
      if (isReading) typed++;
    } else {
      await expect(now(page).locator('button[data-keys]').first()).toBeFocused();
      await page.keyboard.press('Enter');
    }
    await expect
      .poll(
        async () =>
          (await page.getByRole('link', { name: 'As a data file' }).isVisible()) || (await now(page).innerHTML()) !== before,
      )
      .toBe(true);
  }
  throw new Error('The run did not come to its end.');
}

export async function startByKeyboard(page: Page, server: TestServer, instrument: string): Promise<string> {
  await page.goto(`${server.url}/instruments/${instrument}?start`);
  await page.getByRole('button', { name: 'Put it on the bench' }).focus();
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/runs\//);
  await expect(page.locator('astro-island[ssr]')).toHaveCount(0);
  return page.url().split('/').at(-1)!;
}
