import { describe, expect, it } from 'vitest';
import { actWords } from '../acts/words';
import { TestBench } from './fixtures/bench';
import { howManyMore, readingsFor } from './how-many';
import { nextItem, sentenceOf } from './next-step';
import { determinedIn, evaluationIn } from './run-results';

/** A micrometer near its limit of 4 µm at 7.7 mm, with repeats that scatter, in mm. */
const doubtful = (error: number, scatter: number) =>
  TestBench.micrometer().readAll((nominal, repeat) => (nominal === 7.7 ? error : 0) + scatter * (repeat - 1));

describe('how many readings bring U down', () => {
  it('is the least number whose mean scatters little enough', () => {
    // 2 √(0.3² + 0.8² · 3/n) ≤ 1 wants n ≥ 12.
    expect(readingsFor({ wanted: 1, factor: 2, count: 3, scatter: 0.8, least: 0, rest: 0.3 })).toBe(12);
    expect(readingsFor({ wanted: 0.9999, factor: 2, count: 3, scatter: 0.8, least: 0, rest: 0.3 })).toBe(13);
  });
  it('is none where what is not scatter, or the step of the display, is more already', () => {
    expect(readingsFor({ wanted: 1, factor: 2, count: 3, scatter: 0.8, least: 0, rest: 0.51 })).toBeNull();
    expect(readingsFor({ wanted: 1, factor: 2, count: 3, scatter: 0.8, least: 0.45, rest: 0.3 })).toBeNull();
  });
  it('is none beyond thirty', () => {
    // A scatter of 1.3 wants 3 · 1.69/0.16 = 31.7 readings.
    expect(readingsFor({ wanted: 1, factor: 2, count: 3, scatter: 1.3, least: 0, rest: 0.3 })).toBeNull();
    expect(readingsFor({ wanted: 1, factor: 2, count: 3, scatter: 1.26, least: 0, rest: 0.3 })).toBe(30);
  });
});

describe('a point in doubt', () => {
  it('is told with about how many more readings would tell; those are taken, and it is judged anew', () => {
    const bench = doubtful(0.003, 0.001);
    const [doubt, ...others] = howManyMore(bench.state, 'as-found');
    expect(others).toEqual([]);
    expect(doubt!.words).toMatch(/^7\.7 mm: about \d+ more readings? would tell, if it stays where it is$/);
    const more = doubt!.more!;
    expect(bench.try({ type: 'more-asked', ...doubt!.place, count: more })).toBeNull();
    expect(actWords(bench.events.at(-1)!.act, bench.state)).toBe(`7.7 mm: ${more} more ${more === 1 ? 'reading' : 'readings'}`);
    expect(nextItem(bench.state)).toMatchObject({ type: 'reading', point: doubt!.place.point, repeat: 4 });
    expect(sentenceOf(bench.state, nextItem(bench.state), bench.at)).toContain(`4 of ${3 + more}`);
    bench.shown.reading = (state, slot) => (bench.certified(state, slot) + 0.003 + 0.001 * ((slot.repeat % 3) - 1)).toFixed(3);
    bench.playTo('judge');
    const point = { set: 'as-found', series: 'error', point: doubt!.place.point };
    const result = determinedIn(bench.state, point, bench.state.procedure.series[0]!.results[0]!)!;
    expect(result.verdict).toBe('pass');
    expect(evaluationIn(bench.state, 'as-found').complete).toBe(true);
    expect(howManyMore(bench.state, 'as-found')).toEqual([]);
  });
  it('so near to its limit that no number would tell is said to be', () => {
    const [doubt] = howManyMore(doubtful(0.00395, 0.0002).state, 'as-found');
    expect(doubt).toMatchObject({ more: null });
    expect(doubt!.words).toMatch(
      /^7\.7 mm: no number of readings would tell; with 30 of them U is still 0\.\d+ µm, and 0\.\d+ µm would be wanted$/,
    );
  });
  it('clearly inside, or clearly outside, nothing more is wanted', () => {
    expect(howManyMore(doubtful(0.001, 0.0002).state, 'as-found')).toEqual([]);
    expect(howManyMore(doubtful(0.008, 0.0002).state, 'as-found')).toEqual([]);
  });
  it('is not read more often before its set is judged, nor where nothing was read', () => {
    const bench = new TestBench().prepared();
    expect(bench.try({ type: 'more-asked', set: 'as-found', series: 'error', point: 'p3', count: 2 })).toContain(
      'not what comes next',
    );
    const judged = doubtful(0.003, 0.001);
    expect(judged.try({ type: 'more-asked', set: 'as-found', series: 'error', point: 'p99', count: 2 })).toContain(
      'Nothing was read there',
    );
  });
});
