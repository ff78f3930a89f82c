import { Worker } from 'node:worker_threads';
import { buildSync } from 'esbuild';
import { compile } from 'mathjs';
import { globalRisk } from '../src/core/conformity/global-risk';
import { blockSize } from '../src/core/montecarlo/block-program';
import { localBlocks, montecarlo } from '../src/core/montecarlo/montecarlo';
import { montecarloSchema } from '../src/core/montecarlo/montecarlo-schema';
import { normalDeviate } from '../src/core/montecarlo/normal-deviate';
import { RandomStream } from '../src/core/montecarlo/random-stream';
import type { Budget, Distribution } from '../src/core/uncertainty/budget-schema';
import { propagate } from '../src/core/uncertainty/propagate';
import { median, say, time } from './measure';

const trials = 1_000_000;
const normal = (mean: number, standardUncertainty: number): Distribution => ({ type: 'normal', mean, standardUncertainty });
const rectangular = (mean: number, halfWidth: number): Distribution => ({ type: 'rectangular', mean, halfWidth });

const model = 'L*(1 + a*t) + d - r^2';
const inputs: Record<string, Distribution> = {
  L: normal(100, 0.001),
  a: rectangular(1.15e-5, 1e-6),
  t: rectangular(0.2, 0.5),
  d: normal(0, 0.0004),
  r: normal(0.01, 0.002),
};
const budget: Budget = {
  format: 'just-twice/budget',
  version: 1,
  name: 'five inputs',
  output: { symbol: 'Y', unit: 'mm' },
  model,
  quantities: Object.entries(inputs).map(([symbol, distribution]) => ({ symbol, unit: 'mm', distribution })),
};
const question = montecarloSchema.parse({ budget, trials, seed: 1, probability: 0.95, interval: 'shortest' });

function handWritten(): Float64Array {
  const stream = new RandomStream(1);
  const out = new Float64Array(trials);
  for (let i = 0; i < trials; i++) {
    const L = 100 + 0.001 * normalDeviate(stream);
    const a = 1.05e-5 + 2e-6 * stream.uniform();
    const t = -0.3 + stream.uniform();
    const d = 0.0004 * normalDeviate(stream);
    const r = 0.01 + 0.002 * normalDeviate(stream);
    out[i] = L * (1 + a * t) + d - r * r;
  }
  return out;
}

const once = async (work: () => unknown): Promise<number> => {
  const start = performance.now();
  await work();
  return performance.now() - start;
};
/** Medians of interleaved runs: what else the machine does falls on all alike. */
async function interleaved(works: Record<string, () => unknown>, rounds = 7): Promise<Record<string, number>> {
  const times: Record<string, number[]> = Object.fromEntries(Object.keys(works).map((k) => [k, []]));
  for (let i = 0; i < rounds + 2; i++) for (const [name, work] of Object.entries(works)) times[name]!.push(await once(work));
  return Object.fromEntries(Object.entries(times).map(([k, v]) => [k, median(v.slice(2))]));
}

async function montecarloRatios(): Promise<void> {
  const blocks = trials / blockSize;
  const columns = Object.fromEntries(Object.keys(inputs).map((k) => [k, 0]));
  const expression = compile(model);
  const perTrial = () => {
    const stream = new RandomStream(1);
    // A tenth of the trials is enough to time: each costs the same.
    for (let i = 0; i < trials / 10; i++) {
      columns['L'] = 100 + 0.001 * normalDeviate(stream);
      columns['a'] = 1.05e-5 + 2e-6 * stream.uniform();
      columns['t'] = -0.3 + stream.uniform();
      columns['d'] = 0.0004 * normalDeviate(stream);
      columns['r'] = 0.01 + 0.002 * normalDeviate(stream);
      expression.evaluate(columns);
    }
  };
  const t = await interleaved({
    hand: handWritten,
    sampling: () => localBlocks(question)(0, blocks),
    whole: () => montecarlo(question),
    perTrial,
  });
  say(
    '(a) Sampling and model, five inputs, 10⁶ trials: throughput against a hand-written loop (≥ 0.8)',
    `${(t['hand']! / t['sampling']!).toFixed(2)} (${t['sampling']!.toFixed(0)} ms against ${t['hand']!.toFixed(0)} ms)`,
  );
  say(
    '(b) The same against a general evaluator called for every trial (≥ 10)',
    `${((t['perTrial']! * 10) / t['sampling']!).toFixed(1)} × (${(t['perTrial']! * 10).toFixed(0)} ms)`,
  );
  say(
    '(c) The whole montecarlo against its sampling alone (≤ 1.6)',
    `${(t['whole']! / t['sampling']!).toFixed(2)} × (${t['whole']!.toFixed(0)} ms)`,
  );
}

async function workerRatio(): Promise<void> {
  const { outputFiles } = buildSync({
    stdin: {
      contents:
        "import { parentPort } from 'node:worker_threads'; import { compileBlocks, blockSize } from './src/core/montecarlo/block-program'; parentPort.on('message', ({ budget, seed, from, count }) => { const program = compileBlocks(budget); const values = new Float64Array(count * blockSize); for (let b = 0; b < count; b++) program(seed, from + b, values.subarray(b * blockSize, (b + 1) * blockSize)); parentPort.postMessage(values, [values.buffer]); });",
      resolveDir: process.cwd(),
      loader: 'ts',
    },
    bundle: true,
    write: false,
    platform: 'node',
    format: 'cjs',
  });
  const workers = [0, 1].map(() => new Worker(outputFiles[0]!.text, { eval: true }));
  const draw = (worker: Worker, from: number, count: number) =>
    new Promise((resolve) => {
      worker.once('message', resolve);
      worker.postMessage({ budget, seed: 1, from, count });
    });
  const blocks = 400;
  const t = await interleaved(
    {
      one: () => draw(workers[0]!, 0, blocks),
      two: () => Promise.all([draw(workers[0]!, 0, blocks / 2), draw(workers[1]!, blocks / 2, blocks / 2)]),
    },
    5,
  );
  say(
    '(d) Two workers against one, 4·10⁶ trials (≥ 1.6 with two free cores)',
    `${(t['one']! / t['two']!).toFixed(2)} × (${t['two']!.toFixed(0)} ms against ${t['one']!.toFixed(0)} ms)`,
  );
  await Promise.all(workers.map((w) => w.terminate()));
}

export async function coreRatios(): Promise<void> {
  await montecarloRatios();
  await workerRatio();
  const symbols = Array.from({ length: 12 }, (_, i) => `x${i}`);
  const twelve: Budget = {
    ...budget,
    model: symbols.map((s, i) => (i % 3 ? s : `${s}*x${(i + 1) % 12}`)).join(' + '),
    quantities: symbols.map((symbol, i) => ({
      symbol,
      unit: '1',
      distribution: i % 2 ? rectangular(1, 0.1) : { ...normal(2, 0.1), dof: 9 },
    })),
    coverage: { probability: 0.95 },
  };
  say(
    '(e) First-order evaluations of a budget of twelve inputs, a second (≥ 20 000)',
    `${(1000 / time(() => propagate(twelve), 9, 2000)).toFixed(0)}`,
  );
  const risk = { tolerance: 1, expandedUncertainty: 0.3, coverageFactor: 2, reliability: 0.93, solve: { falseAccept: 0.01 } };
  say(
    '(f) Global risks with the guard band solved for, a second (≥ 500)',
    `${(1000 / time(() => globalRisk(risk), 9, 50)).toFixed(0)}`,
  );
}
