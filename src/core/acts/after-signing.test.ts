import { describe, expect, it } from 'vitest';
import { certificateOf, withReview } from '../certificate/certificate';
import { changesBetween } from '../certificate/changes';
import { TestBench } from '../run/fixtures/bench';
import { cautionsNow } from '../run/cautions';
import { nextItem } from '../run/next-step';
import { reviewPoints } from '../run/review-points';
import { admit } from './admit';
import { actSchema, type NewAct } from './registry';

const laboratory = { name: 'Room', address: '' };

/** A run that is finished, with its certificate in the log, and signed by Cy. */
function signed(): TestBench {
  const bench = TestBench.micrometer().playTo('end');
  const content = JSON.parse(JSON.stringify(certificateOf(bench.state, laboratory))) as Record<string, unknown>;
  // The server puts the certificate into the entry that finished the run.
  bench.state.completed!.issued = { content, digest: 'd' };
  bench.do({ type: 'run-reviewed', remark: '' }, 'Cy');
  return bench;
}
const correction: NewAct = { type: 'correction-begun', reason: 'The owner was mistyped' };

describe('a correction after signing', () => {
  it('brings the run back to the bench, and ends in another issue that says what is different', () => {
    const bench = signed();
    const before = certificateOf(bench.state, laboratory);
    bench.do(correction, 'Di');
    expect([bench.state.completed, bench.state.reviewed]).toEqual([null, null]);
    // The date stands: nothing that it rests on is another.
    expect(bench.state.interval!.next).toBe(before.next.date);
    expect(bench.try({ type: 'run-broken-off', reason: 'No time' })).toContain('is being corrected: finish it');
    expect(bench.state.corrections[0]).toMatchObject({ certificate: before.number, person: 'Di' });
    expect(nextItem(bench.state)?.type).toBe('judge');
    expect(cautionsNow(bench.state, bench.at)[0]).toBe(
      `To be corrected, of certificate ${before.number} (Di): The owner was mistyped`,
    );
    bench.do({ type: 'amended', member: 'owner', value: 'Ada Bells', reason: 'Mistyped' });
    expect(bench.try({ type: 'amended', member: 'owner', value: 'Ada Bells', reason: 'Mistyped' })).toBe('It says so already.');
    bench.playTo('end');
    const after = certificateOf(bench.state, laboratory);
    expect(after.replaces).toEqual({
      number: before.number,
      issued: before.issued,
      reason: 'The owner was mistyped',
      changes: [{ what: 'Owner', before: before.owner, after: 'Ada Bells' }],
    });
    expect(after.remarks.join('\n')).toContain(`Owner amended, before “${before.owner}”: Mistyped`);
    const points = reviewPoints(bench.state, bench.events);
    expect(points[0]).toBe(`It corrects certificate ${before.number}: The owner was mistyped (Di)`);
    // Neither who measured nor who began the correction signs it; another does.
    for (const person of [bench.person, 'Di'])
      expect(bench.try({ type: 'run-reviewed', remark: '' }, person)).toContain('Ask a second');
    expect(bench.try({ type: 'run-reviewed', remark: '' }, 'Cy')).toBeNull();
  });
  it('says which results are others, where one was read again', () => {
    const bench = signed();
    const before = certificateOf(bench.state, laboratory);
    bench.do(correction, 'Di');
    const last = bench.state.readings.at(-1)!;
    bench.do({ type: 'struck', sequence: last.sequence, reason: 'Wrong block' });
    expect(bench.state.interval).toBeNull();
    bench.playTo('end');
    const { changes } = certificateOf(bench.state, laboratory).replaces!;
    const point = before.tables[0]!.rows.at(-1)!.point;
    expect(changesBetween(before, before)).toEqual([]);
    expect(changes.every((c) => c.what.includes(point) || c.what === 'Next calibration')).toBe(true);
  });
  it('is none where nothing is signed yet, or of a quick check', () => {
    const bench = TestBench.micrometer();
    expect(bench.try(correction)).toContain('not finished');
    bench.playTo('end');
    expect(bench.try(correction, 'Di')).toContain('Nothing is signed yet');
  });
  it('leaves a signed run as it is for everything else', () =>
    expect(signed().try({ type: 'note-added', text: 'Later' })).toContain('corrected by another issue'));
});

describe('a certificate that is withdrawn', () => {
  it('says so with day, person and reason; nothing can be added any more', () => {
    const bench = signed();
    const issued = certificateOf(bench.state, laboratory);
    bench.do({ type: 'certificate-withdrawn', reason: 'Another instrument was measured' }, 'Cy');
    expect(withReview(issued, bench.state)).toMatchObject({
      withdrawn: { by: 'Cy', reason: 'Another instrument was measured', on: bench.at.slice(0, 10) },
      persons: { reviewedBy: 'Cy' },
    });
    for (const act of [correction, { type: 'note-added', text: 'Later' }, { type: 'run-reviewed', remark: '' }] as NewAct[])
      expect(bench.try(act, 'Di')).toContain('is withdrawn');
  });
  it('is for a reviewer or an approver', () => {
    const { state, at } = signed();
    const act = actSchema.parse({ type: 'certificate-withdrawn', reason: 'Another instrument' });
    expect(admit(state, act, 'Cy', at, { roles: ['technician'], competence: null, isOfOne: false })?.message).toBe(
      'Only a reviewer or an approver may do this. Ask somebody who is one.',
    );
    expect(admit(state, act, 'Cy', at, { roles: ['approver'], competence: null, isOfOne: false })).toBeNull();
    expect(admit(state, act, 'Cy', at)).toBeNull();
  });
});
