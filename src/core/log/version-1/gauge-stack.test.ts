import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fewestBlocks, stackNominal } from './gauge-stack';

const range = (from: number, to: number, step: number) =>
  Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => Math.round((from + i * step) * 1e4) / 1e4);
const set47 = [1.005, ...range(1.01, 1.09, 0.01), ...range(1.1, 1.9, 0.1), ...range(1, 24, 1), 25, 50, 75, 100].map(
  (nominal) => ({ id: String(nominal), nominal }),
);
const sizes = (target: number) => fewestBlocks(target, set47)?.map((b) => b.nominal);

describe('the fewest blocks for a length', () => {
  it.each([
    [25, [25]],
    [2.5, [1.5, 1]],
    [20.2, [19, 1.2]],
    [12.9, [11, 1.9]],
    [97.8, [75, 21, 1.8]],
    [41.125, [25, 13, 1.1, 1.02, 1.005]],
  ])('%d mm', (target, expected) => {
    const found = sizes(target)!;
    expect(found).toHaveLength(expected.length);
    expect(stackNominal(found.map((nominal) => ({ id: '', nominal })))).toBe(target);
    if (expected.length < 3) expect(found).toEqual(expected);
  });
  it('says when a length cannot be built', () => {
    expect(sizes(0.5)).toBeUndefined();
    expect(sizes(1.0005)).toBeUndefined();
    expect(sizes(0)).toBeUndefined();
    expect(sizes(-5)).toBeUndefined();
    expect(sizes(10_000)).toBeUndefined();
  });
  it('no shorter stack exists, no block stands twice, and the sum is exact', () =>
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 600 }), (tenths) => {
        const target = tenths / 10;
        const found = fewestBlocks(target, set47);
        const pairs = new Set(
          set47.flatMap((a) => set47.filter((b) => b !== a).map((b) => Math.round((a.nominal + b.nominal) * 1e4))),
        );
        const best = set47.some((b) => Math.abs(b.nominal - target) < 1e-6) ? 1 : pairs.has(Math.round(target * 1e4)) ? 2 : 3;
        expect(found!.length).toBeGreaterThanOrEqual(best);
        if (best < 3) expect(found).toHaveLength(best);
        expect(new Set(found!.map((b) => b.id)).size).toBe(found!.length);
        expect(stackNominal(found!)).toBe(target);
      }),
    ));
});
