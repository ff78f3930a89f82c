import { describe, expect, it } from 'vitest';
import { actWords } from '../acts/words';
import { placedPoint, type Slot } from '../state/run-state';
import { adjustmentAdvice } from './adjustment-advice';
import { setups, TestBench } from './fixtures/bench';
import { nextItem } from './next-step';
import { turningOf } from './turning';
import { verdictAsFound, verdictAsLeft } from './run-results';

/** A transmitter of 0 to 600 kPa whose current is off at both ends; each screw drags the other end with it. */
function transmitter(drags: [number, number]) {
  const off: [number, number] = [0.12, 0.2];
  const bench = new TestBench({ ...setups['pressure-transmitter']!(), choices: { what: 'transmitter', trimmed: 'screws' } });
  const span = bench.state.instrument.usedUpper - bench.state.instrument.usedLower;
  const current = (nominal: number) => 4 + (16 * nominal) / span + off[0] + ((off[1] - off[0]) * nominal) / span;
  bench.shown.reading = (state, slot) => {
    const nominal = placedPoint(state, slot)!.nominal!;
    return slot.observation === 'P' ? nominal.toFixed(2) : current(nominal).toFixed(3);
  };
  bench.playTo('judge');
  const proposed = adjustmentAdvice(bench.state, 'as-found').adjustment;
  bench.do({
    type: 'adjustment-decided',
    set: 'as-found',
    adjustment: 'screws',
    proposed,
    reason: '',
  });
  return {
    bench,
    turning: () => turningOf(bench.state)!,
    turn: (at: 0 | 1, toCurrent: number) => {
      const nominal = at === 0 ? 0 : span;
      const by = toCurrent - current(nominal);
      off[at] += by;
      off[at === 0 ? 1 : 0] += drags[at] * by;
    },
    read: () => {
      const { place, slots } = turningOf(bench.state)!;
      const texts = Object.fromEntries(slots.map((s: Slot) => [s.observation, bench.shown.reading(bench.state, s)]));
      return bench.try({ type: 'turn-read', ...place, id: 'screws', texts });
    },
  };
}

describe('zero and span of a transmitter, by their screws', () => {
  it('are led in rounds to the end, by what the current is to show, and both hold in what is read as left', () => {
    const { bench, turning, turn, read } = transmitter([0.9, 0.6]);
    expect(verdictAsFound(bench.state)).toBe('fail');
    expect(turning()).toMatchObject({ next: { do: 'read', at: 0 }, turnTo: null, said: [] });
    let acts = 0;
    for (; ['read', 'turn'].includes(turning().next.do); acts++) {
      const { next, turnTo } = turning();
      if (next.do === 'turn') {
        expect(turnTo!.title).toBe('Current');
        turn(next.at, Number(turnTo!.words.replace(/ mA$/, '').replace('−', '-')));
      }
      expect(read()).toBeNull();
      expect(acts).toBeLessThan(40);
    }
    expect(turning()).toMatchObject({ next: { do: 'done', left: 0 } });
    expect(turning().next.round).toBeLessThanOrEqual(3);
    expect(turning().next.drags[0]).toBeCloseTo(0.9, 1);
    expect(turning().next.drags[1]).toBeCloseTo(0.6, 1);
    expect(actWords(bench.events.at(-1)!.act, bench.state)).toMatch(
      /^Zero and span by their screws, .*: Pressure .* kPa, Current [\d.]+ mA$/,
    );
    bench.do({ type: 'adjusted', set: 'as-found', id: 'screws', stored: {}, note: '' }).playTo('interval');
    expect(verdictAsLeft(bench.state)).toBe('pass');
  });
  it('cannot be given up once something was read there, and asks only for the point that comes next', () => {
    const { bench, turning, read } = transmitter([0.5, 0.5]);
    const { place } = turning();
    expect(bench.try({ type: 'turn-read', ...place, point: 'p5', id: 'screws', texts: { P: '600', I: '20' } })).toContain(
      'not what comes next',
    );
    expect(bench.try({ type: 'turn-read', ...place, id: 'screws', texts: { P: '0' } })).toContain(
      'Current: what does it read now',
    );
    expect(read()).toBeNull();
    expect(bench.try({ type: 'adjustment-abandoned', set: 'as-found', reason: 'Left after all' })).toContain('turned already');
  });
  it('that do the same end in repair', () => {
    const { turning, turn, read } = transmitter([1, 1]);
    for (let i = 0; i < 20 && ['read', 'turn'].includes(turning().next.do); i++) {
      const { next, turnTo } = turning();
      if (next.do === 'turn') turn(next.at, Number(turnTo!.words.replace(/ mA$/, '')));
      read();
    }
    expect(turning().next.do).toBe('repair');
  });
  it('of an adjustment that stores values nothing is turned, nor before one is decided on', () => {
    const bench = new TestBench(setups['pressure-transmitter']!());
    const ordinary = bench.shown.reading;
    bench.shown.reading = (state, slot) => {
      const shown = Number(ordinary(state, slot));
      return (slot.observation === 'I' ? shown + 0.09 : shown).toFixed(3);
    };
    expect(turningOf(bench.playTo('judge').state)).toBeNull();
    expect(turningOf(bench.playTo('adjust').state)).toBeNull();
    expect(nextItem(bench.state)).toMatchObject({ type: 'adjust', id: 'zeroAndSpan' });
  });
});
