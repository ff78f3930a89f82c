import { describe, expect, it } from 'vitest';
import { TestBench } from '../run/fixtures/bench';
import { passResults } from '../run/point-results';
import { proposeNextDate } from '../interval/next-date';
import { certificateOf, withReview } from './certificate';

const scatter = (nominal: number, repeat: number) => ((((nominal * 10) | 0) + repeat) % 3) * 0.0004 - 0.0004;
const laboratory = { name: 'Test room', address: 'Yard' };

function finished(offset: number): TestBench {
  const bench = new TestBench().prepared().readAll('as-found', (n, r) => offset + scatter(n, r));
  const adjust = offset > 0.0028;
  bench.do({ type: 'adjustment-decided', adjust, proposed: adjust, reason: '' });
  if (adjust)
    bench
      .do({ type: 'zero-adjusted', before: '0.005', after: '0.000', note: '' })
      .temperatures('20.1', '20.1')
      .readAll('as-left', scatter);
  const date = proposeNextDate(bench.state, passResults(bench.state, 'as-found'), '2026-11-24');
  return bench
    .do({ type: 'interval-decided', next: date.date, proposed: date.date, reason: date.reason })
    .do({ type: 'run-completed', certificate: 'C26-0042', remark: 'Ratchet oiled.' });
}

describe('the certificate', () => {
  it('gives found and left side by side, rounded once from the computed numbers', () => {
    const bench = finished(0.0055);
    const c = certificateOf(bench.state, laboratory);
    expect(c).toMatchObject({
      number: 'C26-0042',
      issued: '2026-11-24',
      units: { length: 'mm', error: 'µm' },
      tolerance: { halfWidth: '±4.0 µm' },
    });
    expect(c.asFound.points).toHaveLength(10);
    expect(c.asLeft!.points).toHaveLength(10);
    expect(c.asFound.verdict).toBe('fail');
    expect(c.asLeft!.verdict).toBe('pass');
    const results = passResults(bench.state, 'as-found');
    c.asFound.points.forEach((p, i) => {
      expect(p.computed.error).toBeCloseTo(results[i]!.conformity.error * 1000, 9);
      const places = p.expandedUncertainty.split('.')[1]!.length;
      expect(Math.abs(Number(p.error) - p.computed.error)).toBeLessThanOrEqual(0.5 * 10 ** -places + 1e-9);
      expect(p.expandedUncertainty.replace('.', '').replace(/^0+/, '')).toHaveLength(2);
    });
    expect(c.asLeft!.conditions).toEqual([{ room: '20.3', instrument: '20.1', standard: '20.1' }]);
    expect(c.adjustment).toMatchObject({ before: '0.005 mm', after: '0.000 mm' });
    expect(c.remarks.join(' ')).toContain('since 2025-11-20 may be affected');
    expect(c.next.date).toBe('2027-05-24');
  });
  it('says that as found stands for both when nothing was adjusted', () => {
    const c = certificateOf(finished(0.001).state, laboratory);
    expect(c.asLeft).toBeNull();
    expect(c.asLeftStatement).toContain('also the as-left');
    expect(c.remarks).toEqual(['Ratchet oiled.']);
  });
  it('names who measured, finished and signed', () => {
    const bench = finished(0.001);
    expect(certificateOf(bench.state, laboratory).persons.reviewedBy).toBeNull();
    bench.do({ type: 'run-reviewed', remark: '' }, 'Bert');
    expect(withReview(certificateOf(bench.state, laboratory), bench.state).persons).toMatchObject({
      measuredBy: ['Ada'],
      finishedBy: 'Ada',
      reviewedBy: 'Bert',
      reviewedOn: '2026-11-24',
    });
  });
  it('exists only for a finished run', () => expect(() => certificateOf(new TestBench().state, laboratory)).toThrow('finished'));
});
