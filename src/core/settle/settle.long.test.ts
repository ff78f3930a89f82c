import { describe, expect, it } from 'vitest';
import { judged } from './fixtures/judged';

/** Signals of each kind. */
const count = 50;

describe.each(['known', 'unknown'] as const)('settling, with the noise %s', (noise) => {
  it('of signals that settle at most one in twenty is told wrong, and the half of them soon', { timeout: 900_000 }, () => {
    const all = (['lag', 'two-lags', 'swing', 'stiction'] as const).flatMap((kind) =>
      Array.from({ length: count }, (_, i) => judged(kind, 5001 + i, noise === 'known')),
    );
    const isWrong = (s: (typeof all)[number]) =>
      s.settledAt !== null && (s.settledAt < s.ideal! || Math.abs(s.value - s.end!) > 1);
    expect(all.filter(isWrong).length / all.length).toBeLessThanOrEqual(0.05);
    const late = all.map((s) => (s.settledAt === null ? 9 : s.settledAt / Math.max(s.ideal!, 20))).sort((a, b) => a - b);
    expect(late[late.length >> 1]).toBeLessThanOrEqual(1.5);
  });
  it('of drifts and of ramps at most one in twenty is declared', { timeout: 900_000 }, () => {
    for (const kind of ['drift', 'ramp'] as const) {
      const declared = Array.from({ length: 2 * count }, (_, i) => judged(kind, 1 + i, noise === 'known')).filter(
        (s) => s.settledAt !== null,
      );
      expect(declared.length / (2 * count)).toBeLessThanOrEqual(0.05);
    }
  });
});

describe('over signals whose end is known', () => {
  const kinds = ['lag', 'two-lags', 'swing', 'stiction'] as const;
  it('is seldom wrong, seldom late, and seldom fooled by a drift', { timeout: 120_000 }, () => {
    let [wrong, all] = [0, 0];
    const late: number[] = [];
    for (const kind of kinds)
      for (let seed = 1001; seed <= 1016; seed++) {
        const { end, ideal, settledAt, value } = judged(kind, seed, false);
        all++;
        late.push(settledAt === null ? 9 : settledAt / Math.max(ideal!, 20));
        if (settledAt !== null && (settledAt < ideal! || Math.abs(value - end!) > 1)) wrong++;
      }
    // Five in a hundred are allowed; of 64 with that rate more than seven come about once in fifty.
    expect(wrong / all).toBeLessThan(7.5 / 64);
    expect(late.sort((a, b) => a - b)[late.length >> 1]).toBeLessThan(1.5);
    const fooled = (['drift', 'ramp'] as const).map(
      (kind) => Array.from({ length: 16 }, (_, i) => judged(kind, 1001 + i, true).settledAt !== null).filter(Boolean).length,
    );
    expect(Math.max(...fooled)).toBeLessThanOrEqual(2);
  });
});
