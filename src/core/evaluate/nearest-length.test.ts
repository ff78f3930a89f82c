import { describe, expect, it } from 'vitest';
import { nearestLength } from './nearest-length';

describe('the sum that lies nearest to a length', () => {
  it.each([
    [4, 3],
    [7.9, 8],
    [100, 8],
    [0, 0],
    [0.4, 0],
  ])('of 1, 2 and 5 to %d is %d', (wanted, sum) => expect(nearestLength([1, 2, 5], wanted)).toBe(sum));
  it('of items without a measure in common is one of at most four of them', () => {
    // Square roots: no sum of some is a sum of others.
    const items = [2, 3, 5, 7, 11, 13].map(Math.sqrt);
    const of = (...which: number[]) => which.reduce((sum, i) => sum + items[i]!, 0);
    expect(nearestLength(items, of(0, 2, 3, 5))).toBeCloseTo(of(0, 2, 3, 5), 9);
    // All but the first, five of them: four of the others come nearest, by looking at every choice of up to four.
    const wanted = of(1, 2, 3, 4, 5);
    let best = 0;
    for (let mask = 0; mask < 64; mask++) {
      const chosen = items.filter((_, i) => mask & (1 << i));
      const sum = chosen.reduce((a, b) => a + b, 0);
      if (chosen.length <= 4 && Math.abs(sum - wanted) < Math.abs(best - wanted)) best = sum;
    }
    expect(best).not.toBeCloseTo(wanted, 3);
    expect(nearestLength(items, wanted)).toBeCloseTo(best, 9);
  });
  it('is nothing where nothing is there', () => expect(nearestLength([], 3)).toBeNull());
});
