import { describe, expect, it } from 'vitest';
import { RandomStream } from '../montecarlo/random-stream';
import { normalDeviate } from '../montecarlo/normal-deviate';
import { autocorrelation, brokenRules, defaultRuleSet, ewmaChart, individualsLimits, ruleSets, runRules } from './control-chart';
import { cochranTest, grubbsTest } from './outliers';
import { enNumber, varianceComponents } from './variance-components';

describe("Grubbs' test", () => {
  it('finds the published outlier of eight mass-spectrometer readings', () => {
    const r = grubbsTest([199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57])!;
    expect(r.index).toBe(7);
    expect(r.statistic).toBeCloseTo(2.4687, 3);
    expect(r.critical).toBeCloseTo(2.1266, 3);
    expect(r.isOutlier).toBe(true);
  });
  it('leaves good readings alone, and has nothing to say of equal ones', () => {
    expect(grubbsTest([10.1, 10.2, 9.9, 10.0, 10.1])!.isOutlier).toBe(false);
    expect(grubbsTest([5, 5, 5])).toBeNull();
    expect(() => grubbsTest([1, 2])).toThrow(RangeError);
  });
});

describe('analysis of variance', () => {
  it('tells repeatability from the difference between days', () => {
    const r = varianceComponents([
      [1, 3],
      [5, 7],
      [9, 11],
    ]);
    expect(r.within).toEqual({ meanSquare: 2, dof: 3 });
    expect(r.between).toEqual({ meanSquare: 32, dof: 2 });
    expect(r.F).toBe(16);
    expect(r.betweenGroups).toBeCloseTo(Math.sqrt(15), 12);
    expect(r.reproducibility).toBeCloseTo(Math.sqrt(17), 12);
  });
  it('never finds less than nothing between groups', () =>
    expect(
      varianceComponents([
        [1, 9],
        [4, 6],
        [5, 5],
      ]).betweenGroups,
    ).toBe(0));
  it('refuses groups without repeats', () => {
    expect(() => varianceComponents([[1], [2]])).toThrow(RangeError);
    expect(() => varianceComponents([[1, 2]])).toThrow(RangeError);
  });
  it('compares two results by E_n', () => {
    expect(enNumber({ value: 10.4, expandedUncertainty: 0.3 }, { value: 10, expandedUncertainty: 0.4 })).toBeCloseTo(0.8, 12);
    expect(enNumber({ value: 1, expandedUncertainty: 0 }, { value: 1, expandedUncertainty: 0 })).toBeNull();
  });
});

describe('control charts', () => {
  const limits = { centre: 0, sigma: 1 };
  it('takes sigma from moving ranges', () =>
    expect(individualsLimits([1, 3, 2, 4])).toEqual({ centre: 2.5, sigma: expect.closeTo(5 / 3 / 1.128379167, 10) }));
  it.each([
    ['beyond-3-sigma', [0, 3.1, 0], [1]],
    ['nine-on-one-side', [...Array(10).fill(0.5)], [8, 9]],
    ['six-trending', [0, 0.1, 0.2, 0.3, 0.4, 0.5], [5]],
    ['fourteen-alternating', Array.from({ length: 14 }, (_, i) => (i % 2 ? 0.4 : -0.4)), [13]],
    ['two-of-three-beyond-2-sigma', [2.1, 0, 2.2], [2]],
    ['four-of-five-beyond-1-sigma', [-1.1, -1.2, 0, -1.5, -1.1], [4]],
    ['fifteen-within-1-sigma', Array.from({ length: 15 }, (_, i) => ((i * 7) % 5) / 10 - 0.2), [14]],
    ['eight-beyond-1-sigma', [1.5, -1.5, 1.5, -1.5, 1.5, -1.5, 1.5, -1.5], [7]],
  ] as const)('%s', (rule, values, expected) => expect(runRules(values, limits)[rule]).toEqual(expected));
  it('a quiet chart breaks none of the first six rules', () => {
    const broken = runRules([0.2, -0.5, 1.2, -0.3, 0.1, -1.1, 0.4], limits);
    expect(Object.values(broken).flat()).toEqual([]);
  });
  it('EWMA sees a small shift that single points do not', () => {
    const values = [...Array(10).fill(0), ...Array(20).fill(1.5)];
    const chart = ewmaChart(values, limits);
    expect(runRules(values, limits)['beyond-3-sigma']).toEqual([]);
    expect(chart.some((p) => p.isOutside)).toBe(true);
    expect(chart[0]!.upper).toBeCloseTo(0.6, 12);
    expect(chart.at(-1)!.upper).toBeCloseTo(1, 2);
  });
  it('sees that readings of a drifting instrument are not independent', () => {
    expect(autocorrelation(Array.from({ length: 100 }, (_, i) => i)).coefficients[0]).toBeGreaterThan(0.9);
    const alternating = autocorrelation(
      Array.from({ length: 100 }, (_, i) => (i % 2 ? 1 : -1)),
      2,
    );
    expect(alternating.coefficients[0]).toBeCloseTo(-0.99, 2);
    expect(alternating.bound).toBe(0.2);
    expect(autocorrelation(Array(20).fill(3), 3).coefficients).toEqual([0, 0, 0]);
  });
});

describe('sets of chart rules', () => {
  it('give an alarm as rarely as they say while nothing changes', () => {
    const stream = new RandomStream(11);
    const length = 400;
    const seen = Object.fromEntries(ruleSets.map((s) => [s.id, { points: 0, alarms: 0 }]));
    for (let chart = 0; chart < 2500; chart++) {
      const values = Array.from({ length }, () => normalDeviate(stream));
      const found = runRules(values, { centre: 0, sigma: 1 });
      for (const set of ruleSets) {
        const first = Math.min(...set.rules.map((rule) => found[rule][0] ?? Infinity));
        seen[set.id]!.points += first < length ? first + 1 : length;
        seen[set.id]!.alarms += first < length ? 1 : 0;
      }
    }
    for (const set of ruleSets) {
      const { points, alarms } = seen[set.id]!;
      expect(Math.abs(points / alarms / set.averageRunLength - 1), set.id).toBeLessThan(0.08);
    }
    expect(defaultRuleSet.averageRunLength).toBeGreaterThanOrEqual(370);
  });
  it('name the points that break them', () => {
    const values = [0, ...Array<number>(9).fill(0.5), 3.5];
    expect(brokenRules(values, { centre: 0, sigma: 1 })).toEqual([{ index: 10, rules: ['beyond-3-sigma'] }]);
    expect(brokenRules(values, { centre: 0, sigma: 1 }, ruleSets[1])).toEqual([
      { index: 9, rules: ['nine-on-one-side'] },
      { index: 10, rules: ['beyond-3-sigma', 'nine-on-one-side'] },
    ]);
  });
});

describe("Cochran's test", () => {
  it.each([
    ['without a display', 0, 1],
    ['with a step of 1', 1, 7 / 8],
    ['with a step of 2', 2, 5 / 7],
  ])('counts a twelfth of the square of the step in every group: variances 0 and 1/2, %s', (_, step, statistic) => {
    const [still, moved] = [
      [0, 0],
      [0, 1],
    ];
    expect(cochranTest([still!, moved!], 0.01, step)!.statistic).toBeCloseTo(statistic, 12);
  });
  it('has the critical values of the table in ISO 5725-2', () => {
    const groups = (p: number, n: number) => Array.from({ length: p }, (_, i) => Array.from({ length: n }, (_v, j) => i + j));
    expect(cochranTest(groups(10, 3), 0.01)!.critical).toBeCloseTo(0.536, 3);
    expect(cochranTest(groups(10, 3), 0.05)!.critical).toBeCloseTo(0.445, 3);
    expect(cochranTest(groups(5, 2), 0.05)!.critical).toBeCloseTo(0.841, 3);
  });
  it('finds the group that scatters most, and what rounding explains is no scatter', () => {
    const quiet = [10, 10, 10.001];
    expect(cochranTest([quiet, quiet, quiet, [10, 10.02, 9.98], quiet])).toMatchObject({ index: 3, isOutlier: true });
    const still = [10, 10, 10];
    const groups = [still, still, still, still, still, still, quiet, still];
    expect(cochranTest(groups)!.isOutlier).toBe(true);
    expect(cochranTest(groups, 0.01, 0.001)!.isOutlier).toBe(false);
  });
  it('has nothing to say of one group, single readings or no scatter', () => {
    expect(cochranTest([[1, 2]])).toBeNull();
    expect(cochranTest([[1], [2], [3]])).toBeNull();
    expect(
      cochranTest([
        [1, 1],
        [2, 2],
      ]),
    ).toBeNull();
  });
});
