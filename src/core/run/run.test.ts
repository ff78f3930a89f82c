import { describe, expect, it } from 'vitest';
import { proposeAdjustment } from './adjustment-advice';
import { diagnose } from './diagnosis';
import { recordedEventSchema } from './event-schema';
import { micrometerProcedure, TestBench } from './fixtures/bench';
import { actionSentence, nextAction } from './next-action';
import { passResults, passVerdict } from './point-results';
import { liveReadings, runState } from './run-state';
import { proposeNextDate } from '../interval/next-date';

const next = (bench: TestBench) => nextAction(bench.state, bench.at).kind;
const scatter = (nominal: number, repeat: number) => ((((nominal * 10) | 0) + repeat) % 3) * 0.0004 - 0.0004;

describe('the order of a run', () => {
  it('goes from checks over soak and temperatures to the first reading', () => {
    const bench = new TestBench();
    const seen: string[] = [];
    for (const check of micrometerProcedure.checks) {
      seen.push(next(bench));
      bench.do({ type: 'check-answered', check: check.id, outcome: 'yes', note: '' });
    }
    expect(new Set(seen)).toEqual(new Set(['answer-check']));
    expect(next(bench)).toBe('start-soak');
    bench.do({ type: 'soak-started' });
    expect(next(bench)).toBe('wait-for-soak');
    bench.wait(61);
    expect(next(bench)).toBe('end-soak');
    bench.do({ type: 'soak-ended' });
    expect(next(bench)).toBe('record-conditions');
    bench.temperatures();
    expect(nextAction(bench.state, bench.at)).toMatchObject({ kind: 'take-reading', pass: 'as-found', point: 'p1', repeat: 1 });
    expect(actionSentence(bench.state, nextAction(bench.state, bench.at))).toBe('Measure 2.5 mm, reading 1 of 3.');
  });

  it('leaves out adjustment and as left when nothing is adjusted', () => {
    const bench = new TestBench().prepared().readAll('as-found', scatter);
    expect(next(bench)).toBe('decide-adjustment');
    bench.do({ type: 'adjustment-decided', adjust: false, proposed: false, reason: '' });
    expect(next(bench)).toBe('decide-interval');
  });

  it('asks for fresh temperatures between adjustment and as-left readings', () => {
    const bench = new TestBench().prepared().readAll('as-found', (n, r) => 0.0035 + scatter(n, r));
    bench
      .do({ type: 'adjustment-decided', adjust: true, proposed: true, reason: '' })
      .do({ type: 'zero-adjusted', before: '0,004', after: '0.000', note: '' });
    expect(nextAction(bench.state, bench.at)).toMatchObject({ kind: 'record-conditions', stage: 'as-left' });
    expect(bench.try({ type: 'reading-taken', pass: 'as-left', point: 'p1', text: '2.500' })).toContain('fresh temperatures');
    bench.temperatures().readAll('as-left', scatter);
    const date = proposeNextDate(bench.state, passResults(bench.state, 'as-found'), bench.at.slice(0, 10));
    bench.do({ type: 'interval-decided', next: date.date, proposed: date.date, reason: date.reason });
    expect(next(bench)).toBe('complete');
    bench.do({ type: 'run-completed', certificate: 'C26-0001', remark: '' });
    expect(next(bench)).toBe('review');
    expect(bench.try({ type: 'run-reviewed', remark: '' })).toContain('second person');
    bench.do({ type: 'run-reviewed', remark: '' }, 'Bert');
    expect(next(bench)).toBe('nothing');
    expect(bench.try({ type: 'note-added', text: 'too late' })).toContain('signed');
  });

  it('every event of a log is a valid document, and the state follows from the log alone', () => {
    const bench = new TestBench().prepared().readAll('as-found', scatter);
    const stored = bench.events.map((e) => recordedEventSchema.parse(JSON.parse(JSON.stringify(e))));
    expect(runState(stored)).toEqual(bench.state);
  });
});

describe('what is refused', () => {
  const ready = () => new TestBench().prepared();
  const reading = (text: string, more = {}) => ({
    type: 'reading-taken' as const,
    pass: 'as-found' as const,
    point: 'p1',
    text,
    ...more,
  });

  it('readings before the preparation is done', () => expect(new TestBench().try(reading('2.500'))).toContain('preparation'));
  it.each([
    ['', 'Nothing was typed'],
    ['abc', 'not a number'],
    ['-2.5', 'negative'],
    ['25.03', 'Did you mean 2.503 mm'],
    ['2503', 'Did you mean 2.503 mm'],
    ['0.503', 'Did you mean 2.503 mm'],
    ['0.0985', 'Did you mean 2.502 mm'],
    ['7', 'away from the block'],
    ['2.50123', 'more digits'],
  ])('a reading of %j', (text, message) => expect(ready().try(reading(text))).toContain(message));
  it('an implausible reading only once: confirmed, it is taken; a negative one never is', () => {
    const bench = ready();
    expect(bench.try(reading('2.703', { confirmed: true }))).toBeNull();
    expect(bench.try(reading('-2.5', { confirmed: true }))).toContain('negative');
    expect(liveReadings(bench.state.passes['as-found']['p1']).map((r) => r.text)).toEqual(['2.703']);
  });
  it('a fourth reading, until one is struck out with its reason', () => {
    const bench = ready().do(reading('2.500')).do(reading('2.501')).do(reading('2.500'));
    expect(bench.try(reading('2.500'))).toContain('has its 3 readings');
    const taken = bench.state.passes['as-found']['p1']!.readings[1]!;
    bench.do({ type: 'reading-struck', sequence: taken.sequence, reason: 'Mistyped' });
    expect(bench.try({ type: 'reading-struck', sequence: taken.sequence, reason: 'Mistyped' })).toContain('already struck');
    bench.do(reading('2.500'));
    expect(bench.state.passes['as-found']['p1']!.readings).toHaveLength(4);
    expect(liveReadings(bench.state.passes['as-found']['p1']).map((r) => r.text)).toEqual(['2.500', '2.500', '2.500']);
  });
  it('an early end of the soak without a reason', () => {
    const bench = new TestBench().do({ type: 'soak-started' }).wait(10);
    expect(bench.try({ type: 'soak-ended' })).toContain('still running');
    expect(bench.try({ type: 'soak-ended', earlyReason: 'Together since yesterday' })).toBeNull();
  });
  it('temperatures that cannot be, or that are outside without a reason', () => {
    const bench = ready();
    const record = (room: string, instrument: string, standard: string, reason?: string) =>
      bench.try({ type: 'conditions-recorded', room, instrument, standard, ...(reason ? { reason } : {}) });
    expect(record('203', '20', '20')).toContain('cannot be');
    expect(record('20', 'warm', '20')).toContain('Micrometer');
    expect(record('23', '20', '20')).toContain('Room air');
    expect(record('20', '20.0', '20.8')).toContain('differ by more than 0.5 K');
    expect(record('23', '20', '20', 'Heating repaired tomorrow')).toBeNull();
  });
  it('a stack that does not add up, or that has been read on', () => {
    const bench = ready();
    expect(bench.try({ type: 'stack-chosen', point: 'p1', items: ['gb-1.5'] })).toContain('add to 1.5 mm');
    expect(bench.try({ type: 'stack-chosen', point: 'p1', items: ['gb-1.5', 'gb-1.5'] })).toContain('only once');
    expect(bench.try({ type: 'stack-chosen', point: 'p1', items: ['gb-9.9'] })).toContain('not in the set');
    expect(bench.try({ type: 'stack-chosen', point: 'p1', items: ['gb-1.4', 'gb-1.1'] })).toBeNull();
    expect(bench.state.points[0]!.stack.map((b) => b.nominal)).toEqual([1.4, 1.1]);
    bench.do(reading('2.500'));
    expect(bench.try({ type: 'stack-chosen', point: 'p1', items: ['gb-1.5', 'gb-1'] })).toContain('Strike them out');
  });
  it('judging with a point missing; skipping it takes a reason, and it can be taken up again', () => {
    const bench = ready();
    expect(bench.try({ type: 'adjustment-decided', adjust: false, proposed: false, reason: '' })).toContain('not complete');
    for (const point of bench.state.points.slice(1))
      bench.do({ type: 'point-skipped', pass: 'as-found', point: point.id, reason: 'No such block' });
    expect(bench.try({ ...reading('5.100'), point: 'p2' })).toContain('skipped');
    bench.do({ type: 'point-resumed', pass: 'as-found', point: 'p2' });
    bench.do({ ...reading('5.100'), point: 'p2' });
  });
  it('changing as-found readings after the decision', () => {
    const bench = ready()
      .readAll('as-found', scatter)
      .do({ type: 'adjustment-decided', adjust: false, proposed: false, reason: '' });
    expect(bench.try(reading('2.500'))).toContain('evidence');
    expect(
      bench.try({
        type: 'reading-struck',
        sequence: bench.state.passes['as-found']['p1']!.readings[0]!.sequence,
        reason: 'Dirt',
      }),
    ).toContain('evidence');
  });
  it('going against the advice without a reason, and adjusting what the owner forbids', () => {
    const bench = ready().readAll('as-found', scatter);
    expect(bench.try({ type: 'adjustment-decided', adjust: true, proposed: false, reason: '' })).toContain('against the advice');
    expect(bench.try({ type: 'adjustment-decided', adjust: true, proposed: true, reason: 'x' })).toContain('advice has changed');
    const forbidden = new TestBench('Ada', { adjustmentAllowed: false })
      .prepared()
      .readAll('as-found', (n, r) => 0.0035 + scatter(n, r));
    expect(forbidden.try({ type: 'adjustment-decided', adjust: true, proposed: false, reason: 'All the same' })).toContain(
      'check only',
    );
  });
  it('a next date in the past, far away, or other than proposed without a reason', () => {
    const bench = ready()
      .readAll('as-found', scatter)
      .do({ type: 'adjustment-decided', adjust: false, proposed: false, reason: '' });
    const decide = (date: string, reason = '') =>
      bench.try({ type: 'interval-decided', next: date, proposed: '2027-11-24', reason });
    expect(decide('2026-11-24')).toContain('future');
    expect(decide('2040-01-01')).toContain('ten years');
    expect(decide('2027-05-24')).toContain('give the reason');
    expect(decide('2027-05-24', 'Used daily on reeds')).toBeNull();
  });
  it('finishing before its time, and anything after breaking off', () => {
    const bench = ready();
    expect(bench.try({ type: 'run-completed', certificate: 'C', remark: '' })).toContain('not complete');
    bench.do({ type: 'run-abandoned', reason: 'Sent back' });
    expect(bench.try(reading('2.500'))).toContain('broken off');
  });
});

describe('results', () => {
  it('agree with the formula worked by hand', () => {
    const bench = new TestBench().prepared().readAll('as-found', (n, r) => 0.002 + scatter(n, r));
    const { state } = bench;
    const result = passResults(state, 'as-found').find((r) => r.point.nominal === 20.2)!;
    const [b19, b12] = [19, 1.2].map((n) => state.standard.items.find((i) => i.nominal === n)!) as [
      (typeof state.standard.items)[0],
      (typeof state.standard.items)[0],
    ];
    const L = b19.certified + b12.certified;
    const reference = L * (1 + 1.15e-5 * 0.4 - 1.15e-5 * 0.2);
    expect(result.reference.value).toBeCloseTo(reference, 10);
    const values = liveReadings(state.passes['as-found'][result.point.id]).map((r) => r.value);
    const mean = (values[0]! + values[1]! + values[2]!) / 3;
    expect(result.conformity.error).toBeCloseTo(mean - reference, 9);

    const groups = state.points.map((p) => liveReadings(state.passes['as-found'][p.id]).map((r) => r.value));
    const pooled = Math.sqrt(
      groups.reduce((s, g) => s + g.reduce((q, v) => q + (v - (g[0]! + g[1]! + g[2]!) / 3) ** 2, 0), 0) / 20,
    );
    const years =
      (Date.parse(liveReadings(state.passes['as-found'][result.point.id]).at(-1)!.at) - Date.parse('2025-11-24')) /
      (365.25 * 86400e3);
    const parts = {
      R: Math.max(pooled / Math.sqrt(3), 0.001 / Math.sqrt(12)),
      L_s: b19.expandedUncertainty / 2 + b12.expandedUncertainty / 2,
      d_drift: ((0.00005 * 2 + 0.0000005 * 20.2) * years) / Math.sqrt(3),
      d_wring: 0.00005 / Math.sqrt(3),
      a_s: (L * 0.4 * 1e-6) / Math.sqrt(3),
      a_i: (L * (0.2 - 0.4) * 2e-6) / Math.sqrt(3),
      t_s: 0,
      dt: (L * 1.15e-5 * 0.3) / Math.sqrt(3),
      d_face: 0.0005 / Math.sqrt(3),
    };
    for (const c of result.uncertainty.contributions)
      expect(Math.abs(c.contribution), c.symbol).toBeCloseTo(Math.abs(parts[c.symbol as keyof typeof parts]), 8);
    const u = Math.sqrt(Object.values(parts).reduce((s, p) => s + p * p, 0));
    expect(result.uncertainty.standardUncertainty).toBeCloseTo(u, 9);
    // The scatter is below what the display hides: the floor rules, and it is known exactly.
    expect(pooled / Math.sqrt(3)).toBeLessThan(parts.R);
    expect(result.uncertainty.effectiveDof).toBeNull();
    expect(result.conformity.limits).toEqual({ lower: -0.004, upper: 0.004 });
  });
  it('use the certified length, never the nominal one', () => {
    const bench = new TestBench().prepared();
    const changed = structuredClone(bench.events);
    const started = changed[0]!.act;
    if (started.type !== 'run-started') throw new Error('no start');
    for (const item of started.standard.items) item.certified += 0.001;
    const read = (events: typeof changed) =>
      passResults(
        runState([
          ...events,
          ...['2.500', '2.501', '2.502'].map((text, i) => ({
            sequence: events.length + i + 1,
            at: bench.at,
            person: 'Ada',
            act: { type: 'reading-taken' as const, pass: 'as-found' as const, point: 'p1', text },
          })),
        ]),
        'as-found',
      )[0]!.conformity.error;
    expect(read(bench.events) - read(changed)).toBeCloseTo(0.002, 6);
  });
  it("use the instrument's own limits where its record gives them", () => {
    const bench = new TestBench('Ada', { maximumPermissibleError: 0.006 }).prepared().readAll('as-found', scatter);
    expect(passResults(bench.state, 'as-found')[0]!.conformity.limits.upper).toBe(0.006);
  });
  it('there is no verdict on a pass with a point missing', () => {
    const bench = new TestBench().prepared().do({ type: 'reading-taken', pass: 'as-found', point: 'p1', text: '2.500' });
    expect(passVerdict(bench.state, 'as-found')).toBeNull();
  });
  it('cover the range of a larger micrometer with stacks from its lower end', () => {
    const points = new TestBench('Ada', { rangeLower: 75, rangeUpper: 100, calibratedLower: 75, calibratedUpper: 90 }).state
      .points;
    expect(points.map((p) => p.nominal)).toEqual([77.5, 80.1, 82.7, 85.3, 87.9, 90]);
    for (const p of points) expect(p.stack.reduce((s, b) => s + b.nominal, 0)).toBeCloseTo(p.nominal, 9);
  });
});

describe('diagnosis and advice', () => {
  const judged = (error: (nominal: number, repeat: number) => number, instrument = {}) => {
    const bench = new TestBench('Ada', instrument).prepared().readAll('as-found', error);
    const results = passResults(bench.state, 'as-found');
    const diagnosis = diagnose(results, 0.001);
    return {
      diagnosis,
      advice: proposeAdjustment(bench.state, results, diagnosis),
      date: proposeNextDate(bench.state, results, '2026-11-24'),
    };
  };
  it('does not pool the scatter of one bad point with the rest: it says to read that point again', () => {
    const { diagnosis, advice } = judged((nominal, repeat) => (nominal === 12.9 ? [-0.001, 0.001, 0.0015][repeat]! : 0));
    expect(diagnosis.kind).toBe('scatter');
    expect(diagnosis.sentence).toContain('12.9 mm');
    expect(diagnosis.sentence).toContain('Cochran');
    expect(advice.adjust).toBe(false);
  });
  it('leaves a quiet instrument alone', () => {
    const { diagnosis, advice, date } = judged(scatter);
    expect(diagnosis.kind).toBe('quiet');
    expect(advice.adjust).toBe(false);
    expect(date).toMatchObject({ date: '2027-11-24', months: 12 });
  });
  it('sees an offset and says what a zero adjustment would leave', () => {
    const { diagnosis, advice } = judged((n, r) => 0.0034 + scatter(n, r));
    expect(diagnosis.kind).toBe('offset');
    expect(diagnosis.sentence).toMatch(/near \+3\.[34] µm: a constant offset/);
    expect(advice).toMatchObject({ adjust: true });
    expect(advice.reason).toContain('setting the zero');
  });
  it('leaves an offset within the share of the tolerance alone', () =>
    expect(judged((n, r) => 0.002 + scatter(n, r)).advice).toMatchObject({ adjust: false }));
  it('sees one odd point and sends the technician to its blocks', () => {
    const { diagnosis, advice } = judged((n, r) => (n === 12.9 ? 0.01 : 0) + scatter(n, r));
    expect(diagnosis).toMatchObject({ kind: 'odd-point' });
    expect(diagnosis.sentence).toContain('12.9 mm');
    expect(advice.adjust).toBe(false);
  });
  it('sees scatter', () => expect(judged((_, r) => (r - 1) * 0.003).diagnosis.kind).toBe('scatter'));
  it('sees an error that grows along the screw', () => {
    const { diagnosis, advice } = judged((n, r) => 0.00028 * (n - 12.5) + scatter(n, r));
    expect(diagnosis.kind).toBe('slope');
    expect(advice.adjust).toBe(false);
  });
  it('shortens the interval after a fail', () =>
    expect(judged((n, r) => 0.007 + scatter(n, r)).date).toMatchObject({ date: '2027-05-24', months: 6 }));
  it("keeps to the instrument's own interval", () =>
    expect(judged(scatter, { intervalMonths: 3 }).date).toMatchObject({ date: '2027-02-24', months: 3 }));
  it.each([
    ['never-while-inside', 0.0032, false],
    ['never-while-inside', 0.006, true],
    ['always-centre', 0.0012, true],
    ['always-centre', 0.0001, false],
  ] as const)('school "%s" with an offset of %d mm adjusts: %s', (kind, offset, adjust) => {
    const procedure = { ...micrometerProcedure, adjustment: { ...micrometerProcedure.adjustment, policy: { kind } } };
    const bench = new TestBench('Ada', {}, procedure).prepared().readAll('as-found', (n, r) => offset + scatter(n, r) / 2);
    const results = passResults(bench.state, 'as-found');
    expect(proposeAdjustment(bench.state, results, diagnose(results, 0.001)).adjust).toBe(adjust);
  });
});
