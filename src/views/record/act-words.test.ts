import { describe, expect, it } from 'vitest';
import { TestBench } from '../../core/run/fixtures/bench';
import type { Act } from '../../core/run/event-schema';
import { actWords } from './act-words';

const { state } = new TestBench().prepared();
const start = new TestBench().events[0]!.act;

describe('the log in words', () => {
  it.each([
    [start, 'Put on the bench with GB-47, outside-micrometer revision 2'],
    [{ type: 'check-answered', check: 'damage', outcome: 'no', note: 'dented thimble' }, 'Damage: no, dented thimble'],
    [{ type: 'check-answered', check: 'units', outcome: 'yes', note: '' }, 'Unit: yes'],
    [{ type: 'soak-started' }, 'Soak started'],
    [{ type: 'soak-ended' }, 'Soak ended'],
    [{ type: 'soak-ended', earlyReason: 'together since yesterday' }, 'Soak ended early: together since yesterday'],
    [
      { type: 'conditions-recorded', room: '20.3', instrument: '20.2', standard: '20.4' },
      'Temperatures: room 20.3 °C, instrument 20.2 °C, blocks 20.4 °C',
    ],
    [{ type: 'stack-chosen', point: 'p1', items: ['gb-1.4', 'gb-1.1'] }, 'Blocks chosen for 2.5 mm: 1.4 + 1.1'],
    [{ type: 'reading-taken', pass: 'as-found', point: 'p2', text: '5.101' }, 'as found, 5.1 mm: 5.101 mm'],
    [
      { type: 'reading-taken', pass: 'as-left', point: 'p2', text: '5.301', confirmed: true },
      'as left, 5.1 mm: 5.301 mm (confirmed when asked)',
    ],
    [{ type: 'reading-struck', sequence: 12, reason: 'Mistyped' }, 'Reading 12 struck out: Mistyped'],
    [{ type: 'point-skipped', pass: 'as-found', point: 'p3', reason: 'no block' }, '7.7 mm skipped, as found: no block'],
    [{ type: 'point-resumed', pass: 'as-found', point: 'p3' }, '7.7 mm taken up again, as found'],
    [{ type: 'adjustment-decided', adjust: true, proposed: true, reason: '' }, 'Decided to adjust, as advised'],
    [
      { type: 'adjustment-decided', adjust: false, proposed: true, reason: 'owner asked' },
      'Decided to leave it, against the advice: owner asked',
    ],
    [{ type: 'zero-adjusted', before: '0.003', after: '0.000', note: '' }, 'Zero adjusted: 0.003 mm before, 0.000 mm after'],
    [{ type: 'note-added', text: 'Ratchet oiled' }, 'Ratchet oiled'],
    [{ type: 'interval-decided', next: '2027-11-24', proposed: '2027-11-24', reason: 'policy' }, 'Next date 2027-11-24: policy'],
    [{ type: 'run-completed', certificate: 'C26-0007', remark: '' }, 'Finished, certificate C26-0007'],
    [{ type: 'run-reviewed', remark: 'Read twice' }, 'Reviewed and signed: Read twice'],
    [{ type: 'run-abandoned', reason: 'sent back' }, 'Broken off: sent back'],
  ] as [Act, string][])('%o', (act, words) => expect(actWords(act, state)).toBe(words));
});
