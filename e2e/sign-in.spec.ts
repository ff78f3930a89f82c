import type { Page } from '@playwright/test';
import { endpoints, rolesOf, type Endpoint, type EndpointName } from '../src/contract/endpoints';
import { awake, expect, openRunOf, serve, test, type TestServer } from './server';

/** A browser of its own at a server of its own, that carries no token. */
async function atBench(page: Page): Promise<TestServer> {
  const server = await serve('demo');
  await page.context().setExtraHTTPHeaders({});
  return server;
}

const who = (page: Page, name: string) =>
  expect(page.getByRole('button', { name: new RegExp(`^${name}: hand on`) })).toBeVisible();

test('a bench is handed on in the middle of a run, and what was typed stays', async ({ page }) => {
  const server = await atBench(page);
  const run = await openRunOf(server, 'qm-0118');
  await page.goto(`${server.url}/runs/${run}`);
  // Nobody is let in; one key enters the demo, and leads to where one wanted to go.
  await expect(page.getByRole('heading', { name: /Quillmere/ })).toBeVisible();
  await awake(page);
  await page.keyboard.press('1');
  await page.waitForURL(`**/runs/${run}`);
  await awake(page);
  await who(page, 'Maud Ellery');
  const field = page.getByLabel(/Micrometer in mm/);
  await expect(field).toBeFocused();
  const heading = await page.getByRole('heading', { level: 2 }).first().textContent();
  await page.keyboard.type('12.9');

  // Two keys and the digits: somebody else goes on with what stands there.
  await page.keyboard.press('F2');
  const dialog = page.getByRole('dialog', { name: 'Who works here now?' });
  await expect(dialog.getByRole('button', { name: /Tobias Wrenfield/ })).toBeVisible();
  await dialog.getByRole('button', { name: /Tobias Wrenfield/ }).click();
  await page.keyboard.type('0000');
  await page.keyboard.press('Enter');
  await expect(dialog.getByRole('alert')).toHaveText('These are not the digits.');
  await page.keyboard.type('5926');
  await page.keyboard.press('Enter');
  await expect(dialog).toBeHidden();
  await who(page, 'Tobias Wrenfield');
  await expect(field).toHaveValue('12.9');
  await expect(page.getByRole('heading', { level: 2 }).first()).toHaveText(heading!);
  await field.press('End');
  await page.keyboard.type('01');
  const recorded = page.waitForResponse((r) => r.request().method() === 'POST' && r.url().includes('/events'));
  await page.keyboard.press('Enter');
  expect(((await (await recorded).json()) as { event: { person: string } }).event.person).toBe('Tobias Wrenfield');

  // Signed off, nothing can be done or seen of it until somebody is here; the page behind stays as it was.
  await page.keyboard.type('12.8');
  await page.keyboard.press('F2');
  await page.getByRole('button', { name: 'Sign off' }).click();
  const locked = page.getByRole('dialog', { name: /who is here/ });
  await expect(locked).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(locked).toBeVisible();
  expect((await page.request.get(`${server.url}/api/runs/${run}/events`, { headers: { authorization: '' } })).status()).toBe(401);
  await page.keyboard.type('5926');
  await page.keyboard.press('Enter');
  await expect(locked).toBeHidden();
  await expect(page.getByLabel(/Micrometer in mm/)).toHaveValue('12.8');
  await server.kill();
});

test('whoever took part is refused at review, whoever may signs with digits', async ({ page }) => {
  const server = await atBench(page);
  const board = await (await fetch(server.url, { headers: server.as() })).text();
  const [, run] = /unreviewed&quot;:\[1,\[\[0,\{&quot;id&quot;:\[0,&quot;([0-9a-f-]{36})/.exec(board)!;
  await page.goto(`${server.url}/runs/${run}`);
  await awake(page);
  // Tobias calibrates and does not review: whatever the screen offers, the server says no.
  await page.keyboard.press('2');
  await page.waitForURL(`**/runs/${run}`);
  await awake(page);
  const sign = (person: string) =>
    page.evaluate(
      async ({ address, name }) => {
        const { events } = (await (await fetch(address)).json()) as { events: { sequence: number }[] };
        const answer = await fetch(address, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({
            expectedSequence: events.at(-1)!.sequence,
            idempotencyKey: crypto.randomUUID(),
            person: name,
            act: { type: 'run-reviewed', remark: '' },
          }),
        });
        return [answer.status, ((await answer.json()) as { error: { message: string } }).error.message];
      },
      { address: `/api/runs/${run}/events`, name: person },
    );
  expect(await sign('Tobias Wrenfield')).toEqual([422, 'Only a reviewer may do this. Ask somebody who is one.']);
  // Nor does he do it under the name of another, as a window would that was opened before he took over.
  expect(await sign('Ines Calderstone')).toEqual([401, expect.stringContaining('Tobias Wrenfield is at this bench now')]);
  await page.keyboard.press('F2');
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Ines Calderstone/ })
    .click();
  await page.keyboard.type('8350');
  await page.keyboard.press('Enter');
  await who(page, 'Ines Calderstone');
  await page.getByRole('button', { name: 'Sign as Ines Calderstone' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sign as Ines Calderstone' });
  await expect(dialog).toContainText(/is reviewed, and its certificate .* released/);
  await page.keyboard.type('1111');
  await page.keyboard.press('Enter');
  await expect(dialog.getByRole('alert')).toHaveText('These are not the digits.');
  await page.keyboard.type('8350');
  await page.keyboard.press('Enter');
  await expect(page.getByText('A mistake in it?')).toBeVisible();
  // And it stands among what was done.
  await page.goto(`${server.url}/deeds?person=Ines+Calderstone`);
  await expect(page.getByRole('row', { name: /Reviewed, and released it/ }).first()).toBeVisible();
  await server.kill();
});

test('nothing is open without a session, beyond a role, or by a link of another', async () => {
  const server = await serve('demo');
  const admin = server.as('Ines Calderstone');
  const ask = (method: string, path: string, headers: Record<string, string> = {}, body?: unknown) =>
    fetch(server.url + path, {
      method,
      redirect: 'manual',
      headers: { ...headers, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  const made = async (path: string, body: unknown) =>
    (await (await ask('POST', path, admin, body)).json()) as Record<string, string>;
  const token = async (roles: string[]) => ({
    authorization: `Bearer ${(await made('/api/tokens', { name: 'Tobias Wrenfield', roles, days: 1 }))['token']}`,
  });
  const technician = await token(['technician']);
  // Somebody outside, who owns two instruments.
  await made('/api/people', { name: 'Odo Fennimore' });
  const owner = 'Harrowfield Apothecary Works';
  expect((await ask('PUT', '/api/people/roles', admin, { name: 'Odo Fennimore', roles: ['owner'], owner })).status).toBe(200);
  const link = (await made('/api/people/link', { name: 'Odo Fennimore', days: 2 }))['path']!;
  const id = (await made('/api/people/link', { name: 'Odo Fennimore', days: 2 }))['id']!;

  const stale = { cookie: 'just-twice.session_token=gone.AAAA' };
  const names = Object.keys(endpoints) as EndpointName[];
  for (const name of names) {
    const [method, address] = name.split(' ') as [string, string];
    const path = address.replace('[id]', 'qm-0140');
    const endpoint: Endpoint = endpoints[name];
    if (endpoint.isOpen) continue;
    const body = method === 'GET' ? undefined : {};
    for (const headers of [{}, stale]) {
      const answer = await ask(method, path, headers, body);
      expect([answer.status, (await answer.text()).length < 400], `${name} by nobody`).toEqual([401, true]);
    }
    if (!rolesOf(name).includes('technician'))
      expect((await ask(method, path, technician, body)).status, `${name} by a technician`).toBe(403);
  }
  for (const page of ['/', '/instruments', '/instruments/qm-0140', '/people', '/deeds', '/me', '/mine', '/standards/gb-47'])
    for (const headers of [{}, stale]) {
      const answer = await ask('GET', page, headers);
      expect([answer.status, answer.headers.get('location')], page).toEqual([302, `/sign-in?to=${encodeURIComponent(page)}`]);
    }

  // The link: its own, for as long as it is good, and nothing else.
  const followed = await ask('GET', link);
  const cookie = followed.headers.getSetCookie()[0]!.split(';')[0]!;
  const mine = await (await ask('GET', '/mine', { cookie })).text();
  expect(mine).toContain(owner);
  const runs = [...mine.matchAll(/\/api\/mine\/([0-9a-f-]+)\/certificate\.pdf/g)].map(([, run]) => run);
  expect(runs.length).toBeGreaterThan(0);
  const pdf = await ask('GET', `/api/mine/${runs[0]}/certificate.pdf`, { cookie });
  expect([pdf.status, pdf.headers.get('content-type')]).toEqual([200, 'application/pdf']);
  for (const name of names.filter(
    (n) => !(endpoints[n] as Endpoint).isOpen && !/\/api\/(mine|me|sign-in)|calendar\.ics/.test(n),
  )) {
    const [method, address] = name.split(' ') as [string, string];
    const answer = await ask(method, address.replace('[id]', runs[0]!), { cookie }, method === 'GET' ? undefined : {});
    expect([401, 403], `${name} by an owner`).toContain(answer.status);
  }
  // Of the calendar it gets its own, whatever the address asks for.
  const events = (text: string) => [...text.matchAll(/\/instruments\/([\w-]+)/g)].map(([, instrument]) => instrument).sort();
  const due = async (path: string, headers: Record<string, string>) => events(await (await ask('GET', path, headers)).text());
  const own = await due(`/calendar.ics?owner=${encodeURIComponent(owner)}`, admin);
  const everybodys = await due('/calendar.ics', admin);
  expect([own.length > 0, everybodys.length > own.length]).toEqual([true, true]);
  for (const path of ['/calendar.ics', '/calendar.ics?owner=Quillmere+Bell+%26+Organ+Works'])
    expect(await due(path, { cookie }), path).toEqual(own);
  const board = await (await ask('GET', '/instruments/qm-0118', admin)).text();
  const foreign = /\/runs\/([0-9a-f-]{36})/.exec(board)![1]!;
  expect((await ask('GET', `/api/mine/${foreign}/certificate.pdf`, { cookie })).status).toBe(404);
  // A technician's token is none; a touched link is none; one that ended is none.
  for (const forged of [technician.authorization.replace('Bearer ', ''), `${cookie.split('=')[1]!.slice(0, -1)}_`, 'jt_AAAA'])
    expect((await ask('GET', '/mine', { cookie: `just-twice.link=${forged}` })).status, forged.slice(0, 6)).toBe(302);
  expect((await ask('DELETE', `/api/tokens/${id}`, admin)).status).toBe(200);
  await server.kill();
});
