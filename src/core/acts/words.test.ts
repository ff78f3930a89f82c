import { actSchema, type NewAct } from './registry';
import { actWords } from './words';
import { clockWords, doneLater } from '../../views/record/clock-words';
import { describe, expect, it } from 'vitest';
import { setups, TestBench } from '../../core/run/fixtures/bench';

const bench = new TestBench().prepared();
const { state } = bench;
const at = { set: 'as-found', series: 'error' };

describe('the log in words', () => {
  it.each([
    [{ type: 'step-done', set: 'as-found', id: 'damage', value: false, reason: 'dented thimble' }, 'Damage: no: dented thimble'],
    [{ type: 'step-done', set: 'as-found', id: 'unit', value: 'registered' }, 'Unit: Yes'],
    [{ type: 'step-done', set: 'as-found', id: 'number', value: 'M-1' }, 'Identity: M-1'],
    [{ type: 'wait-begun', set: 'as-found', id: 'soak' }, 'Soak on the plate begun'],
    [{ type: 'wait-ended', set: 'as-found', id: 'soak' }, 'Soak on the plate ended'],
    [
      { type: 'wait-ended', set: 'as-found', id: 'soak', reason: 'since yesterday' },
      'Soak on the plate ended early: since yesterday',
    ],
    [
      { type: 'conditions-recorded', set: 'as-found', values: { air: '20.3', frame: '20.2' } },
      'Room air 20.3 °C, Micrometer 20.2 °C',
    ],
    [{ type: 'items-chosen', ...at, point: 'p1', use: 'blocks', items: ['a', 'b'] }, '2.5 mm: a + b chosen'],
    [
      { type: 'observed', ...at, point: 'p2', repeat: 1, observation: 'R', text: '5.101' },
      'as found, 5.1 mm, Micrometer: 5.101 mm',
    ],
    [
      { type: 'observed', ...at, set: 'as-found', point: 'p2', repeat: 1, observation: 'R', text: '5.301', confirmed: true },
      'as found, 5.1 mm, Micrometer: 5.301 mm (confirmed when asked)',
    ],
    [{ type: 'struck', sequence: 12, reason: 'Mistyped' }, 'Entry 12 struck out: Mistyped'],
    [{ type: 'skipped', ...at, point: 'p3', reason: 'no block' }, '7.7 mm skipped, as found: no block'],
    [{ type: 'resumed', ...at, point: 'p3' }, '7.7 mm taken up again, as found'],
    [{ type: 'set-begun', set: 'as-left', why: 'Adjusted' }, 'Readings as left begun (Adjusted)'],
    [{ type: 'set-ended', set: 'as-found', reason: 'no time' }, 'Readings as found ended early: no time'],
    [
      { type: 'adjustment-decided', set: 'as-found', adjustment: 'zero', proposed: 'zero', reason: '' },
      'Decided: Set the zero, as advised',
    ],
    [
      { type: 'adjustment-decided', set: 'as-found', adjustment: null, proposed: 'zero', reason: 'owner asked' },
      'Decided to leave it, against the advice: owner asked',
    ],
    [
      { type: 'adjusted', set: 'as-found', id: 'zero', stored: { shift: { before: '0.003', after: '0.000' } }, note: '' },
      'Set the zero: Zero moved by 0.003 mm before, 0.000 mm after',
    ],
    [{ type: 'ruling-out', set: 'as-found', id: 'wipe', note: 'Dirt' }, 'To be ruled out: Dirt'],
    [{ type: 'note-added', text: 'Ratchet oiled' }, 'Ratchet oiled'],
    [{ type: 'interval-decided', next: '2027-11-24', proposed: '2027-11-24', reason: 'policy' }, 'Next date 2027-11-24: policy'],
    [{ type: 'run-completed', certificate: 'C26-0007', remark: '' }, 'Finished, certificate C26-0007'],
    [{ type: 'run-reviewed', remark: 'Read twice' }, 'Reviewed and signed: Read twice'],
    [{ type: 'run-broken-off', reason: 'sent back' }, 'Broken off: sent back'],
    [{ type: 'correction-begun', reason: 'Block mistaken' }, 'To be corrected: Block mistaken'],
    [{ type: 'amended', member: 'owner', value: 'Ada Ltd', reason: 'Mistyped' }, 'Owner amended to Ada Ltd: Mistyped'],
  ] as [NewAct, string][])('%o', (act, words) => expect(actWords(actSchema.parse(act), state)).toBe(words));
  it('says with what a run began', () =>
    expect(actWords(bench.events[0]!.act, state)).toBe(
      `Put on the bench with QM-GB-47; outside-micrometer revision ${state.procedure.revision}`,
    ));
  it('names place and passage where there is more than one', () => {
    const other = new TestBench(setups['pressure-transmitter']!()).state;
    const act = actSchema.parse({
      type: 'observed',
      ...at,
      point: 'p2',
      sweep: 'down',
      repeat: 1,
      observation: 'I',
      text: '8.01',
    });
    expect(actWords(act, other)).toBe('as found, 150 kPa, down, Current: 8.01 mA');
  });
  it('says when something was recorded much later than it was done', () => {
    const done = { at: '2026-11-24T08:00:00.000Z', ahead: 0 };
    expect(doneLater({ at: '2026-11-24T10:00:00.000Z', done })).toBe('recorded 2 h later');
    expect(doneLater({ at: '2026-11-24T08:00:02.000Z', done })).toBe('');
    expect(doneLater({ at: '2026-11-24T08:00:02.000Z' })).toBe('');
    expect(clockWords({ earlierBy: 7200 })).toContain('2 h earlier');
  });
});
