import { randomUUID } from 'node:crypto';
import { endpoints, type Endpoint } from '../src/contract/endpoints';
import { expect, micrometerEntry, openRunOf, test } from './server';

const body = (act: unknown, more = {}) => ({
  expectedSequence: 1,
  idempotencyKey: randomUUID(),
  person: 'Maud Ellery',
  act,
  ...more,
});

test('endpoints answer bad input with a status, a message and the path of the fault', async ({ request, server }) => {
  const openRun = `/api/runs/${await openRunOf(server, 'qm-0118')}/events`;
  const note = { type: 'note-added', text: 'A note' };
  const post = async (address: string, data: unknown) => {
    const response = await request.post(
      address,
      typeof data === 'string' ? { data: Buffer.from(data), headers: { 'content-type': 'application/json' } } : { data },
    );
    const text = await response.text();
    expect(text).not.toMatch(/at .*\.m?[jt]s:\d+|node_modules|SQLITE/);
    return { status: response.status(), error: (JSON.parse(text) as { error: { message: string; path: unknown[] } }).error };
  };
  expect(await post(openRun, 'not json')).toMatchObject({ status: 400, error: { message: 'The body is not JSON.' } });
  expect(await post(openRun, body({ type: 'dance' }))).toMatchObject({ status: 422, error: { path: ['act', 'type'] } });
  expect(await post(openRun, body(note, { idempotencyKey: 'again' }))).toMatchObject({
    status: 422,
    error: { path: ['idempotencyKey'] },
  });
  expect(await post(openRun, body({ type: 'watched', set: 'as-found', id: 'soak', text: 'x'.repeat(40) }))).toMatchObject({
    status: 422,
    error: { path: ['act', 'text'] },
  });
  expect(await post(openRun, `{"x":"${'y'.repeat(2_000_000)}"}`)).toMatchObject({ status: 413 });
  expect(await post('/api/runs/nothing/events', body(note))).toMatchObject({ status: 404 });
  expect(
    await post('/api/runs', {
      run: randomUUID(),
      instrument: "'; DROP TABLE runs",
      procedure: 'outside-micrometer',
      person: 'Maud Ellery',
    }),
  ).toMatchObject({ status: 422, error: { path: ['instrument'] } });
  expect(await post('/api/instruments', { identification: '' })).toMatchObject({
    status: 422,
    error: { path: ['identification'] },
  });
  expect(await post('/api/nothing', {})).toMatchObject({ status: 404 });
  expect((await request.delete(openRun, { data: {} })).status()).toBe(405);
  const { events } = (await (await request.get(openRun)).json()) as { events: unknown[] };
  const behind = await post(openRun, body(note));
  expect(behind.status).toBe(409);
  expect(((await (await request.get(openRun)).json()) as { events: unknown[] }).events).toHaveLength(events.length);
});

/** Every address that takes something, with how, by the contract. */
const taking = Object.entries(endpoints).flatMap(([name, endpoint]: [string, Endpoint]) => {
  const [method, address] = name.split(' ') as [string, string];
  return endpoint.request ? [{ method, address }] : [];
});

const hostile = [
  '',
  'null',
  '[]',
  '"words"',
  '17',
  '{}',
  '{"person":null}',
  '{"person":{"name":"Maud Ellery"},"name":["x"],"text":0}',
  '{"__proto__":{"isAdmin":true},"constructor":{"prototype":{}}}',
  `{"person":"${'x'.repeat(5000)}"}`,
  `{"a":${'['.repeat(2000)}${']'.repeat(2000)}}`,
  '{"person":"Nobody at all","count":1e400,"day":"2026-02-30","used":-1,"instruments":["\'; DROP TABLE runs"]}',
  Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x00, 0x22, 0x3a, 0x31, 0x7d]).toString('latin1'),
];

test('no address takes what nobody would send, and each says so in words', { tag: '@long' }, async ({ request, server }) => {
  expect(taking.length).toBeGreaterThan(14);
  const run = await openRunOf(server, 'qm-0118');
  const counted = async () =>
    ((await (await request.get(`/api/runs/${run}/events`)).json()) as { events: unknown[] }).events.length;
  const before = await counted();
  for (const { method, address } of taking)
    for (const id of ['qm-0140', 'nothing', run, '%00', '..%2F..%2Fpackage.json'])
      for (const data of address.includes('[id]') || id === 'nothing' ? hostile : []) {
        const response = await request.fetch(address.replace('[id]', id), {
          method,
          data: Buffer.from(data, 'latin1'),
          headers: { 'content-type': 'application/json' },
        });
        const text = await response.text();
        const asked = `${method} ${address} of ${id}: ${data.slice(0, 60)} → ${response.status()} ${text.slice(0, 160)}`;
        // Who acts is known by the token: to take an instrument out nothing else need be said.
        if (address.endsWith('/out') && [200, 409].includes(response.status())) continue;
        expect([400, 404, 413, 422], asked).toContain(response.status());
        expect(text, asked).not.toMatch(/at .*\.m?[jt]s:\d+|node_modules|SQLITE|ENOENT|ZodError/);
        const { error } = JSON.parse(text) as { error: { message: string; path: unknown[] } };
        expect(error.message.length, asked).toBeGreaterThan(8);
      }
  expect(await counted()).toBe(before);
  expect((await request.get('/health')).status()).toBe(200);
});

test('an unknown id in the address is said, with a way on', async ({ page, server }) => {
  // The gallery is for those who build this; laboratories are not served it.
  for (const address of ['/instruments/nothing', '/standards/nothing', '/runs/nothing', '/nowhere', '/gallery']) {
    const response = await page.goto(server.url + address);
    expect(response?.status(), address).toBe(404);
    await expect(page.getByRole('heading', { name: 'There is nothing at this address' })).toBeVisible();
  }
});

test('text from people is shown as text', async ({ page, request, server }) => {
  const name = '<img src=x onerror="document.title=1">';
  const answer = await request.post('/api/instruments', {
    data: micrometerEntry(name, { designation: '=1+1', owner: '</script><b>x', serialNumber: '<i>7</i>' }),
  });
  expect(answer.status()).toBe(201);
  await page.goto(`${server.url}/instruments/${((await answer.json()) as { id: string }).id}`);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(name);
  await expect(page).not.toHaveTitle('1');
});
