import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { randomUUID } from 'node:crypto';
import { propagate } from '../src/core/uncertainty/propagate';
import { coreRatios } from './core-bench';
import { hiddenTruths } from './hidden-bench';
import { intervalRates } from './interval-bench';
import { judgeFamilies } from './judge-families';
import { judgementRates } from './judgement-bench';
import { letIn } from './let-in';
import { median, say, time } from './measure';
import { procedureRatios } from './procedure-bench';
import { TestBench } from '../src/core/run/fixtures/bench';
import { itemsAt } from '../src/core/state/run-case';
import { judgedPoints, mainResult } from '../src/core/run/judged-points';
import { budgetOf } from '../src/core/run/result-budget';
import { evaluationIn } from '../src/core/run/run-results';
import { screwsThatFight } from './screws-bench';
import { runRatios } from './run-bench';

function runBudgets(): void {
  const bench = new TestBench().readAll((n, r) => 0.002 + (((n * 10) | 0) + r) * 1e-5);
  const { state } = bench;
  const main = mainResult(state)!;
  const points = judgedPoints(state, 'as-found', main.series, ['E']);
  const budgets = points.map((p) => budgetOf(state, p.place, 'E')!);
  const groups = points.map((p) => p.repeats);
  const all = bench.setup.standards['blocks']![0]!.document.items!;
  const stacks = points.map((p) =>
    itemsAt(state, { ...p.place, series: 'error', point: p.place.point!, repeat: 1, observation: 'R' }, 'blocks')!.map((id) =>
      all.find((b) => b.id === id)!,
    ),
  );
  const years = 1;
  /** The same budget as one would write it by hand for this very model. */
  const byHand = () => {
    let checksum = 0;
    for (const [i, g] of groups.entries()) {
      const stack = stacks[i]!;
      const m = (g[0]! + g[1]! + g[2]!) / 3;
      const s2 = ((g[0]! - m) ** 2 + (g[1]! - m) ** 2 + (g[2]! - m) ** 2) / 2;
      let L = 0;
      let U = 0;
      for (const b of stack) {
        L += b.certified!;
        U += b.expandedUncertainty / b.coverageFactor;
      }
      const parts = [
        s2 / 3,
        0.0005 ** 2 / 3,
        U * U,
        ((5e-5 * stack.length + 5e-7 * L) * years) ** 2 / 3,
        (5e-5 * (stack.length - 1)) ** 2 / 3,
        (L * 0.4e-6) ** 2 / 3,
        (L * 0.4e-6) ** 2 / 3,
        (L * 1.15e-5 * 0.3) ** 2 / 3,
        0.0005 ** 2 / 3,
      ];
      checksum += m - L * (1 + 1.15e-5 * 0.2) + 2 * Math.sqrt(parts.reduce((a, b) => a + b, 0));
    }
    return checksum;
  };
  const hand = time(byHand, 9, 2000);
  const core = time(() => budgets.forEach((b) => propagate(b)), 9, 50);
  // Readings of its own each time: what is worked out from a state is remembered with it, and with its readings.
  const whole = time(() => evaluationIn({ ...state, readings: [...state.readings] }, 'as-found'), 9, 20);
  say(
    'First-order evaluation of a run’s ten budgets, against the formula written by hand',
    `${(core / hand).toFixed(0)} × (${core.toFixed(3)} ms against ${hand.toFixed(4)} ms)`,
  );
  say(
    'All results of the run (case read, budgets filled, evaluated, judged), against the same',
    `${(whole / hand).toFixed(0)} × (${whole.toFixed(3)} ms)`,
  );
}

async function pages(): Promise<void> {
  if (!existsSync('dist/serve.mjs')) return say('Pages', 'not measured: build first (npm run build)');
  const folder = mkdtempSync(join(tmpdir(), 'just-twice-bench-'));
  const file = join(folder, 'bench.db');
  const env = { ...process.env, DATABASE_URL: `file:${file}`, PORT: '4699', HOST: '127.0.0.1', NODE_ENV: 'production' };
  const server: ChildProcess = spawn(process.execPath, ['dist/serve.mjs', '--demo'], { env, stdio: 'ignore' });
  const url = 'http://127.0.0.1:4699';
  for (
    let i = 0;
    i < 600 &&
    !(await fetch(url).then(
      (r) => r.ok,
      () => false,
    ));
    i++
  )
    await new Promise((resolve) => setTimeout(resolve, 100));
  const headers = letIn(file, 'Maud Ellery');
  const status = readFileSync(`/proc/${server.pid}/status`, 'utf8');
  say(
    'Memory of the server after its first page',
    `${(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1]) / 1024).toFixed(0)} MB resident`,
  );

  const open = async (address: string) => {
    const times: number[] = [];
    let html = '';
    for (let i = 0; i < 15; i++) {
      const start = performance.now();
      html = await (await fetch(url + address, { headers })).text();
      times.push(performance.now() - start);
    }
    return { time: median(times.slice(3)), html };
  };
  const instrumentPage = await (await fetch(`${url}/instruments/qm-0118`, { headers })).text();
  const run = /openRun&quot;:\[0,&quot;([0-9a-f-]{36})/.exec(instrumentPage)![1]!;
  const few = await open(`/runs/${run}`);
  await takeManyReadings(url, run, 200, headers);
  const many = await open(`/runs/${run}`);
  const bench = await open('/');
  say(
    'Opening the run page with 200 readings in its log, against 13',
    `${(many.time / few.time).toFixed(2)} × (${many.time.toFixed(1)} ms against ${few.time.toFixed(1)} ms)`,
  );
  for (const [name, { html }] of Object.entries({
    bench,
    run: many,
    instrument: await open('/instruments/qm-0112'),
    standard: await open('/standards/gb-47'),
  }))
    say(`JavaScript of the ${name} page, gzipped`, `${(javascriptOf(html) / 1000).toFixed(0)} kB`);
  server.kill();
  rmSync(folder, { recursive: true, force: true });
}

/** Readings that are struck out again, so that the log grows as a careful person's would. */
async function takeManyReadings(url: string, run: string, wanted: number, headers: Record<string, string>): Promise<void> {
  const address = `${url}/api/runs/${run}/events`;
  const log = (await (await fetch(address, { headers })).json()) as { events: { sequence: number }[] };
  let sequence = log.events.length;
  const post = async (act: unknown) => {
    const response = await fetch(address, {
      method: 'POST',
      headers: { ...headers, 'content-type': 'application/json' },
      body: JSON.stringify({ expectedSequence: sequence, idempotencyKey: randomUUID(), person: 'Maud Ellery', act }),
    });
    if (!response.ok) throw new Error(await response.text());
    sequence++;
  };
  for (let taken = 13; taken < wanted; taken++) {
    await post({ type: 'observed', set: 'as-found', series: 'error', point: 'p8', repeat: 1, observation: 'R', text: '20.201' });
    await post({ type: 'struck', sequence, reason: 'Taken again' });
  }
}

/** Size of every script a page loads, followed through its imports. */
function javascriptOf(html: string): number {
  const seen = new Set<string>();
  const visit = (path: string) => {
    if (seen.has(path) || !existsSync(join('dist/client', path))) return;
    seen.add(path);
    const source = readFileSync(join('dist/client', path), 'utf8');
    for (const [, next] of source.matchAll(/(?:from|import)\s*["']\.\/([^"']+\.js)["']/g)) visit(`/_astro/${next}`);
  };
  for (const [path] of html.matchAll(/\/_astro\/[\w.-]+\.js/g)) visit(path);
  return [...seen].reduce((sum, path) => sum + gzipSync(readFileSync(join('dist/client', path))).length, 0);
}

/** Everything that is measured; `npm run bench -- intervals` measures one part alone. */
const parts: Record<string, () => void | Promise<void>> = {
  core: coreRatios,
  procedures: procedureRatios,
  runs: () => {
    runBudgets();
    runRatios();
  },
  judge: () => {
    judgementRates();
    judgeFamilies();
    screwsThatFight();
  },
  intervals: intervalRates,
  hidden: hiddenTruths,
  pages,
};
const asked = process.argv.slice(2);
for (const [name, measure] of Object.entries(parts)) if (asked.length === 0 || asked.includes(name)) await measure();
