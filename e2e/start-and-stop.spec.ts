import { spawn } from 'node:child_process';
import { chmodSync, copyFileSync, existsSync, mkdtempSync, readFileSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createClient } from '@libsql/client';
import { expect, test } from '@playwright/test';
import { freePort, launch, start } from './launch';
import { demoFile } from './make-demo';

const folder = () => mkdtempSync(join(tmpdir(), 'just-twice-start-'));
const demoCopy = () => {
  const file = join(folder(), 'data.db');
  copyFileSync(demoFile, file);
  return file;
};
const environment = async (file: string) => ({ DATABASE_URL: `file:${file}`, PORT: String(await freePort()) });

/** Starts, and expects one sentence and exit code 1 within five seconds of work: how long that takes is the machine's other work as well. */
async function refusal(env: Record<string, string>, flags: string[] = []): Promise<string> {
  const server = start(env, flags);
  let worked = 0;
  const watch = setInterval(() => (worked = workedBy(server.process.pid!) ?? worked), 50);
  expect(await server.ended).toBe(1);
  clearInterval(watch);
  expect(worked).toBeLessThan(5);
  const said = server.output().trim();
  expect(said).not.toMatch(/\n\s+at /);
  expect(said.split('\n')).toHaveLength(1);
  return said;
}

/** What a process has worked, in s (its own clock of 100 ticks a second); null when it is gone. */
function workedBy(pid: number): number | null {
  const stat = `/proc/${pid}/stat`;
  if (!existsSync(stat)) return null;
  const [user, system] = readFileSync(stat, 'utf8').split(') ')[1]!.split(' ').slice(11, 13).map(Number);
  return (user! + system!) / 100;
}

async function ask(file: string, sql: string): Promise<unknown> {
  const client = createClient({ url: `file:${file}` });
  const { rows } = await client.execute(sql);
  client.close();
  return rows[0]?.[0];
}

test.describe('what stands in the way of starting is said in one sentence', () => {
  test('a port in use', async () => {
    const other = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => other.once('listening', resolve));
    const { port } = other.address() as { port: number };
    expect(await refusal({ DATABASE_URL: `file:${demoCopy()}`, PORT: String(port) })).toContain(
      `Port ${port} of 127.0.0.1 is in use`,
    );
    other.close();
  });
  test('a damaged database', async () => {
    const file = demoCopy();
    const bytes = readFileSync(file);
    bytes.fill(0x5a, 4096 * 3, 4096 * 12);
    writeFileSync(file, bytes);
    expect(await refusal(await environment(file))).toMatch(/is damaged \(.*restore/i);
  });
  test('a file that is no database', async () => {
    const file = join(folder(), 'data.db');
    writeFileSync(file, 'Dear laboratory, '.repeat(400));
    expect(await refusal(await environment(file))).toContain('is damaged');
  });
  test('a file of zero bytes where there was data', async () => {
    const file = demoCopy();
    truncateSync(file, 0);
    expect(await refusal(await environment(file))).toContain('is empty (0 bytes)');
    expect(statSync(file).size).toBe(0);
  });
  test('a read-only file', async () => {
    const file = demoCopy();
    chmodSync(file, 0o444);
    expect(await refusal(await environment(file))).toContain('is read-only');
  });
  test('a folder that cannot exist', async () => {
    const file = join(folder(), 'a-file');
    writeFileSync(file, '');
    expect(await refusal(await environment(join(file, 'data.db')))).toContain('cannot be made or written to');
  });
  test('a setting that means nothing', async () => {
    expect(await refusal({ ...(await environment(demoCopy())), PORT: 'seven' })).toContain('PORT');
    expect(await refusal({ ...(await environment(demoCopy())), HOST: '203.0.113.7' })).toContain('203.0.113.7');
  });
});

test.describe('data', () => {
  test('of a laboratory is never wiped', async () => {
    const file = demoCopy();
    expect(await refusal(await environment(file), ['--fresh'])).toContain('Only the demo can be made anew');
    const instruments = await ask(file, 'SELECT count(*) FROM instruments');
    const client = createClient({ url: `file:${file}` });
    await client.execute("UPDATE laboratory SET name = 'Somebody’s own'");
    await client.execute('DELETE FROM facts');
    client.close();
    expect(await refusal(await environment(file), ['--demo', '--fresh'])).toContain("a laboratory's own data");
    expect(await refusal(await environment(file), ['--demo'])).toContain("a laboratory's own data");
    expect(Number(instruments)).toBeGreaterThan(0);
    expect(await ask(file, 'SELECT count(*) FROM instruments')).toBe(instruments);
  });
  test('of the demo is made anew when asked, but not while a server uses it', { tag: '@long' }, async () => {
    const file = demoCopy();
    const client = createClient({ url: `file:${file}` });
    await client.execute("UPDATE instruments SET owner = 'Changed'");
    client.close();
    const server = await launch(await environment(file));
    expect(await refusal(await environment(file), ['--demo', '--fresh'])).toContain('in use by the server');
    await server.stop('SIGTERM');
    await (await launch(await environment(file), ['--demo', '--fresh'])).stop('SIGTERM');
    expect(Number(await ask(file, "SELECT count(*) FROM instruments WHERE owner = 'Changed'"))).toBe(0);
  });
  test('half made is made again', { tag: '@long' }, async () => {
    const file = join(folder(), 'demo.db');
    const env = await environment(file);
    const killed = start(env, ['--demo']);
    // In the middle: the works have a name, and not all of its runs.
    await expect
      .poll(async () => (existsSync(file) ? await ask(file, 'SELECT count(*) FROM runs').catch(() => 0) : 0), {
        intervals: [20],
        timeout: 60_000,
      })
      .toBeGreaterThan(3);
    const meanwhile = await fetch(`http://127.0.0.1:${env.PORT}/`);
    expect(meanwhile.status).toBe(503);
    expect(await meanwhile.text()).toMatch(/^Just Twice is starting\. Making the demo: \d+ of \d+ calibrations are done\./);
    await killed.stop('SIGKILL');
    expect(await ask(file, "SELECT value FROM facts WHERE key = 'demo'")).toBe('being-made');
    await (await launch(env, ['--demo'])).stop('SIGTERM');
    expect(await ask(file, "SELECT value FROM facts WHERE key = 'demo'")).toBe('whole');
    expect(await ask(file, 'SELECT count(*) FROM runs')).toBe(await ask(demoFile, 'SELECT count(*) FROM runs'));
  });
});

test.describe('stopping', () => {
  test('writes the log back into the file and ends with 0', async () => {
    const file = demoCopy();
    const server = await launch(await environment(file));
    expect(await server.stop('SIGTERM')).toBe(0);
    for (const suffix of ['-wal', '.server'])
      expect(existsSync(file + suffix) && statSync(file + suffix).size > 0, suffix).toBe(false);
    expect(await ask(file, 'PRAGMA quick_check')).toBe('ok');
  });
  test('npm start serves in its own process: killing it leaves nothing behind', { tag: '@long' }, async () => {
    const port = await freePort();
    const env = {
      ...process.env,
      DATABASE_URL: `file:${demoCopy()}`,
      PORT: String(port),
      HOST: '127.0.0.1',
      LOG_LEVEL: 'silent',
    };
    const began = spawn(process.execPath, ['scripts/serve.mjs'], { env, stdio: ['ignore', 'pipe', 'inherit'] });
    let said = '';
    began.stdout.on('data', (text: Buffer) => (said += text.toString()));
    await expect.poll(() => said, { timeout: 60_000 }).toContain('Just Twice is at');
    // Neither installed nor built: everything was there.
    expect(said).not.toMatch(/Installing|Building/);
    began.kill('SIGKILL');
    await new Promise((resolve) => began.once('exit', resolve));
    await expect(fetch(`http://127.0.0.1:${port}/health`)).rejects.toThrow();
  });
});
