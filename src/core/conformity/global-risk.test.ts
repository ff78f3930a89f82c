import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { globalRisk, RiskError } from './global-risk';
import { riskSchema } from './risk-schema';

const ask = (more: Record<string, unknown>) =>
  globalRisk(riskSchema.parse({ tolerance: 1, expandedUncertainty: 0.25, reliability: 0.95, ...more }));

/** The same risks by brute force: a fine trapezoidal sum over the true error. */
function bruteForce(sigma: number, u: number, a: number) {
  const cdf = (z: number) => 0.5 * (1 + erf(z / Math.SQRT2));
  const [n, reach] = [200_000, 12 * sigma];
  let [accept, reject] = [0, 0];
  // Both signs alike; the cells end at the tolerance, so that none is cut.
  for (const [from, to] of [
    [0, 1],
    [1, Math.max(1, reach)],
  ] as const)
    for (let i = 0; i < n; i++) {
      const e = from + ((i + 0.5) * (to - from)) / n;
      const density = (2 * Math.exp(-0.5 * (e / sigma) ** 2) * (to - from)) / (n * sigma * Math.sqrt(2 * Math.PI));
      const accepted = a <= 0 ? 0 : cdf((a - e) / u) - cdf((-a - e) / u);
      if (from === 1) accept += density * accepted;
      else reject += density * (1 - accepted);
    }
  return { accept, reject };
}
/** Abramowitz & Stegun 7.1.28 is too coarse here; the series and continued fraction give full precision. */
function erf(x: number): number {
  const z = Math.abs(x);
  if (z < 3) {
    let [term, sum] = [z, z];
    for (let n = 1; n < 200; n++) {
      term *= (-z * z) / n;
      sum += term / (2 * n + 1);
    }
    return (Math.sign(x) * 2 * sum) / Math.sqrt(Math.PI);
  }
  let f = 0;
  for (let k = 60; k > 0; k--) f = k / 2 / (z + f);
  return Math.sign(x) * (1 - Math.exp(-z * z) / (Math.sqrt(Math.PI) * (z + f)));
}

describe('global risks', () => {
  it.each([
    [0.95, 4, 0.008583, 0.015537],
    [0.95, 2, 0.013373, 0.041775],
    [0.85, 4, 0.017277, 0.023826],
  ])('reliability %d at ratio %d', (reliability, ratio, falseAccept, falseReject) => {
    const r = ask({ reliability, expandedUncertainty: 1 / ratio, guardBand: 0 });
    expect(Math.abs(r.falseAccept - falseAccept)).toBeLessThan(2e-6);
    expect(Math.abs(r.falseReject - falseReject)).toBeLessThan(2e-6);
  });
  it.each([
    [0.95, 0.1, 0],
    [0.5, 1, 0.2],
    [0.999, 0.05, -0.1],
    [0.7, 0.01, 0.02],
    [0.99, 3, 0],
  ])('agrees with brute force at reliability %d, U %d, guard band %d', (reliability, expandedUncertainty, guardBand) => {
    const r = ask({ reliability, expandedUncertainty, guardBand });
    const sigma = 1 / inverse((1 + reliability) / 2);
    const worked = bruteForce(sigma, expandedUncertainty / 2, 1 - guardBand);
    expect(Math.abs(r.falseAccept - worked.accept)).toBeLessThan(1e-6);
    expect(Math.abs(r.falseReject - worked.reject)).toBeLessThan(1e-6);
  });
  it('stays within its bounds at extreme ratios and reliabilities, and accounts add up', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 1e-6, max: 1 - 1e-6, noNaN: true }),
        fc.double({ min: -6, max: 3, noNaN: true }),
        fc.double({ min: -2, max: 1.2, noNaN: true }),
        (reliability, logU, guardBand) => {
          const r = ask({ reliability, expandedUncertainty: 10 ** logU, guardBand });
          for (const v of Object.values(r)) expect(v).toBeGreaterThanOrEqual(0);
          expect(r.falseAccept).toBeLessThanOrEqual(1 - reliability + 1e-9);
          expect(r.falseReject).toBeLessThanOrEqual(reliability + 1e-9);
          // accepted = truly inside − wrongly rejected + wrongly accepted
          expect(Math.abs(r.observedReliability - (reliability - r.falseReject + r.falseAccept))).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 300 },
    ));
  it('finds the guard band that gives just the false-accept probability, also a negative one', () => {
    for (const falseAccept of [0.02, 0.01, 0.001, 1e-6])
      for (const expandedUncertainty of [0.05, 0.25, 1, 5]) {
        const r = ask({ expandedUncertainty, solve: { falseAccept } });
        expect(Math.abs(r.falseAccept - falseAccept)).toBeLessThan(1e-9);
        expect(Math.abs(ask({ expandedUncertainty, guardBand: r.guardBand! }).falseAccept - falseAccept)).toBeLessThan(1e-9);
      }
    expect(ask({ solve: { falseAccept: 0.02 } }).guardBand).toBeLessThan(0);
  });
  // Guard bands found by integration with forty digits (mpmath): 2 ∫ φ(e) [Φ((a − e)/u) − Φ((−a − e)/u)] de from the tolerance on.
  it.each([
    [1e-12, 0.05, 0.149503190634],
    [1e-12, 0.25, 0.777825416732],
    [1e-9, 0.25, 0.632921733624],
    [1e-6, 1, 0.999824657307],
  ])('is as exact at %d with U %d', (falseAccept, expandedUncertainty, guardBand) => {
    const r = ask({ expandedUncertainty, solve: { falseAccept } });
    expect(r.guardBand).toBeCloseTo(guardBand, 10);
    expect(Math.abs(ask({ expandedUncertainty, guardBand: r.guardBand! }).falseAccept / falseAccept - 1)).toBeLessThan(1e-3);
  });
  it('says in words that a guard band is negative', () => {
    expect(ask({ solve: { falseAccept: 0.02 } }).warnings![0]).toContain('negative');
    expect(ask({ solve: { falseAccept: 0.001 } }).warnings).toBeUndefined();
  });
  it('a perfect measurement makes no mistakes', () =>
    expect(ask({ expandedUncertainty: 0, guardBand: 0 })).toMatchObject({
      falseAccept: 0,
      observedReliability: expect.closeTo(0.95, 10),
      falseReject: expect.closeTo(0, 10),
    }));
  it('accepting nothing rejects everything', () =>
    expect(ask({ guardBand: 1.5 })).toEqual({ falseAccept: 0, falseReject: 0.95, observedReliability: 0 }));
  it('says when no guard band can give what is asked', () =>
    expect(() => ask({ solve: { falseAccept: 0.06 } })).toThrow(RiskError));
  it.each([
    [{ reliability: 1 }],
    [{ reliability: 0 }],
    [{ tolerance: 0 }],
    [{ expandedUncertainty: -1 }],
    [{ guardBand: 0, solve: { falseAccept: 0.01 } }],
  ])('refuses %j', (more) =>
    expect(riskSchema.safeParse({ tolerance: 1, expandedUncertainty: 0.2, reliability: 0.9, ...more }).success).toBe(false),
  );
});

/** Normal quantile by bisection on erf. */
function inverse(p: number): number {
  let [low, high] = [0, 12];
  for (let i = 0; i < 100; i++) {
    const middle = (low + high) / 2;
    if (0.5 * (1 + erf(middle / Math.SQRT2)) < p) low = middle;
    else high = middle;
  }
  return low;
}
