import { describe, expect, it } from 'vitest';
import { signal } from './fixtures/signals';
import { neededFor, SettleTracker } from './settle';

/** Signals of each kind. */
const count = 50;

describe.each(['known', 'unknown'] as const)('settling, with the noise %s', (noise) => {
  const judged = (kind: Parameters<typeof signal>[0], seed: number) => {
    const s = signal(kind, seed);
    const tracker = new SettleTracker(1, noise === 'known' ? s.noise : null);
    for (const [t, v] of s.samples) {
      const now = tracker.add(t, v);
      if (now.probability >= neededFor(0.95)) return { ...s, settledAt: t, value: now.end };
    }
    return { ...s, settledAt: null, value: null };
  };
  it('of signals that settle at most one in twenty is told wrong, and the half of them soon', { timeout: 900_000 }, () => {
    const all = (['lag', 'two-lags', 'swing', 'stiction'] as const).flatMap((kind) =>
      Array.from({ length: count }, (_, i) => judged(kind, 5001 + i)),
    );
    const isWrong = (s: (typeof all)[number]) =>
      s.settledAt !== null && (s.settledAt < s.ideal! || Math.abs(s.value - s.end!) > 1);
    expect(all.filter(isWrong).length / all.length).toBeLessThanOrEqual(0.05);
    const late = all.map((s) => (s.settledAt === null ? 9 : s.settledAt / Math.max(s.ideal!, 20))).sort((a, b) => a - b);
    expect(late[late.length >> 1]).toBeLessThanOrEqual(1.5);
  });
  it('of drifts and of ramps at most one in twenty is declared', { timeout: 900_000 }, () => {
    for (const kind of ['drift', 'ramp'] as const) {
      const declared = Array.from({ length: 2 * count }, (_, i) => judged(kind, 1 + i)).filter((s) => s.settledAt !== null);
      expect(declared.length / (2 * count)).toBeLessThanOrEqual(0.05);
    }
  });
});
