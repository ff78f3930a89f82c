import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { createClient } from '@libsql/client';
import { expect, test } from '@playwright/test';
import { freePort, start } from './launch';
import { micrometerEntry, serve, type TestServer } from './server';

const person = 'Maud Ellery';
const post = (server: TestServer, path: string, body: unknown) =>
  fetch(`${server.url}${path}`, {
    method: 'POST',
    headers: { ...server.as(), 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });

async function newRun(server: TestServer, name: string): Promise<string> {
  const added = await post(server, '/api/instruments', micrometerEntry(name));
  expect(added.status).toBe(201);
  const { id } = (await added.json()) as { id: string };
  const run = randomUUID();
  const started = await post(server, '/api/runs', {
    run,
    instrument: id,
    procedure: 'outside-micrometer',
    standards: { blocks: ['gb-47'] },
    person,
  });
  expect(started.status).toBe(200);
  return run;
}

const note = (run: string, server: TestServer, sequence: number, key: string, text: string) =>
  post(server, `/api/runs/${run}/events`, {
    expectedSequence: sequence,
    idempotencyKey: key,
    person,
    act: { type: 'note-added', text },
  });

/** Holds the lock from another process. */
function holdLock(file: string, times: number[]) {
  const child = spawn(process.execPath, ['e2e/hold-lock.mjs', file, times.join(',')], { stdio: ['ignore', 'pipe', 'inherit'] });
  const held = new Promise<void>((resolve) => child.stdout.once('data', () => resolve()));
  return { held, ended: new Promise((resolve) => child.once('exit', resolve)) };
}

test.describe('a database that another program locks', () => {
  test('costs no acknowledged write, before or after', async () => {
    const server = await serve('demo');
    const run = await newRun(server, 'LOCK-1');
    const lock = holdLock(server.file, [1500]);
    await lock.held;
    const acknowledged: string[] = [];
    for (let i = 0; i < 12; i++) {
      const key = randomUUID();
      const answer = await note(run, server, i + 1, key, `note ${i}`);
      expect(answer.status).toBe(200);
      acknowledged.push(key);
    }
    await lock.ended;
    await server.kill('SIGKILL');
    const client = createClient({ url: `file:${server.file}` });
    const { rows } = await client.execute({ sql: 'SELECT idempotency_key FROM events WHERE run_id = ?', args: [run] });
    const kept = new Set(rows.map((r) => String(r[0])));
    expect(acknowledged.filter((key) => !kept.has(key))).toEqual([]);
    client.close();
  });

  test(
    'twenty clients, locks of 0.1, 2 and 10 s, a killed server: nothing acknowledged is missing',
    { tag: '@long' },
    async () => {
      test.setTimeout(180_000);
      const server = await serve('demo');
      const runs = await Promise.all(Array.from({ length: 20 }, (_, i) => newRun(server, `LOCK-${i + 10}`)));
      const random = (() => {
        let seed = 7;
        return () => (seed = (seed * 48271) % 2147483647) / 2147483647;
      })();
      const times = Array.from({ length: 8 }, () => [100, 100, 2000][Math.floor(random() * 3)]!);
      times.splice(3, 0, 10_000);
      const lock = holdLock(server.file, times);
      await lock.held;
      const acknowledged: string[] = [];
      let [stopped, unexpected] = [false, 0];
      const clients = runs.map(async (run) => {
        for (let sequence = 1; !stopped;) {
          const key = randomUUID();
          const answer = await note(run, server, sequence, key, `entry ${sequence}`).catch(() => null);
          if (answer === null) break; // the server is gone
          if (answer.status === 200) {
            acknowledged.push(key);
            sequence++;
          } else if (answer.status !== 503) unexpected++;
          await new Promise((resolve) => setTimeout(resolve, 5 + 40 * random()));
        }
      });
      await lock.ended;
      // Killed in the midst of its work, once there is enough to be missed, however slow the machine.
      await expect.poll(() => acknowledged.length, { timeout: 60_000 }).toBeGreaterThan(40);
      await server.kill('SIGKILL');
      stopped = true;
      await Promise.all(clients);
      expect(unexpected).toBe(0);
      const client = createClient({ url: `file:${server.file}` });
      const { rows } = await client.execute('SELECT idempotency_key FROM events');
      const kept = new Set(rows.map((r) => String(r[0])));
      expect(acknowledged.filter((key) => !kept.has(key))).toEqual([]);
      client.close();
      // What was kept is whole: it starts again, and every log is without a gap.
      await server.start();
      for (const run of runs)
        expect((await fetch(`${server.url}/api/runs/${run}/events`, { headers: server.as() })).status).toBe(200);
      await server.kill();
    },
  );

  test('a second server on the same file refuses to start and says which one has it', async () => {
    const server = await serve('demo');
    const second = start({ DATABASE_URL: `file:${server.file}`, PORT: String(await freePort()) });
    expect(await second.ended).toBe(1);
    expect(second.output()).toContain(`in use by the server at ${server.url}/`);
    expect((await fetch(`${server.url}/health`)).status).toBe(200);
    // However the first one ends, the file is free at once.
    await server.kill('SIGKILL');
    await server.start();
    await server.kill();
  });
});
