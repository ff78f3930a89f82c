import { copyFileSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test as base, expect, type Page } from '@playwright/test';
import { freePort, launch, type Launched } from './launch';
import { demoFile } from './make-demo';
import { asPerson, makeTokens } from './tokens';

/** The built application on a database of its own. */
export type TestServer = {
  url: string;
  file: string;
  start: () => Promise<void>;
  kill: (signal?: NodeJS.Signals) => Promise<void>;
  /** What a request in somebody's name carries. */
  as: (person?: string) => { authorization: string };
};

export async function serve(data: 'demo' | 'empty'): Promise<TestServer> {
  const file = join(mkdtempSync(join(tmpdir(), 'just-twice-e2e-')), 'data.db');
  if (data === 'demo') copyFileSync(demoFile, file);
  else await makeTokens(file);
  const tokensOf = data === 'demo' ? demoFile : file;
  const port = await freePort();
  const env = { DATABASE_URL: `file:${file}`, PORT: String(port) };
  let launched: Launched | undefined;
  const url = `http://127.0.0.1:${port}`;
  const server: TestServer = {
    url,
    file,
    start: async () => {
      launched = await launch(env);
    },
    kill: async (signal = 'SIGKILL') => {
      await launched?.stop(signal);
    },
    as: (person = 'Maud Ellery') => asPerson(tokensOf, person),
  };
  await server.start();
  return server;
}

/** Tests that share one demo server within a file, asked for in the name of Maud Ellery; a test of nobody signs in by itself. */
export const test = base.extend<{ person: string }, { server: TestServer }>({
  server: [
    async ({}, use) => {
      const server = await serve('demo');
      await use(server);
      await server.kill();
    },
    { scope: 'worker' },
  ],
  person: ['Maud Ellery', { option: true }],
  extraHTTPHeaders: async ({ server, person }, use) => use(person ? server.as(person) : {}),
  page: async ({ page }, use) => {
    const goto = page.goto.bind(page);
    page.goto = async (...args) => {
      const response = await goto(...args);
      await awake(page);
      return response;
    };
    await use(page);
  },
  baseURL: async ({ server }, use) => use(server.url),
});

export { expect };

/** Waits until every part of the page listens: what is typed earlier, into markup from the server, would be lost. */
export async function awake(page: Page): Promise<void> {
  // A page that is still coming has no islands at all.
  await page.waitForLoadState('load');
  await expect(page.locator('astro-island[ssr]')).toHaveCount(0);
  // An island may wait for parts of its own: what React listens to carries its mark.
  await page.waitForFunction(() =>
    [...document.querySelectorAll('astro-island input, astro-island button')].every((e) =>
      Object.keys(e).some((key) => key.startsWith('__react')),
    ),
  );
}

const nominals = [2.5, 5.1, 7.7, 10.3, 12.9, 15, 17.6, 20.2, 22.8, 25];

/** Thirty indications with an offset in mm and a little scatter, as typed: alternating comma and point. */
export function indications(offset: number): string[][] {
  return nominals.map((nominal, i) =>
    [0, 1, 2].map((repeat) =>
      (nominal + offset + (((i + repeat) % 3) - 1) * 0.0006).toFixed(3).replace('.', repeat === 1 ? ',' : '.'),
    ),
  );
}

/** Types what stands at the cursor and presses Enter, and waits until the screen asks for the next thing. */
export async function enter(page: Page, text: string): Promise<void> {
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}

const heading = (page: Page, text: string | RegExp) => expect(page.getByRole('heading', { level: 2, name: text })).toBeVisible();

/** From the first step to the first reading of a micrometer, by keyboard: what is engraved is typed. */
export async function prepareByKeyboard(page: Page): Promise<void> {
  const instrument = (await page.getByRole('heading', { level: 1 }).textContent())!;
  await expect(page.getByLabel('Number engraved on the frame')).toBeFocused();
  await enter(page, instrument);
  for (const question of ['free of damage', 'wiped clean']) {
    await heading(page, new RegExp(question));
    await expect(page.getByRole('button', { name: 'Yes' })).toBeFocused();
    await page.keyboard.press('Enter');
  }
  // Bands under the optical flat, and under the optical parallel.
  await heading(page, /how many bands does the worse one show/);
  await enter(page, '1');
  await heading(page, /how many bands show on both/);
  await enter(page, '2');
  await heading(page, /Does it show the unit in which it is registered/);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Number engraved on the box of blocks')).toBeFocused();
  await enter(page, 'qm gb 47');
  await expect(page.getByRole('button', { name: /Start the 60 minutes/ })).toBeFocused();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'End it early' }).focus();
  await page.keyboard.press('Enter');
  await heading(page, 'Soak on the plate: why end it early?');
  await page.keyboard.press('1');
  await typeConditions(page, ['20,3', '20.4', '20,2']);
}

export async function typeConditions(page: Page, values: string[]): Promise<void> {
  await heading(page, /^Conditions/);
  await expect(page.locator('input[name="air"]')).toBeFocused();
  for (const value of values) await enter(page, value);
}

/** Thirty entries, no mouse. */
export async function readByKeyboard(page: Page, offset: number): Promise<void> {
  for (const [i, readings] of indications(offset).entries())
    for (const [r, text] of readings.entries()) {
      await heading(page, `${String(nominals[i]!)} mm: micrometer, ${r + 1} of 3.`);
      await enter(page, text);
    }
}

/** The address of an open run of the demo, by its instrument. */
export async function openRunOf(server: TestServer, instrument: string): Promise<string> {
  const page = await (await fetch(`${server.url}/instruments/${instrument}`, { headers: server.as() })).text();
  const [, id] = /openRun&quot;:\[0,&quot;([0-9a-f-]{36})/.exec(page) ?? [];
  if (!id) throw new Error(`${instrument} is not on the bench.`);
  return id;
}

/** What registers a micrometer. */
export const micrometerEntry = (identification: string, more: Record<string, unknown> = {}) => ({
  identification,
  kind: 'outside-micrometer',
  owner: 'Works',
  unit: 'mm',
  lower: 0,
  upper: 25,
  usedLower: 0,
  usedUpper: 25,
  resolution: 0.001,
  adjustmentAllowed: true,
  intervalMonths: null,
  state: 'in-use',
  nextDue: null,
  ...more,
});
