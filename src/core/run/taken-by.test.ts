import { describe, expect, it } from 'vitest';
import { takenBy } from '../evaluate/adjustments';
import { drawn, Worked } from '../../bench/practice/fixtures/played';
import type { RunState } from '../state/run-state';
import { TestBench } from './fixtures/bench';
import { judgedPoints } from './judged-points';
import { settingIn } from './run-results';

const set = 'as-found';
const takenOf = (bench: { state: RunState }, id: string) => {
  const doc = bench.state.procedure.adjustments.find((a) => a.id === id)!;
  return takenBy(settingIn(bench.state, set), doc, set, null);
};
const errors = (bench: { state: RunState }) =>
  judgedPoints(
    bench.state,
    set,
    bench.state.procedure.series.find((s) => s.id === 'error')!,
    ['E'],
  ).map((p) => ({
    x: p.result.reference ?? p.nominal!,
    value: p.value,
    point: p.place.point,
  }));

const played = (id: string) => {
  const { practice, first } = drawn(id, 4);
  return new Worked(practice, first).toDecision();
};

describe('what an adjustment takes away', () => {
  it('of a constant is the mean of what is shown, everywhere alike', () => {
    const bench = TestBench.micrometer().readAll((nominal) => 0.002 + 0.0001 * nominal);
    const taken = takenOf(bench, 'zero')!;
    const values = errors(bench).map((e) => e.value);
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    expect(taken.by(0)).toBeCloseTo(mean, 12);
    expect(taken.by(25)).toBe(taken.by(0));
    expect(taken.series).toEqual(['error']);
    expect(taken.unit).toBe('mm');
  });

  it('of zero and span is the line of least squares over the points that take part, each passage of them', () => {
    const bench = played('wind-pressure');
    const taken = takenOf(bench, 'zeroAndSpan')!;
    const ends = bench.state.procedure.adjustments[0]!.takes!;
    expect(ends).toEqual(['first', 'last']);
    const named = (point: string | undefined) => point === 'p1' || point === 'p5';
    const all = errors(bench).filter((e) => named(e.point));
    expect(all).toHaveLength(4);
    const n = all.length;
    const [sx, sy] = [all.reduce((s, e) => s + e.x, 0) / n, all.reduce((s, e) => s + e.value, 0) / n];
    const slope = all.reduce((s, e) => s + (e.x - sx) * (e.value - sy), 0) / all.reduce((s, e) => s + (e.x - sx) ** 2, 0);
    expect(taken.by(sx)).toBeCloseTo(sy, 9);
    expect(taken.by(sx + 100) - taken.by(sx)).toBeCloseTo(100 * slope, 9);
  });

  it('of what the hand turns nobody can tell', () => {
    const bench = played('sticky-plunger');
    expect(takenOf(bench, 'hand')).toBeNull();
  });
});
