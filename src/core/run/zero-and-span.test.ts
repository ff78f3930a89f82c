import { describe, expect, it } from 'vitest';
import { seededRandom, normalDeviate } from '../../bench/random';
import { nextTurn, type Between } from './zero-and-span';

/** Two screws: what each moves at both ends, a display with a step, and a hand that sets what it is told. */
function screws(drags: [number, number], noise = 0, seed = 1) {
  const random = seededRandom(seed);
  const errors: [number, number] = [0.4, 1];
  return {
    errors,
    read: (at: 0 | 1) => errors[at] + noise * normalDeviate(random),
    turnTo: (at: 0 | 1, aim: number) => {
      const by = aim - errors[at] + noise * normalDeviate(random);
      errors[at] += by;
      errors[at === 0 ? 1 : 0] += drags[at] * by;
    },
  };
}

/** Follows the advice to its end: how many visits to a point it took. */
function follow(pair: ReturnType<typeof screws>, within: number, most = 20) {
  const found: [number, number] = [pair.errors[0], pair.errors[1]];
  const readings: Between[] = [];
  for (let i = 0; i < 200; i++) {
    const next = nextTurn({ found, readings, within, most, step: 0 });
    if (next.do !== 'read' && next.do !== 'turn') return { end: next.do, readings, round: next.round };
    if (next.do === 'turn') pair.turnTo(next.at, next.aim);
    readings.push({ at: next.at, error: pair.read(next.at) });
  }
  throw new Error('It never ended.');
}

/** As it is done without advice: each set right in turn, until both are. */
function backAndForth(pair: ReturnType<typeof screws>, within: number) {
  let rounds = 0;
  for (; pair.errors.some((e) => Math.abs(e) > within) && rounds < 500; rounds++) {
    pair.turnTo(0, 0);
    pair.turnTo(1, 0);
  }
  return { rounds, pair };
}

describe('zero and span that fight', () => {
  it('begin with the zero, and are learnt from the first round', () => {
    const found: [number, number] = [0.4, 1];
    const after = (...readings: [0 | 1, number][]) =>
      nextTurn({ found, readings: readings.map(([at, error]) => ({ at, error })), within: 0.02, most: 5, step: 0.001 });
    expect(after()).toMatchObject({ do: 'read', at: 0 });
    expect(after([0, 0.4])).toMatchObject({ do: 'turn', at: 0, aim: 0 });
    expect(after([0, 0.4], [0, 0])).toMatchObject({ do: 'read', at: 1 });
    // The zero went down by 0.4 and took 0.32 with it at the top.
    const top = after([0, 0.4], [0, 0], [1, 0.68]);
    expect(top).toMatchObject({ do: 'turn', at: 1, aim: 0 });
    expect(top.drags[0]).toBeCloseTo(0.8, 12);
    expect(top.drags[1]).toBeNull();
    const bottom = after([0, 0.4], [0, 0], [1, 0.68], [1, 0], [0, -0.34]);
    expect(bottom).toMatchObject({ do: 'turn', at: 0, aim: 0, left: 1 });
    expect(bottom.drags[1]).toBeCloseTo(0.5, 12);
    // At the top again: 0.272 is left beside by what the last zero takes away, 0.4 · 0.272/0.6.
    const again = after([0, 0.4], [0, 0], [1, 0.68], [1, 0], [0, -0.34], [0, 0], [1, 0.272]);
    expect(again).toMatchObject({ do: 'turn', at: 1 });
    expect(again.aim).toBeCloseTo((-0.272 * 0.4) / 0.6, 12);
  });
  it('are both inside after the second round, whatever they drag, and the zero is set last', () => {
    for (const drags of [
      [0.8, 0.5],
      [-0.9, 0.7],
      [0.95, 0.9],
      [-0.6, -0.6],
      [1.4, 0.9],
    ] as [number, number][]) {
      const pair = screws(drags);
      const { end, readings, round } = follow(pair, 0.001);
      expect(end, String(drags)).toBe('done');
      expect(round, String(drags)).toBeLessThanOrEqual(3);
      expect(Math.max(...pair.errors.map(Math.abs))).toBeLessThanOrEqual(0.001);
      const turned = readings.filter((r, i) => readings[i - 1]?.at === r.at).at(-1)!;
      expect(turned.at).toBe(0);
    }
  });
  it('take plain back and forth many rounds more', () => {
    const { rounds, pair } = backAndForth(screws([0.9, 0.85]), 0.01);
    expect(Math.max(...pair.errors.map(Math.abs))).toBeLessThanOrEqual(0.01);
    expect(rounds).toBeGreaterThan(5 * follow(screws([0.9, 0.85]), 0.01).round);
  });
  it('end at once where nothing is wrong, and with repair where both do the same', () => {
    const still = screws([0.5, 0.5]);
    still.errors.splice(0, 2, 0.001, -0.001);
    expect(follow(still, 0.01)).toMatchObject({ end: 'done', readings: [{ at: 0 }] });
    expect(follow(screws([1, 0.98]), 0.01).end).toBe('repair');
  });
  it('stop after so many rounds where the display never stands still', () => {
    expect(follow(screws([0.7, 0.7], 0.3, 5), 0.001, 3).end).toBe('stop');
  });
  it('are set until the display shows the aim: a turn that fell short is taken further', () => {
    const of = { found: [0.4, 1] as [number, number], within: 0.02, most: 5, step: 0.001 };
    expect(
      nextTurn({
        ...of,
        readings: [
          { at: 0, error: 0.4 },
          { at: 0, error: 0.1 },
        ],
      }),
    ).toMatchObject({ do: 'turn', at: 0, aim: 0 });
  });
});
