import { runState } from '../../core/acts/fold';
import type { InstrumentSnapshot } from '../../core/plan/snapshots';
import { describe, expect, it } from 'vitest';
import { setups } from '../../core/run/fixtures/bench';
import type { RunState } from '../../core/state/run-state';
import { startAct } from '../../core/run/start-run';
import { setUpLayout } from './set-up-layout';

const begun = (family: string, place: number, more: Partial<InstrumentSnapshot> = {}): RunState => {
  const setup = setups[family]!();
  const instrument = { ...setup.instrument, ...more, id: `i-${place}`, identification: `I-${place}` };
  const act = startAct({ ...setup, instrument, timeZone: 'UTC', setUp: { id: 's', place, of: 2 } }, '2026-11-24');
  return runState([{ sequence: 1, at: '2026-11-24T08:00:00.000Z', person: 'Ada', act }]);
};
const idOf = (key: string): string => `${key.split('|').at(-2)}${key.split('|').at(-3)}`;

describe('the sheet of a set-up', () => {
  it('has a line for each way over the instruments, with the reference that begins or ends it', () => {
    const states = [begun('thermometer-in-bath', 1), begun('thermometer-in-bath', 2)];
    const [point, ...others] = setUpLayout(states, { set: 'as-found', series: 'error', each: 'low' });
    expect(others).toEqual([]);
    expect(point!.rows.map((r) => `${r.isBack ? '<' : '>'} ${r.shared.map(idOf).join()} ${idOf(r.own!)}`)).toEqual([
      '> S11 T11',
      '< S21 T21',
      '> S12 T12',
      '< S22 T22',
      '> S13 T13',
      '< S23 T23',
    ]);
  });
  it('has a line for each reading where only the reference is read', () => {
    const states = [begun('thermometer-in-bath', 1), begun('thermometer-in-bath', 2)];
    const [point] = setUpLayout(states, { set: 'as-found', series: 'stability', each: 'low' });
    expect(point!.rows.map((r) => [r.own, r.shared.length])).toEqual(Array.from({ length: 5 }, () => [null, 1]));
  });
  it('has the points of all instruments in their order, up and down', () => {
    const states = [begun('pressure-transmitter', 1), begun('pressure-transmitter', 2, { usedUpper: 300 })];
    const layout = setUpLayout(states, { set: 'as-found', series: 'error', each: null });
    expect(layout.map((p) => `${p.name.slice(1)} ${p.sweep}`)).toEqual([
      ...[0, 75, 150, 225, 300, 450, 600].map((n) => `${n} up`),
      ...[600, 450, 300, 225, 150, 75, 0].map((n) => `${n} down`),
    ]);
  });
});
