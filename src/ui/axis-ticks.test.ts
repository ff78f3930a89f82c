import { describe, expect, it } from 'vitest';
import { roundTicks, yearTicks } from './axis-ticks';

describe('ticks', () => {
  it('are round and include the ends where they are round', () => {
    expect(roundTicks(-6, 6, 7)).toEqual([-6, -4, -2, 0, 2, 4, 6]);
    expect(roundTicks(0, 0.3, 4)).toEqual([0, 0.1, 0.2, 0.3]);
  });
  it('are never more than can be read, however far the values go', () => {
    for (const reach of [1e-9, 1, 1.29e9, 1e19, 1e300]) expect(roundTicks(-reach, reach, 7).length).toBeLessThanOrEqual(7);
    expect(roundTicks(0, Infinity, 7)).toEqual([]);
    expect(roundTicks(1, 1, 7)).toEqual([]);
    expect(roundTicks(NaN, 1, 7)).toEqual([]);
  });
  it('mark years, and skip them where there are many', () => {
    const at = (year: number) => Date.UTC(year, 5, 1);
    expect(yearTicks(at(2024), at(2026), 12)).toEqual([Date.UTC(2025, 0, 1), Date.UTC(2026, 0, 1)]);
    expect(yearTicks(at(1900), at(2199), 12).length).toBeLessThanOrEqual(13);
  });
});
