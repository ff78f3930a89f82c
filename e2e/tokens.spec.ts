import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { expect, openRunOf, test } from './server';

test('a program acts by a token from the command line: as its person, within its roles, until it is ended', async ({
  request,
  server,
}) => {
  const token = (...args: string[]) =>
    execFileSync('npm', ['run', '-s', 'token', '--', ...args], {
      env: { ...process.env, DATABASE_URL: `file:${server.file}` },
      encoding: 'utf8',
    }).trim();
  const own = token('create', '--person', 'Robot Ringer', '--roles', 'technician', '--days', '3');
  expect(own).toMatch(/^\S+$/);
  const by = (bearer: string) => ({ headers: { authorization: `Bearer ${bearer}` } });
  const run = await openRunOf(server, 'qm-0118');
  const address = `/api/runs/${run}/events`;
  const { events } = (await (await request.get(address, by(own))).json()) as { events: { sequence: number }[] };
  const data = {
    expectedSequence: events.at(-1)!.sequence,
    idempotencyKey: randomUUID(),
    // Whoever is named here: it is the bearer who acts.
    person: 'Maud Ellery',
    act: { type: 'note-added', text: 'By wire' },
  };
  const recorded = await request.post(address, { ...by(own), data });
  expect(recorded.status()).toBe(200);
  expect(await recorded.json()).toMatchObject({ event: { person: 'Robot Ringer', token: expect.any(String) } });
  const forbidden = await request.post('/api/people', { ...by(own), data: { name: 'Somebody' } });
  expect([forbidden.status(), ((await forbidden.json()) as { error: { message: string } }).error.message]).toEqual([
    403,
    'Only an administrator may do this.',
  ]);
  for (const bearer of ['jt_nobody', `${own}x`]) {
    const unknown = await request.get(address, by(bearer));
    expect([unknown.status(), unknown.headers()['www-authenticate']]).toEqual([401, 'Bearer']);
  }
  const ownLine = () =>
    token('list')
      .split('\n')
      .find((line) => line.includes('Robot Ringer'))!;
  const listed = ownLine().split('\t');
  expect(listed.slice(1, 3)).toEqual(['Robot Ringer', 'technician']);
  expect(listed.at(-1)).toBe('good');
  token('end', listed[0]!);
  expect((await request.get('/', by(own))).status()).toBe(401);
  expect(ownLine()).toMatch(/ended$/);
});
