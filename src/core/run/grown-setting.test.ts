import { runState } from '../acts/fold';
import { describe, expect, it } from 'vitest';
import { setups, TestBench } from './fixtures/bench';
import { nextItem } from './next-step';
import { evaluationIn, settingIn } from './run-results';
import { placedPoint } from '../state/run-state';

describe('a setting that grows reading by reading', () => {
  it.each(Object.keys(setups))('%s: gives after every reading what the whole log gives', (family) => {
    const bench = new TestBench(setups[family]!());
    let taken = 0;
    bench.shown.reading = (state, slot) => {
      // What was worked out before this reading is there to be grown from.
      settingIn(state, slot.set);
      if (taken++ % 3 === 0) {
        const grown = JSON.stringify(evaluationIn(state, slot.set));
        expect(grown).toBe(JSON.stringify(evaluationIn(runState(bench.events), slot.set)));
      }
      const nominal = placedPoint(state, slot)!.nominal!;
      if (family === 'pressure-transmitter' && slot.observation === 'I')
        return (4 + (16 * nominal) / 600 + 0.002 * slot.repeat).toFixed(3);
      return (slot.observation === 'Z' ? 0 : nominal + 0.001 * (taken % 2)).toFixed(
        family === 'pressure-transmitter' || (family === 'thermometer-in-bath' && slot.observation.startsWith('T')) ? 2 : 3,
      );
    };
    bench.playTo('judge');
    expect(taken).toBeGreaterThan(19);
    expect(nextItem(bench.state)?.type).toBe('judge');
  });

  it('is read anew after a reading was struck out, and when conditions were read again', () => {
    const bench = new TestBench();
    bench.prepared();
    const reading = (text: string, repeat: number) => ({
      type: 'observed' as const,
      set: 'as-found',
      series: 'error',
      point: 'p1',
      repeat,
      observation: 'R',
      text,
    });
    const whole = () => JSON.stringify(evaluationIn(runState(bench.events), 'as-found'));
    bench.do(reading('2.500', 1)).do(reading('2.501', 2));
    evaluationIn(bench.state, 'as-found');
    bench.do({ type: 'struck', sequence: bench.state.readings[0]!.sequence, reason: 'Mistyped' });
    expect(JSON.stringify(evaluationIn(bench.state, 'as-found'))).toBe(whole());
    bench.do({ type: 'conditions-recorded', set: 'as-found', values: { air: '20.4', blocks: '20.4', frame: '20.4' } });
    evaluationIn(bench.state, 'as-found');
    bench.do(reading('2.502', 1));
    expect(JSON.stringify(evaluationIn(bench.state, 'as-found'))).toBe(whole());
  });

  it('of a set that others followed is kept, and is what the whole log gives', () => {
    const bench = new TestBench();
    const whole = () => JSON.stringify(evaluationIn(runState(bench.events), 'as-found'));
    bench.playTo('judge');
    bench.do({ type: 'adjustment-decided', set: 'as-found', adjustment: 'zero', proposed: null, reason: 'Asked for' });
    bench.playTo('begin');
    const before = evaluationIn(bench.state, 'as-found');
    bench.playTo('reading');
    const closed = settingIn(bench.state, 'as-found');
    expect(JSON.stringify(evaluationIn(bench.state, 'as-found'))).toBe(whole());
    expect(before.verdict).toBe(evaluationIn(bench.state, 'as-found').verdict);
    bench.playTo('interval');
    expect(settingIn(bench.state, 'as-found')).toBe(closed);
    expect(settingIn(bench.state, 'as-left')).not.toBe(closed);
    expect(JSON.stringify(evaluationIn(bench.state, 'as-found'))).toBe(whole());
  });
});
