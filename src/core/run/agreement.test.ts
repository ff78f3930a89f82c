import { describe, expect, it } from 'vitest';
import { criticalRange } from '../statistics/critical-range';
import { agreementAt } from './agreement';
import { TestBench } from './fixtures/bench';
import { nextItem } from './next-step';
import { slotOf } from '../state/place-keys';
import type { Slot } from '../state/run-state';

/** The micrometer, three repeats a point, read to 0.001 mm; after each reading the place it was read at. */
function read(errors: readonly number[][]): { bench: TestBench; last: Slot } {
  const bench = TestBench.micrometer().prepared();
  let last: Slot | null = null;
  for (const row of errors)
    for (const error of row) {
      const item = nextItem(bench.state);
      if (item?.type !== 'reading') throw new Error('No reading comes next.');
      last = slotOf(item);
      bench.do({ type: 'observed', ...last, text: (bench.certified(bench.state, last) + error).toFixed(3), confirmed: true });
    }
  return { bench, last: last! };
}
const said = (errors: readonly number[][]) => {
  const { bench, last } = read(errors);
  return agreementAt(bench.state, last);
};

describe('repeats of a point', () => {
  it('the critical range is the studentized range: 2.77, 3.31, 3.63 standard deviations', () =>
    expect([2, 3, 4, 10, 50].map((n) => criticalRange(n, 2))).toEqual([5.54, 6.62, 7.26, 8.94, 8.94]));
  it('one alone says nothing', () => expect(said([[0]])).toBeNull());
  it('within a few steps of the display they agree, where nothing tells what is usual', () =>
    expect(said([[0.001, 0, 0.002]])).toMatchObject({ state: 'agree', count: 3 }));
  it('two that lie apart want one more', () =>
    expect(said([[0, 0.004]])).toMatchObject({ state: 'one-more', range: expect.closeTo(0.004, 9) }));
  it('three that lie apart want a look at the contact', () => {
    const apart = said([[0.006, 0, 0.004]])!;
    expect(apart).toMatchObject({ state: 'apart', count: 3 });
    expect(apart.words).toContain('Look at contact');
    expect(apart.allowed).toBeCloseTo(3.31 * 0.0012, 9);
  });
  it('three that go one way are still moving', () => expect(said([[0, 0.003, 0.006]])).toMatchObject({ state: 'moving' }));
  it('one taken again stands at its place: they are told in the order of their repeats', () => {
    const { bench, last } = read([[0.006, 0.003, 0.006]]);
    const first = bench.state.readings[0]!;
    bench.do({ type: 'struck', sequence: first.sequence, reason: 'A slip of the hand' });
    bench.do({ type: 'observed', ...first.slot, text: bench.certified(bench.state, last).toFixed(3), confirmed: true });
    // 0, 3 and 6 µm: one way, though the first was taken last.
    expect(agreementAt(bench.state, last)).toMatchObject({ state: 'moving', count: 3 });
  });
  it('other points tell what scatter is usual here', () => {
    const usual = [0.004, -0.004, 0];
    expect(said([usual, usual, [0.005, -0.003, 0.001]])).toMatchObject({ state: 'agree' });
    // Pooled over two points, four degrees of freedom: s = 0.004.
    expect(said([usual, usual, [0, 0]])!.allowed).toBeCloseTo(2.77 * 0.004, 4);
  });
});
