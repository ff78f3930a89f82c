import { runState } from '../acts/fold';
import { describe, expect, it } from 'vitest';
import { plainAct } from '../../bench/technician';
import { cautionsNow } from '../run/cautions';
import { setups, TestBench } from '../run/fixtures/bench';
import { nextItem } from '../run/next-step';
import { reviewPoints } from '../run/review-points';
import { placedPoint } from '../state/run-state';
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
        expect(Math.abs(Number(cell.value) - cell.computed!.value)).toBeLessThanOrEqual(0.5 * 10 ** -places + 1e-9);
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
  it('says what its owner does before every use, where that came before as found', () => {
    const { procedure } = setups['outside-micrometer']!();
    const steps = procedure.steps.map((step) => (step.id === 'faces' ? { ...step, touches: true, asInUse: true } : step));
    const bench = TestBench.micrometer({}, { ...procedure, steps })
      .readAll(scatter)
      .playTo('end');
    const { title } = steps.find((step) => step.id === 'faces')!;
    expect(certificateOf(bench.state, laboratory).remarks).toEqual([
      `As found was read after this, which its owner does before every use: ${title}.`,
    ]);
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
    expect(lines).toContain('Standard deviation, 180 g');
    expect(lines).toContain('Greatest deviation from the centre');
    expect(lines.filter((l) => l.startsWith('Difference up and down'))).toEqual([]);
  });
  it('gives each set its own reference value and conditions, as these change with the temperature', () => {
    const bench = TestBench.micrometer().readAll((n, r) => 0.0055 + scatter(n, r));
    bench.shown.reading = (state, slot) => bench.certified(state, slot).toFixed(3);
    bench.shown.condition = (id) => (id === 'frame' ? '20.5' : '20.9');
    const c = certificateOf(bench.playTo('end').state, laboratory);
    expect(c.asFound.conditions).toContainEqual({ title: 'Blocks', value: '20.0 °C' });
    expect(c.asLeft!.conditions).toContainEqual({ title: 'Blocks', value: '20.9 °C' });
    for (const { found, left } of c.tables[0]!.rows.slice(4)) {
      expect(Number(left!.reference)).toBeGreaterThan(Number(found!.reference));
      expect(Number(left!.indication) - Number(left!.reference)).toBeCloseTo(Number(left!.value) / 1000, 4);
    }
    expect(c.tables[0]!.rows.every((r) => r.found!.verdict && r.left!.verdict)).toBe(true);
  });
  it('says whose it is and where it stands, when it came, and what the conditions were read from', () => {
    const setup = setups['outside-micrometer']!();
    const bench = new TestBench({
      ...setup,
      instrument: {
        ...setup.instrument,
        serialNumber: 'S-77',
        ownerAddress: 'Foundry Yard',
        place: 'Pattern shop',
        nextDateWanted: false,
      },
    });
    const [{ act, ...first }] = bench.events as [(typeof bench.events)[number]];
    const state = runState([
      { ...first, act: { ...act, received: '2026-11-20' } as typeof act },
      ...bench.playTo('end').events.slice(1),
    ]);
    const c = certificateOf(state, { ...laboratory, conditionInstruments: 'Thermometer T-9' });
    expect(c).toMatchObject({
      ownerAddress: 'Foundry Yard',
      place: 'Pattern shop',
      received: '2026-11-20',
      laboratory: { conditionInstruments: 'Thermometer T-9' },
      instrument: { serialNumber: 'S-77' },
      next: { isStated: false },
    });
    expect(c.limitsFrom).toContain('By Outside micrometer against gauge blocks, revision');
  });
  it('names the numbers that the limits are made of, and whose they are; nothing else of the record', () => {
    const setup = setups['outside-micrometer']!();
    const issued = (characteristics: Record<string, number>) => {
      const bench = new TestBench({ ...setup, instrument: { ...setup.instrument, characteristics } });
      return certificateOf(bench.playTo('end').state, laboratory).limitsFrom!;
    };
    expect(issued({ limit: 0.006 })).toMatch(/By this instrument's record: [^.]*0\.006 mm/);
    expect(issued({})).toMatch(/By the procedure, as the record states none: [^.]*0\.004 mm/);
    expect(issued({})).not.toContain('Agreed');
  });
  it('does not contradict itself: a point that was skipped as found and read as left is told with what it was read on', () => {
    const bench = TestBench.micrometer().prepared();
    bench.do({ type: 'skipped', set: 'as-found', series: 'error', point: 'p10', reason: 'The block is not there' });
    bench.readAll((n, r) => 0.0055 + scatter(n, r));
    bench.shown.reading = (state, slot) => bench.certified(state, slot).toFixed(3);
    bench.playTo('begin').playTo('reading');
    const isLast = () => (nextItem(bench.state) as { point?: string }).point === 'p10';
    while (!isLast()) {
      expect(cautionsNow(bench.state, bench.at).join()).not.toContain('was skipped');
      bench.do(plainAct(bench.state, bench.shown, bench.at)!);
    }
    expect(cautionsNow(bench.state, bench.at)[0]).toContain('As found this point was skipped: The block is not there');
    bench.playTo('end');
    const said = '25 mm was not measured as found (The block is not there); as left it was on 25.';
    expect(certificateOf(bench.state, laboratory).remarks).toContain(said);
    expect(reviewPoints(bench.state, bench.events)).toContain(said);
  });
  it('names the items that somebody chose at the bench', () => {
    const bench = TestBench.micrometer().prepared();
    const point = { set: 'as-found', series: 'error', point: 'p1' };
    const ids = bench.setup.standards['blocks']![0]!.document.items!;
    const pair = ids.flatMap((a) =>
      ids.filter((b) => b.nominal > a.nominal && Math.abs(a.nominal + b.nominal - 2.5) < 1e-9).map((b) => [a, b] as const),
    )[0]!;
    bench.do({ type: 'items-chosen', ...point, use: 'blocks', items: pair.map((i) => i.id) });
    const { remarks } = certificateOf(bench.playTo('end').state, laboratory);
    expect(remarks.join('\n')).toContain(
      `2.5 mm, as found: ${pair.map((i) => i.marking || i.id).join(' + ')} chosen at the bench.`,
    );
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

it('what no display limits is shown as fine as the finest uncertainty of its column, with one digit to spare', () => {
  const setup = setups['thermometer-in-bath']!();
  const bench = new TestBench({ ...setup, instrument: { ...setup.instrument, usedLower: 5 } });
  bench.shown.reading = (state, slot) => {
    const bath = placedPoint(state, slot)!.nominal! + 0.004;
    return slot.observation.startsWith('S') ? bath.toFixed(3) : (bath + 0.02).toFixed(2);
  };
  const rows = certificateOf(bench.playTo('end').state, laboratory).tables.flatMap((t) => t.rows);
  const error = rows.filter((r) => r.found?.expandedUncertainty);
  // The reference is worked out of two readings and their corrections; U has three decimals.
  expect(error.map((r) => r.found!.expandedUncertainty)).toEqual(error.map(() => expect.stringMatching(/^0\.\d{3}$/)));
  expect(error.map((r) => r.reference)).toEqual(error.map(() => expect.stringMatching(/^\d+\.\d{4}$/)));
  expect(error.length).toBe(3);
});
