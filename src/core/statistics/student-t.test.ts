import fReference from '@stdlib/stats-base-dists-f-quantile';
import tCdfReference from '@stdlib/stats-base-dists-t-cdf';
import tReference from '@stdlib/stats-base-dists-t-quantile';
import { describe, expect, it } from 'vitest';
import { fQuantile, tCdf, tQuantile } from './student-t';

const dofs = [1, 1.5, 2, 3, 4.7, 9, 10, 19.99, 30, 41, 120, 999, 12_345, 999_999];
const shareOf = (actual: number, expected: number) =>
  actual === expected ? 0 : Math.abs(actual - expected) / Math.abs(expected);

describe('Student’s t', () => {
  it.each(dofs)('at %d degrees of freedom agrees with the package, far into its tail', (dof) => {
    for (const t of [-40, -6, -2.5, -1, -0.1, 0.3, 1, 1.96, 3, 8])
      expect(shareOf(tCdf(t, dof), tCdfReference(t, dof)), `t ${t}`).toBeLessThan(dof > 1e5 ? 2e-9 : 2e-11);
    for (const p of [1e-9, 0.001, 0.025, 0.4, 0.6, 0.841, 0.95, 0.97725, 0.975, 0.995, 0.99999])
      expect(shareOf(tQuantile(p, dof), tReference(p, dof)), `p ${p}`).toBeLessThan(dof > 1e5 ? 2e-9 : 2e-11);
  });
  it('has the values of closed forms: ν = 1 is Cauchy, ν = 2 algebraic', () => {
    for (const p of [0.6, 0.9, 0.975, 0.9999]) {
      expect(shareOf(tQuantile(p, 1), Math.tan(Math.PI * (p - 0.5)))).toBeLessThan(1e-12);
      const a = 4 * p * (1 - p);
      expect(shareOf(tQuantile(p, 2), (2 * (p - 0.5) * Math.sqrt(2)) / Math.sqrt(a))).toBeLessThan(1e-12);
    }
    for (const t of [-3, -1e-6, 1e-6, 0.2, 50]) expect(shareOf(tCdf(t, 1), 0.5 + Math.atan(t) / Math.PI)).toBeLessThan(1e-14);
    expect([tCdf(0, 5), tQuantile(0.5, 5)]).toEqual([0.5, 0]);
    expect(tCdf(Infinity, 5)).toBe(1);
  });
  it('is its own inverse', () => {
    for (const dof of dofs) for (const p of [0.03, 0.5, 0.7, 0.999]) expect(tCdf(tQuantile(p, dof), dof)).toBeCloseTo(p, 13);
  });
});

describe('Fisher’s F', () => {
  it.each([
    [2, 10],
    [1, 1],
    [3.5, 17.2],
    [20, 180],
    [200, 5],
  ])('at %d and %d agrees with the package', (d1, d2) => {
    for (const p of [0.01, 0.5, 0.95, 0.999]) expect(shareOf(fQuantile(p, d1, d2), fReference(p, d1, d2))).toBeLessThan(1e-9);
  });
});
