import type { Locator, Page } from '@playwright/test';
import { awake, expect, type TestServer } from './server';

/** What the instrument on the bench shows, by the sentence that asks for it; after an adjustment without its error. */
export type Shows = (sentence: string, isAdjusted: boolean) => string | Promise<string>;
/** Who does the work: keys alone, or fingers on glass. */
export type Hand = 'keys' | 'fingers';

const conditions: Record<string, string> = { pressure: '1003', humidity: '45' };
const now = (page: Page) => page.getByRole('region', { name: 'Now' });
/** What stands there when a run is at its end, or a set-up, or a quick check. */
const ending = (page: Page) =>
  page
    .getByRole('link', { name: 'As a data file' })
    .or(page.getByRole('link', { name: 'To the bench', exact: true }))
    .or(page.getByRole('link', { name: 'Its history' }));

/** The panel as it stands; as it was where the page is just making room for the record, which has none. */
const panelNow = (page: Page, before: string): Promise<string> =>
  now(page)
    .innerHTML({ timeout: 500 })
    .catch(() => before);

/** The panel in words, what was typed into it, and where the keyboard is: what a failure is understood by. */
const whatStands = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const region = document.querySelector<HTMLElement>('[aria-label="Now"]');
    const typed = [...(region?.querySelectorAll('input') ?? [])].map((i) => `${i.name}=${i.value}`);
    const focus = document.activeElement;
    return `Now: ${region?.innerText ?? 'no panel'} · typed: ${typed.join(', ')} · keyboard: ${focus?.tagName} ${focus?.getAttribute('name') ?? focus?.textContent?.slice(0, 40)} · ${location.pathname}`;
  });

/** Types into the fields that are asked for and confirms: with Enter after each, or by tapping each and then the button. */
async function fill(page: Page, hand: Hand, inputs: Locator, texts: readonly string[]): Promise<void> {
  if (hand === 'keys') {
    for (const text of texts) {
      await page.keyboard.type(text);
      await page.keyboard.press('Enter');
    }
    return;
  }
  for (const [i, text] of texts.entries()) {
    const input = inputs.nth(i);
    // A field that has the keyboard already needs no tap; what was refused in it is replaced, as it is by keys.
    if (!(await input.evaluate((e) => e === document.activeElement))) await input.tap();
    await input.evaluate((e: HTMLInputElement) => e.select());
    await page.keyboard.insertText(text);
  }
  await now(page).locator('form button:not([type="button"])').first().tap();
}

async function press(page: Page, hand: Hand, button: Locator): Promise<void> {
  if (hand === 'fingers') return button.tap();
  await button.focus();
  await page.keyboard.press('Enter');
}

/** Nothing is cut off at the sides, and what a finger is to hit is large enough for it. */
async function fits(page: Page): Promise<void> {
  const seen = await page.evaluate(() => {
    const region = document.querySelector('[aria-label="Now"]')!;
    const targets = [...region.querySelectorAll<HTMLElement>('input[data-keys], button[data-keys], .button-main')];
    const boxes = targets.map((t) => t.getBoundingClientRect()).filter((b) => b.width > 0);
    return {
      page: document.documentElement.scrollWidth - window.innerWidth,
      out: boxes.filter((b) => b.left < -0.5 || b.right > window.innerWidth + 0.5).length,
      least: Math.min(1000, ...boxes.map((b) => b.height)),
    };
  });
  expect(seen.page, 'the page scrolls sideways').toBeLessThanOrEqual(0);
  expect(seen.out, 'something to be touched is cut off').toBe(0);
  expect(seen.least, 'something is too small for a finger').toBeGreaterThanOrEqual(43);
}

/** What is measured where nothing else is told: bands of light on a face, else a depth in mm. */
const plainlyMeasured = (sentence: string): string => (/bands/.test(sentence) ? '1' : '150');

/** What else is read at the bench. */
type Bench = {
  measured?: string | (() => Promise<string>);
  air?: string;
  conditionNow?: (name: string) => string;
  /** Where to stop before the record. */ until?: () => Promise<boolean>;
};

/** Says what the instrument holds, sets what is proposed, and reads it back. */
async function adjust(page: Page, hand: Hand): Promise<void> {
  const fields = (side: string) => now(page).locator(`input[name$=".${side}"]`);
  const legend = (i: number) => now(page).locator('fieldset').nth(i);
  // Of a move only how far is asked: it has nothing before it, and nothing to be read back.
  const field = (i: number, side: string) => legend(i).locator(`input[name$=".${side}"]`);
  const count = await fields('after').count();
  const held = async (i: number) => (await field(i, 'before').count()) > 0;
  for (let i = 0; i < count; i++) if (await held(i)) await field(i, 'before').fill('0');
  // What it holds is what the record says, where that says something.
  for (let i = 0; i < count; i++) {
    const record = /by the record ([−\d.]+)/.exec(await legend(i).innerText())?.[1];
    if (record) await field(i, 'before').fill(record.replace('−', '-'));
  }
  for (let i = 0; i < count; i++) {
    const proposed = /Proposed\s*([−\d.]+)/.exec(await legend(i).innerText())?.[1]?.replace('−', '-') ?? '0';
    await field(i, 'after').fill(proposed);
    if (await held(i)) await field(i, 'readBack').fill(proposed);
  }
  const record = now(page).getByRole('button', { name: 'Record the adjustment' });
  if (hand === 'keys' && count > 0) await now(page).locator('fieldset input').last().press('Enter');
  else await press(page, hand, record);
}

/** Says of each setting what is wanted of it, or the first that it can hold. */
async function tellSettings(page: Page, hand: Hand): Promise<void> {
  const fields = now(page).locator('[name^="setting-"]');
  const count = await fields.count();
  for (let i = 0; i < count; i++) {
    const field = fields.nth(i);
    const label = (await field.getAttribute('aria-label'))!.replace(/, as shown$/, '');
    const wanted = (await now(page).getByLabel(`${label}, wanted`).textContent())!.trim();
    if ((await field.evaluate((e) => e.tagName)) === 'SELECT') await field.selectOption(wanted === '–' ? { index: 1 } : wanted);
    else {
      if (hand === 'keys') await expect(field).toBeFocused();
      await field.fill(wanted === '–' ? '1' : wanted.replace('−', '-'));
    }
    if (hand === 'keys') await field.press('Enter');
  }
  if (hand === 'fingers') await now(page).getByRole('button', { name: 'Record it' }).tap();
}

/** Does what the run asks for, whatever it is, until its record is there. @returns how many readings were typed */
export async function drive(
  page: Page,
  hand: Hand,
  shows: Shows,
  { measured, air = '21,5', conditionNow, until }: Bench = {},
): Promise<number> {
  let [typed, isAdjusted] = [0, false];
  for (let act = 0; act < 400; act++) {
    if ((await ending(page).isVisible()) || (await until?.())) return typed;
    if (!(await now(page).getByRole('heading').first().isVisible())) {
      // A panel is on its way, or the run is finished and the page makes its record.
      await expect(now(page).getByRole('heading').or(ending(page)).first()).toBeVisible();
      continue;
    }
    if (hand === 'fingers') await fits(page);
    const before = await panelNow(page, '');
    if (before === '') continue;
    const sentence = (await now(page).getByRole('heading').first().textContent()) ?? '';
    const text = (await now(page).textContent()) ?? '';
    const inputs = now(page).locator('input[data-keys]');
    const file = now(page).locator('textarea[data-keys]');
    const count = await inputs.count();
    if (count > 0 && hand === 'keys') await expect(inputs.first()).toBeFocused();
    if (text.includes('This is what it says')) {
      // Nothing is told before something was read; another thing is refused, and what is typed next replaces it.
      await fill(page, hand, inputs, ['something else']);
      const alert = now(page).getByRole('alert');
      await expect(alert, await whatStands(page)).toBeVisible();
      await fill(page, hand, inputs, [/The record (?:says|has) (.*?)(?: or .*)?, not/.exec((await alert.textContent())!)![1]!]);
    } else if ((await now(page).locator('[name^="setting-"]').count()) > 0) {
      await tellSettings(page, hand);
    } else if (sentence.startsWith('Conditions')) {
      const names = await inputs.evaluateAll((all) => all.map((i) => i.getAttribute('name')!));
      await fill(
        page,
        hand,
        inputs,
        names.map((name) => conditionNow?.(name) ?? (name === 'air' ? air : (conditions[name] ?? '20,5'))),
      );
    } else if (text.includes('End it early')) {
      await press(page, hand, now(page).getByRole('button', { name: 'End it early' }));
      await expect(now(page).getByRole('heading', { name: /why end it early/ })).toBeVisible();
      if (hand === 'keys') await page.keyboard.press('1');
      else await now(page).getByRole('button', { name: 'It has stood like this for longer already' }).tap();
    } else if (/why (may it stand|all the same)|: why\?$/.test(sentence)) {
      // Asked for a reason: the first that is offered, else a few words.
      const offered = now(page).getByRole('button', { name: /^1 / });
      if (await offered.isVisible()) {
        if (hand === 'keys') await page.keyboard.press('1');
        else await offered.tap();
      } else {
        await now(page).getByRole('textbox').fill('Looked again: it is so');
        await now(page).getByRole('textbox').press('Enter');
      }
    } else if (await now(page).getByRole('group', { name: 'Decide' }).isVisible()) {
      // Enter never judges: a digit does.
      if (hand === 'keys') {
        await expect(now(page).getByRole('group', { name: 'Decide' })).toBeFocused();
        await page.keyboard.press('1');
      } else await now(page).locator('.button-main').tap();
    } else if (text.includes('Record the adjustment')) {
      await adjust(page, hand);
      isAdjusted = true;
    } else if ((await file.count()) > 0) {
      await expect(file).toBeFocused();
      await page.keyboard.insertText(await shows(sentence, isAdjusted));
      await page.keyboard.press('Tab');
      await press(page, hand, now(page).locator('form button:not([type="button"])').first());
      typed++;
    } else if (count > 0) {
      const isReading = text.includes('Take the reading');
      const typedNow = isReading
        ? shows(sentence, isAdjusted)
        : typeof measured === 'function'
          ? measured()
          : (measured ?? plainlyMeasured(sentence));
      await fill(page, hand, inputs, [await typedNow]);
      if (isReading) typed++;
    } else {
      const button = now(page).locator('button[data-keys]').first();
      // The next panel may have come while this one was looked at: then it is looked at afresh.
      if (!(await button.isVisible())) {
        await expect(button.or(inputs.first()).or(file).or(ending(page)).first()).toBeVisible();
        continue;
      }
      if (hand === 'keys') await expect(button).toBeFocused();
      await press(page, hand, button);
    }
    await expect
      .poll(async () => (await ending(page).isVisible()) || (await panelNow(page, before)) !== before, {
        intervals: [10, 20, 40, 80, 160],
        timeout: 30_000,
      })
      .toBe(true)
      .catch(async () => {
        throw new Error(`Nothing came of “${sentence}”. ${await whatStands(page)}`);
      });
  }
  throw new Error('The run did not come to its end.');
}

export async function start(page: Page, hand: Hand, server: TestServer, instrument: string): Promise<string> {
  await page.goto(`${server.url}/instruments/${instrument}?start`);
  await press(page, hand, page.getByRole('button', { name: 'Put it on the bench' }));
  await page.waitForURL(/\/runs\//);
  await awake(page);
  return page.url().split('/').at(-1)!;
}
