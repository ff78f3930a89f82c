import { runState } from '../acts/fold';
import { describe, expect, it } from 'vitest';
import { setups, TestBench } from './fixtures/bench';
import { adjustmentAdvice } from './adjustment-advice';
import { nextItem } from './next-step';
import { reviewPoints } from './review-points';
import { itemKey } from '../state/place-keys';
import { placedPoint } from '../state/run-state';

/** A transmitter of which an adjustment is advised, up to the adjusting itself. */
function about() {
  const bench = new TestBench(setups['pressure-transmitter']!());
  const ordinary = bench.shown.reading;
  bench.shown.reading = (state, slot) => {
    const shown = Number(ordinary(state, slot));
    return (slot.observation === state.procedure.series[0]!.observe.at(-1)!.id ? shown + 0.09 : shown).toFixed(3);
  };
  return bench.playTo('adjust');
}

describe('an adjustment that is about to be made', () => {
  it('is refused where it would enter what is held already, with the way back', () => {
    const bench = about();
    const { id, set } = nextItem(bench.state) as { id: string; set: string };
    const doc = bench.setup.procedure.adjustments.find((a) => a.id === id)!;
    const same = Object.fromEntries(doc.stored.map((s) => [s.id, { before: '0', after: '0.0', readBack: '0' }]));
    expect(bench.try({ type: 'adjusted', set, id, stored: same, note: 'As shown' })).toContain('adjusts nothing');
  });
  it('can be given up: the plan is as it was, the set is judged again, and the reviewer is told', () => {
    const bench = about();
    const { set } = nextItem(bench.state) as { set: string };
    const { plan } = bench.state.decisions.at(-1)!;
    bench.do({ type: 'adjustment-abandoned', set, reason: 'The cause lies elsewhere' });
    expect(nextItem(bench.state)?.type).toBe('judge');
    expect(bench.state.decisions).toEqual([]);
    const keys = bench.state.plan.map(itemKey);
    for (const item of plan.items) expect(keys).not.toContain(itemKey(item));
    expect(runState(bench.events).plan.map(itemKey)).toEqual(keys);
    expect(reviewPoints(bench.state, bench.events).join('\n')).toContain(
      'given up before anything was changed: The cause lies elsewhere',
    );
    // Only what is about to be made can be given up; the same decision can be made again.
    expect(bench.try({ type: 'adjustment-abandoned', set, reason: 'Once more' })).toContain('about to be made');
    bench.playTo('adjust');
    expect(bench.state.decisions).toHaveLength(1);
    bench.shown.stored = () => ({ before: '0', after: '0.01' });
    bench.playTo('end');
    expect(bench.state.adjusted).toHaveLength(1);
    expect(bench.try({ type: 'adjustment-abandoned', set, reason: 'Too late' })).not.toBeNull();
  });
});

describe('an adjustment that is made again and again', () => {
  it('is advised three times at the most: what is outside then needs repair', () => {
    const bench = new TestBench(setups['pressure-transmitter']!());
    // Each time most of the error comes back.
    bench.shown.reading = (state, slot) => {
      const nominal = placedPoint(state, slot)!.nominal!;
      const error = [0.19, 0.14, 0.1, 0.07][state.adjusted.length]!;
      return slot.observation === 'P' ? nominal.toFixed(2) : (4 + (16 * nominal) / 600 + error).toFixed(3);
    };
    bench.shown.stored = () => {
      const made = bench.state.adjusted.length;
      return { before: (-0.01 * made).toFixed(2), after: (-0.01 * (made + 1)).toFixed(2) };
    };
    const advised: (string | null)[] = [];
    for (let i = 0; i < 4; i++) {
      bench.playTo('judge');
      const { adjustment, reason } = adjustmentAdvice(bench.state, bench.state.sets.at(-1)!.id);
      advised.push(adjustment);
      if (i === 3)
        expect(reason).toBe(
          'Adjusted 3 times and still outside: stop here. It needs repair: break the run off as damaged, or leave it as it is, outside.',
        );
      bench.playNext();
      if (adjustment === null) break;
      bench.playTo('adjust').playNext();
    }
    expect(advised).toEqual(['zeroAndSpan', 'zeroAndSpan', 'zeroAndSpan', null]);
  });
});
