import { describe, expect, it } from 'vitest';
import { exampleSetup, TestBench } from '../run/fixtures/bench';
import { nextItem } from '../run/next-step';
import { slotOf } from '../state/place-keys';
import type { Slot } from '../state/run-state';

const nextSlot = (bench: TestBench): Slot => {
  const item = nextItem(bench.state);
  if (item?.type !== 'reading') throw new Error(`A reading was expected, not ${item?.type}.`);
  return slotOf(item);
};

describe('readings that are withdrawn', () => {
  it('are those of one instance where one is named: the others stay', () => {
    const bench = new TestBench(exampleSetup('flow-volume-meter-by-syringe')).playTo('reading');
    bench.shown.reading = () => '3.00';
    const first = nextSlot(bench).each!;
    while (nextItem(bench.state)?.type !== 'reading' || nextSlot(bench).each === first) bench.playNext();
    bench.playNext();
    const ofEach = (each: string) => [...bench.state.live.values()].filter((r) => r.slot.each === each).length;
    const second = bench.state.readings.at(-1)!.slot;
    const kept = ofEach(first);
    expect([kept > 0, ofEach(second.each!)]).toEqual([true, 1]);
    bench.do({ type: 'withdrawn', set: second.set, series: second.series, each: second.each!, reason: 'Wrong syringe' });
    expect([ofEach(first), ofEach(second.each!)]).toEqual([kept, 0]);
    expect(bench.state.readings.filter((r) => r.struck).map((r) => r.slot.each)).toEqual([second.each]);
  });
});

describe('a reading', () => {
  const bench = () => TestBench.micrometer().prepared();
  it('that the display can reach is doubted, one beyond it cannot have been shown', () => {
    const one = bench();
    const slot = nextSlot(one);
    // A tenth of the range beyond its ends a display still counts.
    expect(one.try({ type: 'observed', ...slot, text: '27.400' })).not.toContain('cannot show');
    expect(one.try({ type: 'observed', ...slot, text: '27.600' })).toContain('It reaches from 0 to 25 mm: it cannot show');
    expect(one.try({ type: 'observed', ...slot, text: '-2.600' })).toContain('cannot show');
  });
  it('that was kept is kept with its reason', () => {
    const one = bench();
    const slot = nextSlot(one);
    expect(one.try({ type: 'observed', ...slot, text: '9.000' })).not.toBeNull();
    one.do({ type: 'observed', ...slot, text: '9.000', confirmed: true, reason: 'The spindle slips' });
    expect(one.state.readings.at(-1)).toMatchObject({ text: '9.000', reason: 'The spindle slips', struck: null });
    expect([...one.state.live.values()].at(-1)!.reason).toBe('The spindle slips');
  });
});
