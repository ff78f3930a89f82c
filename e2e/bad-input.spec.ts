import { randomUUID } from 'node:crypto';
import { expect, test } from './server';

const openRun = '/api/runs/00000000-0000-4000-8000-0000000a0118/events';
const body = (act: unknown, more = {}) => ({
  expectedSequence: 1,
  idempotencyKey: randomUUID(),
  person: 'Maud Ellery',
  act,
  ...more,
});

test('endpoints answer bad input with a status, a message and the path of the fault', async ({ request }) => {
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
  expect(await post(openRun, body({ type: 'soak-started' }, { idempotencyKey: 'again' }))).toMatchObject({
    status: 422,
    error: { path: ['idempotencyKey'] },
  });
  expect(await post(openRun, body({ type: 'reading-taken', pass: 'as-found', point: 'p1', text: 'x'.repeat(40) }))).toMatchObject(
    { status: 422, error: { path: ['act', 'text'] } },
  );
  expect(await post(openRun, `{"x":"${'y'.repeat(400_000)}"}`)).toMatchObject({ status: 413 });
  expect(await post('/api/runs/nothing/events', body({ type: 'soak-started' }))).toMatchObject({ status: 404 });
  expect(
    await post('/api/runs', { run: randomUUID(), instrument: "'; DROP TABLE runs", standard: 'gb-47', person: 'Maud Ellery' }),
  ).toMatchObject({ status: 422, error: { path: ['instrument'] } });
  expect(await post('/api/instruments', { identification: '' })).toMatchObject({
    status: 422,
    error: { path: ['identification'] },
  });
  expect(await post('/api/nothing', {})).toMatchObject({ status: 404 });
  expect((await request.delete(openRun, { data: {} })).status()).toBe(405);
  const { events } = (await (await request.get(openRun)).json()) as { events: unknown[] };
  const behind = await post(openRun, body({ type: 'soak-started' }));
  expect(behind.status).toBe(409);
  expect(((await (await request.get(openRun)).json()) as { events: unknown[] }).events).toHaveLength(events.length);
});

test('an unknown id in the address is said, with a way on', async ({ page, server }) => {
  for (const address of ['/instruments/nothing', '/standards/nothing', '/runs/nothing', '/nowhere']) {
    const response = await page.goto(server.url + address);
    expect(response?.status(), address).toBe(404);
    await expect(page.getByRole('heading', { name: 'There is nothing at this address' })).toBeVisible();
  }
});

test('text from people is shown as text', async ({ page, request, server }) => {
  const name = '<img src=x onerror="document.title=1">';
  const answer = await request.post('/api/instruments', {
    data: {
      identification: name,
      kind: 'outside-micrometer',
      designation: '=1+1',
      owner: '</script><b>x',
      place: '',
      rangeLower: 0,
      rangeUpper: 25,
      calibratedLower: 0,
      calibratedUpper: 25,
      resolution: 0.001,
      maximumPermissibleError: null,
      adjustmentAllowed: true,
      intervalMonths: null,
      state: 'in-use',
      nextDue: null,
    },
  });
  expect(answer.status()).toBe(201);
  await page.goto(`${server.url}/instruments/${((await answer.json()) as { id: string }).id}`);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(name);
  await expect(page).not.toHaveTitle('1');
});
