// npm run bench:large -- small.db large.db: what pages and entries cost the server, at two sizes, and how they grow.
import { letIn } from './let-in';
import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { setTimeout as pause } from 'node:timers/promises';
import { createClient } from '@libsql/client';
import { median } from './measure';

const repeats = 9;
/** Requests before those that count: what a server has done before costs less. */
const warm = 4;
/** Clock ticks of Linux, of which /proc counts the work of a process. */
const ticks = 100;
const person = 'Maud Ellery';

const workOf = ({ pid }: ChildProcess): number => {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
    .replace(/^.*\) /, '')
    .split(' ');
  return ((Number(fields[11]) + Number(fields[12])) * 1000) / ticks;
};
const memoryOf = ({ pid }: ChildProcess, what: 'VmRSS' | 'VmHWM'): number =>
  Number(new RegExp(`${what}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;

async function serverOn(file: string, port: number): Promise<ChildProcess> {
  const server = spawn('node', ['dist/serve.mjs'], {
    env: { ...process.env, DATABASE_URL: `file:${file}`, PORT: String(port), HOST: '127.0.0.1', NODE_ENV: 'production' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  for (;;) {
    const answer = await fetch(`http://127.0.0.1:${port}/health`).catch(() => null);
    if (answer?.ok) break;
    if (server.exitCode !== null) throw new Error(`The server did not start on ${file}.`);
    await pause(500);
  }
  // What is derived in the background is made first.
  for (let quiet = 0, before = workOf(server); quiet < 4; before = workOf(server)) {
    await pause(1000);
    quiet = workOf(server) - before < 30 ? quiet + 1 : 0;
  }
  return server;
}

type Measured = Map<string, number>;

async function measured(file: string, port: number): Promise<Measured> {
  const db = createClient({ url: `file:${file}` });
  const one = async (sql: string): Promise<string> => String((await db.execute(sql)).rows[0]![0]);
  const open = await one(`SELECT id FROM runs WHERE status = 'open' AND set_up IS NULL ORDER BY id LIMIT 1`);
  const finished = await one(
    `SELECT id FROM runs WHERE status = 'finished' AND purpose = 'calibration' ORDER BY id DESC LIMIT 1`,
  );
  const instrument = await one(`SELECT instrument_id FROM runs WHERE id = '${finished}'`);
  const checked = await one(`SELECT instrument_id FROM runs WHERE purpose = 'quick' ORDER BY id DESC LIMIT 1`);
  const kind = await one(`SELECT kind FROM instruments WHERE id = '${instrument}'`);
  const procedure = await one(`SELECT procedure_id FROM runs WHERE id = '${finished}'`);
  const standard = await one(`SELECT standard_id FROM run_standards GROUP BY 1 ORDER BY count(*) DESC LIMIT 1`);
  db.close();
  const headers = letIn(file, person);
  const server = await serverOn(file, port);
  const base = `http://127.0.0.1:${port}`;
  const found: Measured = new Map();
  const cost = async (what: string, ask: () => Promise<Response>, times = repeats): Promise<void> => {
    const costs: number[] = [];
    for (let i = 0; i < times + warm; i++) {
      const before = workOf(server);
      const answer = await ask();
      await answer.arrayBuffer();
      if (!answer.ok) throw new Error(`${what}: ${answer.status} ${answer.url}`);
      if (i >= warm) costs.push(workOf(server) - before);
    }
    found.set(what, median(costs));
    console.error(`  ${what.padEnd(44)} ${median(costs).toFixed(0)} ms`);
  };
  try {
    for (const [what, path] of [
      ['Bench', '/'],
      ['Due', '/due'],
      ['Instruments', '/instruments'],
      ['Instruments, searched', '/instruments?q=qm+01'],
      ['Instruments, overdue', '/instruments?due=overdue'],
      ['An instrument', `/instruments/${instrument}`],
      ['Its quick checks', `/instruments/${checked}/checks`],
      ['Quick checks', '/quick'],
      ['A run', `/runs/${open}`],
      ['A record', `/runs/${finished}`],
      ['Standards', '/standards'],
      ['A standard', `/standards/${standard}`],
      ['Procedures', '/procedures'],
      ['A procedure', `/procedures/${procedure}`],
      ['Similar instruments', `/families/${kind}`],
      ['Laboratory', '/laboratory'],
      ['Health', '/health'],
      ['Calendar', '/calendar.ics'],
      ['A certificate as PDF', `/api/runs/${finished}/certificate.pdf`],
    ] as const)
      await cost(what, () => fetch(base + path, { headers }), what === 'Calendar' ? 1 : repeats);
    let sequence = Number(
      await (
        await fetch(`${base}/api/runs/${open}/events`, { headers })
      )
        .json()
        .then((a: { events: { sequence: number }[] }) => a.events.at(-1)!.sequence),
    );
    const enter = () =>
      fetch(`${base}/api/runs/${open}/events`, {
        method: 'POST',
        headers: { ...headers, 'content-type': 'application/json' },
        body: JSON.stringify({
          expectedSequence: sequence++,
          idempotencyKey: randomUUID(),
          person,
          act: { type: 'note-added', text: 'Measured how long this takes' },
        }),
      });
    // So many that the ticks of the clock do not matter.
    const many = 60;
    await cost(
      'An entry, sixty of them',
      async () => {
        for (let i = 1; i < many; i++) await (await enter()).arrayBuffer();
        return enter();
      },
      3,
    );
    found.set('An entry', found.get('An entry, sixty of them')! / many);
    found.delete('An entry, sixty of them');
    // Beside eight heavy requests the clock tells what the bench waits for.
    const heavy = Array.from({ length: 8 }, (_, i) =>
      fetch(`${base}${i % 2 ? '/calendar.ics' : `/families/${kind}`}`, { headers }).then((a) => a.arrayBuffer()),
    );
    const waits: number[] = [];
    for (let i = 0; i < 15; i++) {
      const began = performance.now();
      await (await enter()).arrayBuffer();
      waits.push(performance.now() - began);
    }
    found.set('An entry beside eight heavy requests, waited', median(waits));
    found.set('The longest of those', Math.max(...waits));
    await Promise.all(heavy);
    found.set('Memory at rest, MB', memoryOf(server, 'VmRSS'));
    found.set('Memory at the most, MB', memoryOf(server, 'VmHWM'));
  } finally {
    server.kill('SIGTERM');
    await new Promise((resolve) => server.once('exit', resolve));
  }
  return found;
}

const [small, large] = process.argv.slice(2);
if (!small) throw new Error('Name one database or two: npm run bench:large -- demo.db large.db');
const port = 4700 + (process.pid % 200);
const first = await measured(small, port);
const second = large ? await measured(large, port + 1) : null;
console.log(`Server work in ms (memory in MB), medians of ${repeats}, on ${cpus().length} processors`);
for (const [what, value] of first)
  console.log(
    `${what.padEnd(48)} ${value.toFixed(1).padStart(9)}${second ? ` ${second.get(what)!.toFixed(1).padStart(9)}   × ${(second.get(what)! / Math.max(value, 0.1)).toFixed(1)}` : ''}`,
  );
