import { describe, expect, it } from 'vitest';
import { BudgetError } from './budget-error';
import { distributionSchema, type Budget, type Distribution } from './budget-schema';
import { coverageFactorFor, truncatedDof } from './coverage';
import { summarizeDistribution } from './distribution';
import { propagate } from './propagate';

const budget = (model: string, quantities: Record<string, Distribution>, more: Partial<Budget> = {}): Budget => ({
  format: 'just-twice/budget',
  version: 1,
  name: 'test',
  output: { symbol: 'Y', unit: 'mm' },
  model,
  quantities: Object.entries(quantities).map(([symbol, distribution]) => ({ symbol, unit: 'mm', distribution })),
  ...more,
});
const normal = (mean: number, standardUncertainty: number, dof?: number): Distribution => ({
  type: 'normal',
  mean,
  standardUncertainty,
  ...(dof ? { dof } : {}),
});
const faultOf = (b: Budget): BudgetError => {
  try {
    propagate(b);
  } catch (error) {
    if (error instanceof BudgetError) return error;
    throw error;
  }
  throw new Error('The budget was accepted.');
};

describe('first-order propagation', () => {
  it('adds independent contributions in quadrature, with signs kept', () => {
    const r = propagate(budget('3*a - 4*b', { a: normal(1, 1), b: normal(1, 1) }));
    expect(r).toMatchObject({
      estimate: -1,
      standardUncertainty: 5,
      expandedUncertainty: 10,
      coverageFactor: 2,
      effectiveDof: null,
      coverageProbability: null,
    });
    expect(r.contributions.map((c) => c.contribution)).toEqual([3, -4]);
    expect(r.contributions.map((c) => c.share)).toEqual([0.36, 0.64]);
  });
  it('handles correlations, and the shares still sum to one', () => {
    const r = propagate(
      budget('a + b', { a: normal(0, 3), b: normal(0, 4) }, { correlations: [{ between: ['a', 'b'], coefficient: 0.5 }] }),
    );
    expect(r.standardUncertainty).toBeCloseTo(Math.sqrt(9 + 16 + 12), 12);
    expect(r.contributions.reduce((s, c) => s + c.share, 0)).toBeCloseTo(1, 12);
  });
  it('fully correlated differences cancel', () => {
    const r = propagate(
      budget('a - b', { a: normal(5, 1), b: normal(5, 1) }, { correlations: [{ between: ['a', 'b'], coefficient: 1 }] }),
    );
    expect(r.standardUncertainty).toBe(0);
    expect(r.warnings.join()).toContain('cancel');
  });
  it('names the pair that makes correlations impossible', () => {
    const r = faultOf(
      budget(
        'a+b+c',
        { a: normal(0, 1), b: normal(0, 1), c: normal(0, 1) },
        {
          correlations: [
            { between: ['a', 'b'], coefficient: 0.5 },
            { between: ['b', 'c'], coefficient: 0.5 },
            { between: ['a', 'c'], coefficient: -0.9 },
          ],
        },
      ),
    );
    expect(r.message).toContain('a and c');
    expect(r.path).toEqual(['correlations', 2, 'coefficient']);
  });
  it('takes k from t at the truncated degrees of freedom', () => {
    const r = propagate(budget('a', { a: normal(0, 1, 10) }, { coverage: { probability: 0.95 } }));
    expect(r.effectiveDof).toBeCloseTo(10, 9);
    expect(r.coverageFactor).toBeCloseTo(2.228139, 5);
    expect(propagate(budget('a', { a: normal(0, 1) }, { coverage: { probability: 0.95 } })).coverageFactor).toBeCloseTo(
      1.959964,
      5,
    );
  });
  it('counts readings by their mean, s/√n and n − 1', () => {
    const r = propagate(budget('a', { a: { type: 'readings', values: [0.01, 0.012, 0.009, 0.011] } }));
    expect(r.estimate).toBeCloseTo(0.0105, 15);
    expect(r.standardUncertainty).toBeCloseTo(0.0012909944 / 2, 9);
    expect(r.effectiveDof).toBeCloseTo(3, 9);
  });
  it('a pooled deviation replaces s and its degrees of freedom', () => {
    const r = propagate(budget('a', { a: { type: 'readings', values: [1, 3], pooled: { standardDeviation: 0.4, dof: 20 } } }));
    expect(r).toMatchObject({ estimate: 2 });
    expect(r.standardUncertainty).toBeCloseTo(0.4 / Math.SQRT2, 12);
    expect(r.effectiveDof).toBeCloseTo(20, 9);
  });
  it('warns of an unused quantity, a zero slope and no uncertainty at all', () => {
    expect(propagate(budget('a', { a: normal(1, 1), b: normal(1, 1) })).warnings[0]).toContain('"b"');
    expect(propagate(budget('a^2', { a: normal(0, 1) })).warnings[0]).toContain('Monte Carlo');
    const zero = propagate(budget('a', { a: { type: 'constant', value: 5 } }));
    expect(zero).toMatchObject({
      standardUncertainty: 0,
      expandedUncertainty: 0,
      effectiveDof: null,
      reported: { estimate: '5', expandedUncertainty: '0' },
    });
    expect(zero.contributions[0]!.share).toBe(0);
  });
  it.each([
    ['an unknown symbol', budget('a + z', { a: normal(1, 1) }), ['model'], '"z"'],
    [
      'a repeated symbol',
      {
        ...budget('a', { a: normal(1, 1) }),
        quantities: [...budget('a', { a: normal(1, 1) }).quantities, ...budget('a', { a: normal(2, 1) }).quantities],
      },
      ['quantities', 1, 'symbol'],
      'twice',
    ],
    ['a word of the language as symbol', budget('1', { pi: normal(1, 1) }), ['quantities', 0, 'symbol'], 'pi'],
    ['division by zero', budget('1/a', { a: normal(0, 1) }), ['model'], 'division'],
    ['an infinite slope', budget('sqrt(a)', { a: normal(0, 1) }), ['model'], 'slope'],
    ['a syntax fault', budget('a +', { a: normal(1, 1) }), ['model'], 'character 4'],
    [
      'a stranger in a correlation',
      budget('a', { a: normal(1, 1) }, { correlations: [{ between: ['a', 'q'], coefficient: 0 }] }),
      ['correlations', 0, 'between', 1],
      '"q"',
    ],
  ] as [string, Budget, (string | number)[], string][])('refuses %s with its path', (_, b, path, text) => {
    const fault = faultOf(b);
    expect(fault.path).toEqual(path);
    expect(fault.message).toContain(text);
  });
});

describe('distributions', () => {
  it.each([
    [{ type: 'rectangular', mean: 1, halfWidth: 3 }, 1, Math.sqrt(3)],
    [{ type: 'rectangular', lower: 2, upper: 8 }, 5, Math.sqrt(3)],
    [{ type: 'triangular', mean: 0, halfWidth: 6 }, 0, Math.sqrt(6)],
    [{ type: 'arcsine', mean: 0, halfWidth: 2 }, 0, Math.SQRT2],
    [{ type: 'trapezoidal', mean: 0, halfWidth: 1, shape: 0 }, 0, 1 / Math.sqrt(6)],
    [{ type: 'trapezoidal', mean: 0, halfWidth: 1, shape: 1 }, 0, 1 / Math.sqrt(3)],
    [{ type: 'curvilinear-trapezoidal', mean: 0, halfWidth: 3, halfWidthUncertainty: 1.5 }, 0, Math.sqrt(3 + 0.25)],
    [{ type: 'student-t', mean: 2, scale: 1, dof: 4 }, 2, Math.SQRT2],
    [{ type: 'exponential', mean: 3 }, 3, 3],
    [{ type: 'gamma', shape: 4, scale: 0.5 }, 2, 1],
    [{ type: 'normal', mean: 1, expandedUncertainty: 0.045, coverageFactor: 2 }, 1, 0.0225],
  ] as [Distribution, number, number][])('%j', (d, estimate, u) => {
    const s = summarizeDistribution(distributionSchema.parse(d));
    expect(s.estimate).toBeCloseTo(estimate, 12);
    expect(s.standardUncertainty).toBeCloseTo(u, 12);
  });
  it.each([
    [{ type: 'rectangular', mean: 0, halfWidth: -1 }, ['halfWidth']],
    [{ type: 'rectangular', lower: 2, upper: 1 }, ['upper']],
    [{ type: 'rectangular', mean: 2 }, ['halfWidth']],
    [{ type: 'normal', mean: 1 }, ['standardUncertainty']],
    [{ type: 'normal', mean: 1, expandedUncertainty: 1 }, ['coverageFactor']],
    [{ type: 'normal', mean: 1, standardUncertainty: 1, dof: 0.5 }, ['dof']],
    [{ type: 'readings', values: [5] }, ['values']],
    [{ type: 'readings', values: [] }, ['values']],
    [{ type: 'student-t', mean: 0, scale: 1, dof: 2 }, ['dof']],
    [{ type: 'triangular', mean: NaN, halfWidth: 1 }, ['mean']],
    [{ type: 'bathtub' }, ['type']],
  ])('refuses %j', (d, path) => expect(distributionSchema.safeParse(d).error?.issues[0]?.path).toEqual(path));
});

describe('coverage', () => {
  const many = (exponent: number) => coverageFactorFor({ probability: 0.9545 }, 10 ** exponent);
  it('never loses its factor, however many degrees of freedom', () => {
    for (let exponent = 0; exponent <= 308; exponent++) expect(many(exponent), `1e${exponent}`).toBeGreaterThan(1.99);
    expect(many(6)).toBeCloseTo(2.000004, 4);
    expect(many(300)).toBeCloseTo(2.0000024, 6);
    expect(coverageFactorFor({ probability: 0.9545 }, Infinity)).toBe(many(300));
  });
  it('readings of almost no scatter beside a large normal keep their U', () => {
    const r = propagate(
      budget(
        'a + b',
        { a: { type: 'readings', values: [10.00001, 10.00002, 10.00001] }, b: normal(0, 5) },
        { coverage: { probability: 0.9545 } },
      ),
    );
    expect(r.expandedUncertainty).toBeCloseTo(10, 3);
    expect(r.effectiveDof).toBeNull();
  });
  it('counts degrees of freedom that rounding kept just below a whole number', () => {
    const r = propagate(budget('a + b', { a: normal(0, 0.3, 1), b: normal(0, 0.3, 1) }, { coverage: { probability: 0.95 } }));
    expect(r.coverageFactor).toBeCloseTo(4.302653, 5);
    expect(truncatedDof(1.9999999999)).toBe(2);
    expect(truncatedDof(1.99999)).toBe(1);
    expect(truncatedDof(0.3)).toBe(1);
  });
});

describe('readings with a floor', () => {
  const step = 0.001;
  const floored = (values: number[], floor: number) =>
    summarizeDistribution(distributionSchema.parse({ type: 'readings', values, floor }));
  it('are not surer than their display', () =>
    expect(floored([5, 5, 5], step / Math.sqrt(12))).toEqual({
      estimate: 5,
      standardUncertainty: step / Math.sqrt(12),
      dof: null,
    }));
  it('keep their own scatter where that is greater', () =>
    expect(floored([5, 5.01, 5.02], step / Math.sqrt(12))).toMatchObject({ dof: 2 }));
  it('refuse a negative floor', () =>
    expect(distributionSchema.safeParse({ type: 'readings', values: [1, 2], floor: -1 }).error?.issues[0]?.path).toEqual([
      'floor',
    ]));
});
