import { describe, expect, it } from 'vitest';
import { mean, pooledStandardDeviation, standardDeviation } from './moments';

describe('mean and standard deviation', () => {
  it('keeps small noise on a large value', () => {
    const values = [1e9 + 4, 1e9 + 7, 1e9 + 13, 1e9 + 16];
    expect(mean(values)).toBe(1e9 + 10);
    expect(standardDeviation(values)).toBeCloseTo(Math.sqrt(30), 12);
  });
  it('is zero for equal readings', () => expect(standardDeviation([2.501, 2.501, 2.501])).toBe(0));
  it('refuses too few values', () => {
    expect(() => mean([])).toThrow(RangeError);
    expect(() => standardDeviation([1])).toThrow(RangeError);
  });
});

describe('pooling', () => {
  it('weights groups by their degrees of freedom', () => {
    const pooled = pooledStandardDeviation([
      [1, 3],
      [10, 10, 13],
    ])!;
    expect(pooled.dof).toBe(3);
    expect(pooled.standardDeviation).toBeCloseTo(Math.sqrt((2 + 6) / 3), 12);
  });
  it('passes over single readings', () =>
    expect(pooledStandardDeviation([[5], [1, 3]])).toEqual({ standardDeviation: Math.SQRT2, dof: 1 }));
  it('says when there is nothing to pool', () => expect(pooledStandardDeviation([[1], []])).toBeNull());
});
