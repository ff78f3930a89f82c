import { randomUUID } from 'node:crypto';
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
