import { describe, expect, it } from 'vitest';
import { BudgetError } from '../uncertainty/budget-error';
import type { Budget, Distribution } from '../uncertainty/budget-schema';
import { summarizeDistribution } from '../uncertainty/distribution';
import { blockSize } from './block-program';
import { localBlocks, montecarlo, numericalTolerance, type BlockSource } from './montecarlo';
import { montecarloSchema, type MontecarloQuestion } from './montecarlo-schema';
import { mergeMoments, momentsOf } from './moments-of-blocks';
import { coverageInterval, histogramOf, spreadOf } from './ordered-tails';
import { RandomStream } from './random-stream';

const budget = (model: string, quantities: Record<string, Distribution>, more: Partial<Budget> = {}): Budget => ({
  format: 'just-twice/budget',
  version: 1,
  name: 'test',
  output: { symbol: 'Y', unit: '1' },
  model,
  quantities: Object.entries(quantities).map(([symbol, distribution]) => ({ symbol, unit: '1', distribution })),
  ...more,
});
const ask = (b: Budget, more: Partial<MontecarloQuestion> = {}): MontecarloQuestion =>
  montecarloSchema.parse({ budget: b, trials: 200_000, seed: 7, ...more });
const normal = (mean: number, standardUncertainty: number): Distribution => ({ type: 'normal', mean, standardUncertainty });

describe('the random stream', () => {
  it('is the same for a seed and another for another', () => {
    const first = (seed: number) =>
      Array.from(
        { length: 5 },
        (() =>
          (
            (s) => () =>
              s.bits()
          )(new RandomStream(seed)))(),
      );
    expect(first(7)).toEqual(first(7));
    expect(first(7)).not.toEqual(first(8));
    expect(first(2 ** 32 + 7)).not.toEqual(first(7));
  });
  it('is uniform: mean, variance, and no lag-one correlation', () => {
    const s = new RandomStream(3);
    const n = 400_000;
    let [sum, squares, products, before] = [0, 0, 0, s.uniform()];
    for (let i = 0; i < n; i++) {
      const u = s.uniform();
      sum += u;
      squares += u * u;
      products += (u - 0.5) * (before - 0.5);
      before = u;
    }
    expect(sum / n).toBeCloseTo(0.5, 2);
    expect(squares / n - (sum / n) ** 2).toBeCloseTo(1 / 12, 3);
    expect(Math.abs(products / n) * 12).toBeLessThan(5 / Math.sqrt(n));
  });
  it('a jumped stream shares nothing with the one it left', () => {
    const [a, b] = [new RandomStream(1), new RandomStream(1, 1)];
    const seen = new Set(Array.from({ length: 20_000 }, () => a.bits()));
    const shared = Array.from({ length: 20_000 }, () => b.bits()).filter((v) => seen.has(v)).length;
    expect(shared).toBeLessThan(3);
  });
});

describe('samplers', () => {
  const distributions: Distribution[] = [
    normal(3, 2),
    { type: 'rectangular', mean: 1, halfWidth: 2 },
    { type: 'triangular', mean: -1, halfWidth: 3 },
    { type: 'arcsine', mean: 0, halfWidth: 2 },
    { type: 'trapezoidal', mean: 5, halfWidth: 2, shape: 0.4 },
    { type: 'curvilinear-trapezoidal', mean: 0, halfWidth: 2, halfWidthUncertainty: 0.6 },
    { type: 'student-t', mean: 1, scale: 0.5, dof: 9 },
    { type: 'exponential', mean: 2 },
    { type: 'gamma', shape: 3.5, scale: 0.5 },
    { type: 'gamma', shape: 0.6, scale: 2 },
  ];
  it.each(distributions.map((d) => [d.type, d] as const))('%s has the mean and deviation of its formula', async (_, d) => {
    const { estimate, standardUncertainty } = summarizeDistribution(d);
    const r = await montecarlo(ask(budget('a', { a: d }), { trials: 400_000 }));
    expect(Math.abs(r.estimate - estimate)).toBeLessThan((5 * standardUncertainty) / Math.sqrt(400_000));
    expect(r.standardUncertainty / standardUncertainty).toBeCloseTo(1, 1);
  });
  it('normal tails have their probabilities', () => {
    const values = localBlocks(ask(budget('a', { a: normal(0, 1) })))(0, 100);
    for (const [z, p] of [
      [1, 0.1586553],
      [2, 0.0227501],
      [3, 0.0013499],
      [3.6, 0.000159109],
    ] as const) {
      const above = values.filter((v) => v > z).length / values.length;
      expect(Math.abs(above - p), `above ${z}`).toBeLessThan(5 * Math.sqrt(p / values.length));
    }
  });
  it('readings are sampled from the scaled and shifted t', async () => {
    const r = await montecarlo(ask(budget('a', { a: { type: 'readings', values: [1, 2, 3, 4, 5, 6, 7] } }), { trials: 400_000 }));
    // s/√n = 0.8165 with 6 degrees of freedom: half-width 2.4469 · 0.8165 at 95 %.
    expect(r.interval.high - r.interval.low).toBeCloseTo(2 * 2.446912 * 0.816497, 1);
    expect(r.standardUncertainty).toBeCloseTo(0.816497 * Math.sqrt(6 / 4), 1);
  });
  it('correlated normal inputs are sampled jointly', async () => {
    const b = budget(
      'a - b',
      { a: normal(10, 3), b: normal(4, 4) },
      { correlations: [{ between: ['a', 'b'], coefficient: 0.8 }] },
    );
    const r = await montecarlo(ask(b));
    expect(r.estimate).toBeCloseTo(6, 1);
    expect(r.standardUncertainty).toBeCloseTo(Math.sqrt(9 + 16 - 2 * 0.8 * 12), 1);
    expect(r.validation!.validated).toBe(true);
  });
  it('a correlation that cannot be sampled is refused with its place', async () => {
    const b = budget(
      'a - b',
      { a: normal(10, 3), b: { type: 'rectangular', mean: 0, halfWidth: 1 } },
      { correlations: [{ between: ['a', 'b'], coefficient: 0.8 }] },
    );
    await expect(montecarlo(ask(b))).rejects.toMatchObject({ path: ['correlations', 0, 'between', 1] });
  });
});

describe('propagation of distributions', () => {
  const sum = budget('a + b*b', { a: normal(0, 1), b: { type: 'rectangular', mean: 1, halfWidth: 1 } });
  it('gives the same answer however the blocks are shared out', async () => {
    const q = ask(sum, { trials: 155_000 });
    const one = await montecarlo(q);
    // Two "workers", each with a program of its own, taking blocks in turn and answering late.
    const workers = [localBlocks(q), localBlocks(q)];
    let turn = 0;
    const shared: BlockSource = async (from, count) => {
      const parts = await Promise.all(
        Array.from({ length: count }, async (_, i) => {
          const worker = workers[turn++ % 2]!;
          await new Promise((resolve) => setTimeout(resolve, (count - i) % 3));
          return worker(from + i, 1);
        }),
      );
      const all = new Float64Array(count * blockSize);
      parts.forEach((p, i) => all.set(p, i * blockSize));
      return all;
    };
    expect(await montecarlo(q, shared)).toEqual(one);
    expect(one.trials).toBe(155_000);
    expect(one.histogram.counts.reduce((a, b) => a + b, 0)).toBe(155_000);
    expect(one.histogram.edges).toHaveLength(one.histogram.counts.length + 1);
  });
  it('reports skewness, and the shortest interval is never longer than the symmetric one', async () => {
    const b = budget('exp(a)', { a: normal(0, 0.5) });
    const [shortest, symmetric] = [await montecarlo(ask(b, { interval: 'shortest' })), await montecarlo(ask(b))];
    expect(shortest.skewness).toBeGreaterThan(1);
    expect(shortest.interval.high - shortest.interval.low).toBeLessThan(symmetric.interval.high - symmetric.interval.low);
    expect(symmetric.interval.low).toBeCloseTo(Math.exp(-0.5 * 1.959964), 1);
    expect(shortest.validation!.validated).toBe(false);
  });
  it('validates a linear model of normal inputs', async () =>
    expect((await montecarlo(ask(budget('a+b', { a: normal(0, 3), b: normal(0, 4) })))).validation).toMatchObject({
      digits: 2,
      tolerance: 0.05,
      validated: true,
    }));
  it('still answers where first order cannot, and says so', async () => {
    const r = await montecarlo(ask(budget('sqrt(abs(a))', { a: normal(0, 1) })));
    expect(r.validation).toBeNull();
    expect(r.warnings[0]).toContain('First-order');
  });
  it('the adaptive procedure stops when its digits are stable, and says when they are not', async () => {
    const r = await montecarlo(
      montecarloSchema.parse({ budget: sum, seed: 1, adaptive: { digits: 1, maximumTrials: 2_000_000 } }),
    );
    expect(r.stable).toBe(true);
    expect(r.trials % blockSize).toBe(0);
    expect(r.trials).toBeLessThan(2_000_000);
    const short = await montecarlo(
      montecarloSchema.parse({ budget: sum, seed: 1, adaptive: { digits: 3, maximumTrials: 40_000 } }),
    );
    expect(short).toMatchObject({ stable: false, trials: 40_000 });
  });
  it('two batches that agree are not enough: Student-t makes fourteen of two', async () => {
    // Evenly from −1 to 1, u = 0.577: δ is 0.05 for one digit. Batches stand at 0, 0.01 and 0.005.
    const perBatch = Math.ceil(2000 / blockSize);
    const shifts = [0, 0.01, 0.005];
    const even: BlockSource = (from, count) =>
      Float64Array.from(
        { length: count * blockSize },
        (_, i) => (2 * ((i % blockSize) + 0.5)) / blockSize - 1 + (shifts[from / perBatch] ?? 0),
      );
    const question = montecarloSchema.parse({
      budget: sum,
      probability: 0.95,
      adaptive: { digits: 1, maximumTrials: 2_000_000 },
    });
    // After two: 13.97 × 0.00707/√2 = 0.07; after three: 4.53 × 0.005/√3 = 0.013.
    expect(await montecarlo(question, even)).toMatchObject({ stable: true, trials: 3 * perBatch * blockSize });
  });
  it('every trial is worked out, the first and the last of a block too', () => {
    const values = localBlocks(ask(budget('a + b', { a: normal(50, 0.1), b: normal(50, 0.1) })))(0, 3);
    expect(Math.min(...values)).toBeGreaterThan(98);
    expect(Math.max(...values)).toBeLessThan(102);
  });
  it('a batch is as many trials as the probability asks for, 100/(1 − p)', async () => {
    const asked: number[] = [];
    const even: BlockSource = (_, count) => {
      asked.push(count * blockSize);
      return Float64Array.from({ length: count * blockSize }, (_v, i) => ((i * 0.618034) % 1) * 2 - 1);
    };
    const adaptive = { digits: 1, maximumTrials: 2_000_000 };
    await montecarlo(montecarloSchema.parse({ budget: sum, probability: 0.9995, adaptive }), even);
    expect(asked[0]).toBeGreaterThanOrEqual(200_000);
    expect(asked[0]).toBeLessThanOrEqual(200_000 + blockSize);
  });
  it('tells how far it is, and stops when its source does', async () => {
    const seen: number[] = [];
    await montecarlo(ask(sum, { trials: 450_000 }), undefined, (done) => seen.push(done));
    expect(seen).toEqual([200_000, 400_000, 450_000]);
    const cancelled: BlockSource = (from) => {
      if (from > 0) throw new Error('cancelled');
      return new Float64Array(20 * blockSize);
    };
    await expect(montecarlo(ask(sum, { trials: 450_000 }), cancelled)).rejects.toThrow('cancelled');
  });
  it('refuses a model that is undefined in some trials, and trials beyond memory', async () => {
    await expect(montecarlo(ask(budget('sqrt(a)', { a: normal(0.5, 1) })))).rejects.toBeInstanceOf(BudgetError);
    expect(montecarloSchema.safeParse({ budget: sum, trials: 1e9 }).error?.issues[0]).toMatchObject({ path: ['trials'] });
    expect(montecarloSchema.safeParse({ budget: sum }).success).toBe(false);
    expect(montecarloSchema.safeParse({ budget: sum, trials: 1000, probability: 1 }).success).toBe(false);
  });
  it.each([
    [0.0123, 2, 0.0005],
    [2, 2, 0.05],
    [9.97, 2, 0.5],
    [35, 1, 5],
    [0, 2, 0],
  ])('δ of %d at %d digits is %d', (u, digits, delta) => expect(numericalTolerance(u, digits)).toBeCloseTo(delta, 12));
});

describe('intervals without sorting everything', () => {
  const sorted = (values: Float64Array) => values.slice().sort();
  it.each([
    ['normal', () => localBlocks(ask(budget('a', { a: normal(0, 1) })))(0, 3) as Float64Array],
    [
      'heavy-tailed',
      () =>
        localBlocks(ask(budget('a/b', { a: normal(0, 1), b: { type: 'rectangular', mean: 0, halfWidth: 1 } })))(
          0,
          2,
        ) as Float64Array,
    ],
    ['few values', () => Float64Array.from({ length: 101 }, (_, i) => ((i * 37) % 101) / 7)],
    ['all equal', () => new Float64Array(500).fill(4.2)],
  ])('agrees with a full sort: %s', (_, make) => {
    const values = make();
    const all = sorted(values);
    for (const p of [0.5, 0.95, 0.99]) {
      const M = values.length;
      const q = Math.min(M - 1, Math.floor(p * M + 0.5));
      const r = Math.max(1, Math.floor((M - q) / 2 + 0.5));
      expect(coverageInterval(values, p, 'symmetric')).toEqual({ low: all[r - 1], high: all[r + q - 1] });
      let best = 0;
      for (let i = 0; i + q < M; i++) if (all[i + q]! - all[i]! < all[best + q]! - all[best]!) best = i;
      const { low, high } = coverageInterval(values, p, 'shortest');
      expect(high - low).toBe(all[best + q]! - all[best]!);
    }
  });
  it('histograms count every value, also a single one', () => {
    const of = (values: Float64Array, interval = { low: 0, high: 3 }) => histogramOf(values, spreadOf(values), interval);
    expect(of(Float64Array.of(1, 1, 1), { low: 1, high: 1 })).toEqual({ edges: [1, 1], counts: [3] });
    const h = of(Float64Array.of(0, 1, 2, 3));
    expect(h.counts.reduce((a, b) => a + b, 0)).toBe(4);
    expect([h.edges[0], h.edges.at(-1)]).toEqual([0, 3]);
  });
  it('far tails stand in a class of their own: the interval has classes enough', () => {
    const values = Float64Array.from([-1e6, 5e8, ...Array.from({ length: 998 }, (_, i) => i / 997)]);
    const { edges, counts } = histogramOf(values, spreadOf(values), { low: 0, high: 1 });
    expect([counts[0], counts.at(-1)]).toEqual([1, 1]);
    expect([edges[0], edges.at(-1)]).toEqual([-1e6, 5e8]);
    expect(counts.reduce((a, b) => a + b, 0)).toBe(1000);
    const inside = edges.filter((e) => e >= 0 && e <= 1).length;
    expect(inside).toBeGreaterThan(50);
    const widths = edges.slice(2, -2).map((e, i) => e - edges[i + 1]!);
    expect(Math.max(...widths)).toBeCloseTo(Math.min(...widths), 12);
  });
  it('moments merge as if they had been taken together', () => {
    const values = Float64Array.from({ length: 1000 }, (_, i) => 1e6 + Math.sin(i) ** 3);
    const [whole, merged] = [
      momentsOf(values),
      mergeMoments(momentsOf(values.subarray(0, 300)), momentsOf(values.subarray(300))),
    ];
    expect(merged.mean).toBeCloseTo(whole.mean, 8);
    expect(merged.square).toBeCloseTo(whole.square, 6);
    expect(merged.cube).toBeCloseTo(whole.cube, 5);
  });
});

describe('degrees of freedom in the trials', () => {
  const reach = async (d: Distribution) => {
    const values = localBlocks(ask(budget('a', { a: d })))(0, 20);
    return { least: values.reduce((a, b) => Math.min(a, b)), greatest: values.reduce((a, b) => Math.max(a, b)) };
  };
  it.each([
    [{ type: 'rectangular', mean: 1, halfWidth: 2, dof: 3 }, -1, 3],
    [{ type: 'triangular', mean: 1, halfWidth: 2, dof: 3 }, -1, 3],
    [{ type: 'arcsine', mean: 1, halfWidth: 2, dof: 3 }, -1, 3],
    [{ type: 'exponential', mean: 1, dof: 3 }, 0, Infinity],
    [{ type: 'gamma', shape: 2, scale: 1, dof: 3 }, 0, Infinity],
  ] as [Distribution, number, number][])('%j stays inside its shape', async (d, least, greatest) => {
    const seen = await reach(d);
    expect(seen.least).toBeGreaterThanOrEqual(least);
    expect(seen.greatest).toBeLessThanOrEqual(greatest);
  });
  it('are said to count in the first-order interval only', async () => {
    const r = await montecarlo(ask(budget('a', { a: { type: 'rectangular', mean: 0, halfWidth: 1, dof: 4 } })));
    expect(r.warnings.join()).toContain('degrees of freedom');
  });
  it.each([
    [[1, 3], 'neither a mean nor a standard uncertainty exists'],
    [[1, 3, 2], 'no standard uncertainty exists'],
  ])('two or three readings: %j says that %s', async (values, words) => {
    const r = await montecarlo(ask(budget('a + b', { a: { type: 'readings', values }, b: normal(0, 1) })));
    expect(r.warnings[0]).toContain(words);
    expect(r.interval.low).toBeLessThan(r.interval.high);
  });
  it('without a standard uncertainty the adaptive procedure waits for the interval alone', async () => {
    const q = montecarloSchema.parse({
      budget: budget('a', { a: { type: 'readings', values: [1, 3, 2] } }),
      adaptive: { digits: 1, maximumTrials: 2_000_000 },
    });
    const r = await montecarlo(q);
    expect(r.stable).toBe(true);
    expect(r.interval.high - 2).toBeCloseTo((4.302653 * 1) / Math.sqrt(3), 1);
  });
  it('four readings have both, and nothing is said', async () =>
    expect((await montecarlo(ask(budget('a', { a: { type: 'readings', values: [1, 3, 2, 2] } })))).warnings).toEqual([]));
});

describe('the adaptive procedure near a digit', () => {
  it('is within δ as often as it claims where u is just below 1', async () => {
    const delta = 0.05;
    const wanted = 50;
    let within = 0;
    for (let seed = 1; seed <= wanted; seed++) {
      const b = budget('a', { a: normal(0, 0.0999) });
      const r = await montecarlo(
        montecarloSchema.parse({ budget: b, adaptive: { digits: 1, maximumTrials: 4_000_000 }, seed, probability: 0.95 }),
      );
      const ends = [r.interval.low / 0.0999 + 1.959964, r.interval.high / 0.0999 - 1.959964];
      if (r.stable && ends.every((miss) => Math.abs(miss * 0.0999) <= delta / 10)) within++;
    }
    expect(within / wanted).toBeGreaterThanOrEqual(0.9);
  });
  it('100 trials cannot end an interval at 0.9999: the number needed is named', () => {
    const issue = montecarloSchema.safeParse({ budget: budget('a', { a: normal(0, 1) }), trials: 100, probability: 0.9999 })
      .error!.issues[0]!;
    expect(issue.path).toEqual(['trials']);
    expect(issue.message).toContain('10000');
    expect(
      montecarloSchema.safeParse({ budget: budget('a', { a: normal(0, 1) }), trials: 10_000, probability: 0.9999 }).success,
    ).toBe(true);
  });
});
