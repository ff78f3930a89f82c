import { describe, expect, it } from 'vitest';
import { setups, TestBench } from '../run/fixtures/bench';
import { certificateOf, withReview } from './certificate';
import { ruleStatement } from './certificate-words';
import { presentCertificate } from './version-1';

const scatter = (nominal: number, repeat: number) => ((((nominal * 10) | 0) + repeat) % 3) * 0.0004 - 0.0004;
const laboratory = { name: 'Test room', address: 'Yard' };

function finished(offset: number): TestBench {
  const bench = TestBench.micrometer().readAll((n, r) => offset + scatter(n, r));
  bench.shown.reading = (state, slot) => bench.certified(state, slot).toFixed(3);
  return bench.playTo('complete').do({ type: 'run-completed', certificate: 'C26-0042', remark: 'Ratchet oiled.' });
}

describe('the certificate', () => {
  it('gives found and left side by side, rounded once from the computed numbers', () => {
    const c = certificateOf(finished(0.0055).state, laboratory);
    expect(c).toMatchObject({ number: 'C26-0042', issued: '2026-11-24' });
    const table = c.tables[0]!;
    expect(table).toMatchObject({ units: { reference: 'mm', value: 'µm' }, limits: '±4 µm', result: 'Error' });
    expect(table.rows).toHaveLength(10);
    expect(c.asFound.verdict).toBe('fail');
    expect(c.asLeft!.verdict).toBe('pass');
    for (const { found, left } of table.rows)
      for (const cell of [found!, left!]) {
        const places = cell.expandedUncertainty.split('.')[1]!.length;
        expect(Math.abs(Number(cell.value) - cell.computed.value)).toBeLessThanOrEqual(0.5 * 10 ** -places + 1e-9);
        expect(cell.expandedUncertainty.replace('.', '').replace(/^0+/, '')).toHaveLength(2);
      }
    expect(c.asLeft!.conditions).toContainEqual({ title: 'Blocks', value: '20.0 °C' });
    expect(c.adjustments[0]).toMatchObject({ title: 'Set the zero', stored: [{ title: 'Zero moved by', before: '0 mm' }] });
    expect(c.remarks.join(' ')).toContain('since 2025-11-20 may be affected');
    expect(c.next.date).toBe('2027-05-24');
  });
  it('says that as found stands for both when nothing was adjusted', () => {
    const c = certificateOf(finished(0.001).state, laboratory);
    expect(c.asLeft).toBeNull();
    expect(c.tables[0]!.rows.every((r) => r.left === null)).toBe(true);
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
  it('prints every reason that was given on the way, and what was struck, skipped or ended early', () => {
    const bench = TestBench.micrometer();
    const say = { type: 'step-done' as const, set: 'as-found' };
    bench.do({ ...say, id: 'number', value: 'M-1' }).do({ ...say, id: 'damage', value: false, reason: 'Scratch on the frame' });
    bench.shown.condition = () => '20.0';
    bench.prepared();
    const at = { set: 'as-found', series: 'error' };
    bench.do({ type: 'observed', ...at, point: 'p1', repeat: 1, observation: 'R', text: '2.500' });
    bench.do({ type: 'struck', sequence: bench.state.readings[0]!.sequence, reason: 'Dirt' });
    bench.do({ type: 'skipped', ...at, point: 'p9', reason: 'Spindle sticks there' });
    const c = certificateOf(bench.readAll(scatter).playTo('end').state, laboratory);
    expect(c.remarks).toEqual(['1 reading was struck out; the reasons are in the record.', 'Damage: no: Scratch on the frame']);
    expect(c.asFound.skipped).toEqual([{ what: '22.8 mm', reason: 'Spindle sticks there' }]);
    expect(c.tables[0]!.rows).toHaveLength(9);
  });
  it('has a line for every judged statistic, and none for those that only serve another', () => {
    const bench = new TestBench(setups['balance']!()).playTo('end');
    const lines = certificateOf(bench.state, laboratory).tables.flatMap((t) => t.lines.map((l) => l.title));
    expect(lines).toContain('Standard deviation, 100 g');
    expect(lines).toContain('Greatest deviation from the centre');
    expect(lines.filter((l) => l.startsWith('Difference up and down'))).toEqual([]);
  });
  it('exists only for a finished run', () => expect(() => certificateOf(new TestBench().state, laboratory)).toThrow('finished'));
  it('is shown as it is when it is of today', () => {
    const c = certificateOf(finished(0.001).state, laboratory);
    expect(presentCertificate(c)).toBe(c);
  });
});

describe('a decision rule as a certificate states it', () => {
  it.each([
    [undefined, 'simple acceptance'],
    [{ kind: 'simple', minimumRatio: 3 }, 'less than 3 times'],
    [{ kind: 'guard-band', factor: 1 }, 'conditional within'],
    [{ kind: 'guard-band', factor: 0.5, binary: true }, '0.5 times its expanded uncertainty; else fail'],
    [{ kind: 'maximum-false-accept', probability: 0.02 }, 'at most 2 %'],
  ] as const)('%j', (rule, words) => expect(ruleStatement(rule)).toContain(words));
});
