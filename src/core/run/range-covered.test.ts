import { describe, expect, it } from 'vitest';
import { TestBench } from './fixtures/bench';
import { rangeNotCovered } from './range-covered';
import { reviewPoints } from './review-points';

describe('the range that is used', () => {
  it('is covered by the points of the procedure', () =>
    expect(rangeNotCovered(TestBench.micrometer().readAll(() => 0).state, 'as-found')).toEqual([]));
  it('is not, where its upper points were skipped: said at judging and at review', () => {
    const bench = TestBench.micrometer().prepared();
    for (const point of ['p8', 'p9', 'p10'])
      bench.do({ type: 'skipped', set: 'as-found', series: 'error', point, reason: 'No blocks for it' });
    bench.readAll(() => 0);
    const words = 'Error of indication: read from 2.5 to 17.6 mm, and used from 0 to 25 mm: what lies beyond is told by nothing';
    expect(rangeNotCovered(bench.state, 'as-found')).toEqual([words]);
    expect(reviewPoints(bench.state, bench.events)).toContain(words);
  });
  it('says nothing where nothing was read yet', () =>
    expect(rangeNotCovered(TestBench.micrometer().prepared().state, 'as-found')).toEqual([]));
});
