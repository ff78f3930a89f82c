import { request as ask } from 'node:http';
import { createClient } from '@libsql/client';
import { demoFile } from './make-demo';
import { awake, expect, serve, test } from './server';
import { asPerson } from './tokens';

/** A request as it stands, with any method and host, in the name of somebody who is let in. */
function raw(url: string, options: { method?: string; headers?: Record<string, string>; body?: string } = {}) {
  return new Promise<{ status: number; headers: Record<string, string | string[] | undefined>; body: string }>(
    (resolve, reject) => {
      const sent = ask(
        url,
        { method: options.method ?? 'GET', headers: { ...asPerson(demoFile, 'Maud Ellery'), ...options.headers } },
        (answer) => {
          let body = '';
          answer.on('data', (text: Buffer) => (body += text.toString()));
          answer.on('end', () => resolve({ status: answer.statusCode!, headers: answer.headers, body }));
        },
      );
      sent.on('error', reject);
      sent.end(options.body);
    },
  );
}

const pages = [
  '/',
  '/instruments',
  '/instruments/new',
  '/standards',
  '/standards/new',
  '/procedures',
  '/procedures/balance',
  '/budgets',
  '/budgets/new',
  '/proof',
  '/laboratory',
];

test.describe('the front door', () => {
  test('sends pages, answers and scripts packed to whoever takes them so', async ({ server }) => {
    const packed = { 'accept-encoding': 'br, gzip' };
    const page = await raw(server.url);
    expect(page.headers['content-encoding']).toBeUndefined();
    expect((await raw(server.url, { headers: packed })).headers['content-encoding']).toBe('br');
    const script = /\/_astro\/[^"]+\.js/.exec(page.body)![0];
    const [plain, small, zipped] = await Promise.all([
      raw(`${server.url}${script}`),
      raw(`${server.url}${script}`, { headers: packed }),
      raw(`${server.url}${script}`, { headers: { 'accept-encoding': 'gzip' } }),
    ]);
    expect(plain.headers['content-encoding']).toBeUndefined();
    expect(small.headers['content-encoding']).toBe('br');
    expect(zipped.headers['content-encoding']).toBe('gzip');
    expect(Number(small.headers['content-length'])).toBeLessThan(0.6 * Number(plain.headers['content-length']));
  });
  test('answers under its own names only', async ({ server }) => {
    const port = new URL(server.url).port;
    for (const host of [`127.0.0.1:${port}`, `localhost:${port}`])
      expect((await raw(server.url, { headers: { host } })).status).toBe(200);
    for (const host of ['works.example', 'localhost:1', `127.0.0.1.works.example:${port}`]) {
      const answer = await raw(server.url, { headers: { host } });
      expect(answer.status, host).toBe(421);
      expect(answer.body).toContain('HOSTS');
    }
    // A forwarded host is nobody's word unless the configuration says so.
    expect((await raw(server.url, { headers: { 'x-forwarded-host': 'works.example' } })).status).toBe(200);
    expect((await raw(server.url, { headers: { host: 'works.example', 'x-forwarded-host': `localhost:${port}` } })).status).toBe(
      421,
    );
  });
  test('takes changes from its own pages and from programs, not from other pages', async ({ server }) => {
    const add = (headers: Record<string, string>) =>
      raw(`${server.url}/api/people`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body: '{"name":"Ada Fenn"}',
      });
    expect((await add({ origin: server.url })).status).toBe(201);
    expect((await add({})).status).toBe(201);
    for (const origin of ['http://localhost', 'http://works.example', 'null', 'https://127.0.0.1:1'])
      expect((await add({ origin })).status, origin).toBe(403);
  });
  test('gives every answer its headers and a name', async ({ server }) => {
    const page = await raw(server.url);
    const file = /\/_astro\/[^"]+\.js/.exec(page.body)![0];
    for (const path of ['/', '/health', file, '/favicon.svg', '/nothing']) {
      const { headers } = await raw(server.url + path);
      expect(headers['x-content-type-options'], path).toBe('nosniff');
      expect(headers['referrer-policy'], path).toBe('same-origin');
      expect(headers['content-security-policy'], path).toContain("frame-ancestors 'none'");
      expect(headers['x-request-id'], path).toMatch(/^[0-9a-f]{8}$/);
    }
    expect(page.headers['content-security-policy']).toMatch(/script-src 'self' 'sha256-/);
    expect(
      String(page.headers['content-security-policy'])
        .split(';')
        .find((d) => d.includes('script-src')),
    ).not.toContain('unsafe');
  });
  test('answers odd requests properly', async ({ server }) => {
    expect((await raw(server.url, { method: 'TRACE' })).status).toBe(405);
    expect((await raw(`${server.url}/500`)).status).toBe(404);
    expect((await raw(`${server.url}/404`)).status).toBe(404);
    expect((await raw(`${server.url}/api/runs/none/events`)).status).toBe(404);
    for (const person of ['100%25 Zeno', '%E0%A4%A', '%', '%25%32%35'])
      expect((await raw(server.url, { headers: { cookie: `person=${person}` } })).status, person).toBe(200);
  });
  test('says how it is', async ({ server }) => {
    const { status, body } = await raw(`${server.url}/health`);
    expect(status).toBe(200);
    expect(JSON.parse(body)).toMatchObject({ status: 'ok', version: expect.stringMatching(/^\d/), schema: expect.any(Number) });
    expect(Date.parse((JSON.parse(body) as { lastWrite: string }).lastWrite)).not.toBeNaN();
  });
  test('a name with a percent sign works like any other', async ({ page }) => {
    await page.goto('/people');
    await page.getByLabel('Someone new').fill('Zeno 100% Quill');
    await page.getByRole('button', { name: 'Add' }).click();
    const dialog = page.getByRole('dialog', { name: 'Zeno 100% Quill' });
    await dialog.getByRole('button', { name: 'Close' }).click();
    await page.goto('/people');
    await expect(page.getByRole('row', { name: /Zeno 100% Quill.*nothing yet/ })).toBeVisible();
    // A name typed by mistake goes again, and is not offered any more.
    await page.getByRole('button', { name: 'Change Zeno 100% Quill' }).click();
    await dialog.getByRole('button', { name: 'Retire Zeno 100% Quill' }).click();
    await dialog.getByRole('button', { name: 'Retire the name' }).click();
    await expect(page.getByRole('table')).not.toContainText('Zeno');
  });
  test('a part that stops says so in its place, and the rest of the page goes on', async ({ page, server }) => {
    await page.route('**/laboratory', async (route) => {
      const answer = await route.fetch();
      await route.fulfill({ response: answer, body: (await answer.text()).replace('timeZone&quot;', 'lost&quot;') });
    });
    await page.goto(`${server.url}/laboratory`);
    const alert = page.getByRole('alert');
    await expect(alert).toContainText('This part of the page has stopped');
    await expect(alert.getByRole('button', { name: 'Load the page again' })).toBeFocused();
    await expect(page.getByRole('main')).toContainText('Maud Ellery');
    await page.unrouteAll();
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Time zone')).toBeVisible();
  });
  test('no page needs what its policy forbids, trials included', { tag: '@long' }, async ({ page, server }) => {
    const violations: string[] = [];
    page.on('console', (message) => {
      if (/Content Security Policy|violates/i.test(message.text())) violations.push(`${page.url()}: ${message.text()}`);
    });
    page.on('pageerror', (error) => violations.push(`${page.url()}: ${error.message}`));
    for (const path of pages) {
      await page.goto(path);
      await awake(page);
    }
    const links = async (from: string, to: RegExp) => {
      await page.goto(from);
      return page
        .locator('a')
        .evaluateAll(
          (all, source) => all.map((a) => a.getAttribute('href')!).filter((h) => new RegExp(source).test(h)),
          to.source,
        );
    };
    const [instrument] = await links('/instruments', /^\/instruments\/qm-/);
    const [run] = await links(instrument!, /^\/runs\//);
    const [budget] = await links('/budgets', /^\/budgets\/budget/);
    for (const path of [instrument!, run!, '/runs/00000000-0000-4000-8000-0000000a0118', budget!]) {
      await page.goto(path);
      await awake(page);
    }
    await page
      .getByRole('button', { name: /Monte Carlo|trials/i })
      .first()
      .click();
    await expect(page.getByRole('img', { name: /Distribution of \d+ trials/ })).toBeVisible({ timeout: 30_000 });
    await page.waitForTimeout(1500);
    // Lists to choose from and dialogs bring styles of their own.
    await page.goto('/instruments/new');
    await awake(page);
    await page.getByRole('combobox').first().click();
    await expect(page.getByPlaceholder('Type a part of it')).toBeFocused();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Maud Ellery' }).click();
    await expect(page.getByRole('dialog')).toBeVisible();
    expect(violations).toEqual([]);
    expect(server.url).toContain('127.0.0.1');
  });
});

test('an error page and an error answer name their request', async () => {
  const server = await serve('demo');
  const client = createClient({ url: `file:${server.file}` });
  await client.execute('ALTER TABLE budgets RENAME TO lost');
  client.close();
  const page = await raw(`${server.url}/budgets`);
  expect(page.status).toBe(500);
  expect(page.body).toContain(String(page.headers['x-request-id']));
  const answer = await raw(`${server.url}/api/budgets`);
  expect(answer.status).toBe(500);
  expect(JSON.parse(answer.body)).toMatchObject({ error: { request: answer.headers['x-request-id'] } });
  expect(answer.body).not.toMatch(/SQLITE|no such table/);
  await server.kill();
});
