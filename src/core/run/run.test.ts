import { recordedEventSchema } from '../acts/registry';
import { runState } from '../acts/fold';
import { describe, expect, it } from 'vitest';
import { proposeNextDate } from './next-date';
import { adjustmentAdvice } from './adjustment-advice';
import { diagnose } from './diagnosis';
import { procedureNamed, setups, standardNamed, TestBench } from './fixtures/bench';
import { judgedPoints, mainResult } from './judged-points';
import { nextItem, sentenceOf, stageOf } from './next-step';
import { certificateOf } from '../certificate/certificate';
import { reviewPoints } from './review-points';
import { rulingWords } from './ruling-words';
import { pairsOfRun } from './run-pairs';
import { hasPair, setAsFound, setAsLeft, verdictAsFound } from './run-results';
import { summarizeRun } from './run-summary';
import { startAct } from './start-run';
import { placedPoint, type RunState } from '../state/run-state';
import { slotOf } from '../state/place-keys';

const scatter = (nominal: number, repeat: number) => ((((nominal * 10) | 0) + repeat) % 3) * 0.0004 - 0.0004;
const next = (bench: TestBench) => nextItem(bench.state)?.type;
const leaveIt = { type: 'adjustment-decided' as const, set: 'as-found', adjustment: null, proposed: null, reason: '' };
const live = (state: RunState, point: string) =>
  [...state.live.values()].filter((r) => r.slot.set === 'as-found' && r.slot.point === point).map((r) => r.text);
const points = (bench: TestBench, set = 'as-found') => judgedPoints(bench.state, set, mainResult(bench.state)!.series, ['E']);

describe('the order of a run', () => {
  it('is that of the plan: steps, the wait, conditions, then the first reading', () => {
    const bench = TestBench.micrometer();
    const steps = bench.setup.procedure.steps.map((s) => s.id);
    const plan = bench.state.plan.slice(0, steps.length + 4);
    expect(plan.map((i) => ('id' in i ? i.id : i.type))).toEqual([...steps, 'air', 'blocks', 'frame', 'R']);
    expect(stageOf(bench.state, nextItem(bench.state))).toBe('prepare');
    bench.prepared();
    const item = nextItem(bench.state);
    expect(item).toMatchObject({ type: 'reading', set: 'as-found', point: 'p1', repeat: 1 });
    expect(stageOf(bench.state, item)).toBe('as-found');
    expect(sentenceOf(bench.state, item, bench.at)).toBe('2.5 mm: micrometer, 1 of 3.');
  });

  it('leaves out adjustment and as left when nothing is adjusted', () => {
    const bench = TestBench.micrometer().readAll(scatter);
    expect(next(bench)).toBe('judge');
    bench.do(leaveIt);
    expect(next(bench)).toBe('interval');
  });

  it('reads what was adjusted anew, with fresh conditions; what was found stays what it was', () => {
    const bench = TestBench.micrometer().readAll((n, r) => 0.0035 + scatter(n, r));
    const before = points(bench).map((p) => p.value);
    bench.do({ ...leaveIt, adjustment: 'zero', proposed: 'zero' });
    expect(next(bench)).toBe('adjust');
    bench.do({
      type: 'adjusted',
      set: 'as-found',
      id: 'zero',
      stored: { shift: { before: '0,000', after: '-0.004', readBack: '-0.004' } },
      note: '',
    });
    expect(next(bench)).toBe('begin');
    expect(
      bench.try({ type: 'observed', set: 'as-left', series: 'error', point: 'p1', repeat: 1, observation: 'R', text: '2.500' }),
    ).toContain('no such reading');
    bench.do({ type: 'set-begun', set: 'as-left', why: 'Adjusted' });
    expect(nextItem(bench.state)).toMatchObject({ type: 'condition', set: 'as-left' });
    bench.readAll(scatter);
    expect(points(bench).map((p) => p.value)).toEqual(before);
    expect(setAsLeft(bench.state, 'error')).toBe('as-left');
    bench.playTo('complete').do({ type: 'run-completed', certificate: 'C26-0001', remark: '' });
    expect(next(bench)).toBeUndefined();
    expect(bench.try({ type: 'run-reviewed', remark: '' })).toContain('second person');
    bench.do({ type: 'run-reviewed', remark: '' }, 'Bert');
    expect(bench.try({ type: 'note-added', text: 'too late' })).toContain('signed');
  });

  it('begins a new set after a cause was ruled out; the first stays as evidence', () => {
    const bench = TestBench.micrometer().readAll((n, r) => 0.006 + scatter(n, r));
    bench.do({ type: 'ruling-out', set: 'as-found', id: 'wipe', note: 'Dirt' });
    expect(nextItem(bench.state)).toMatchObject({ type: 'begin', set: 'as-found-2' });
    bench.readAll(scatter);
    expect(nextItem(bench.state)).toMatchObject({ type: 'judge', set: 'as-found-2' });
    expect(verdictAsFound(bench.state)).toBe('fail');
    expect(setAsLeft(bench.state, 'error')).toBe('as-found-2');
    // The dirt came with it: it is the owner's as found.
    expect(setAsFound(bench.state)).toBe('as-found');
    expect(rulingWords(bench.state)[0]).toMatch(
      /^Ruled out \(Dirt, the instrument's\): as found gave: Outside: .* nothing is outside\.$/,
    );
  });

  it('takes the readings of our own mistake out of what was found: what stands is printed, dated and said', () => {
    const bench = TestBench.micrometer().readAll((n, r) => 0.006 + scatter(n, r));
    bench.do({ type: 'ruling-out', set: 'as-found', id: 'stack', note: 'Another block' });
    // Until everything is read again, the first readings are all there is.
    expect(setAsFound(bench.state)).toBe('as-found');
    bench.readAll(scatter);
    expect([setAsFound(bench.state), hasPair(bench.state), verdictAsFound(bench.state)]).toEqual(['as-found-2', false, 'pass']);
    expect(pairsOfRun(bench.state).pairs.map((p) => p.left)).toEqual(Array.from({ length: 10 }, () => null));
    expect(Math.max(...pairsOfRun(bench.state).pairs.map((p) => Math.abs(p.found!.value)))).toBeLessThan(0.003);
    expect(summarizeRun(bench.state)).toMatchObject({ adjusted: false, found: { verdict: 'pass' } });
    bench.do({ ...leaveIt, set: 'as-found-2' });
    bench.playTo('complete').do({ type: 'run-completed', certificate: 'C26-0002', remark: '' });
    const { asFound, asLeft, tables, remarks } = certificateOf(bench.state, { name: 'Room', address: '' });
    expect([asFound.title, asFound.verdict, asLeft]).toEqual(['As found', 'pass', null]);
    expect(tables[0]!.rows.every((r) => r.found?.verdict === 'pass')).toBe(true);
    expect(remarks.find((r) => r.startsWith('Ruled out'))).toMatch(
      /the standard's.*withdrawn and kept in the record; as found 2 stands/,
    );
    expect(remarks.join(' ')).not.toContain('may be affected');
    expect(reviewPoints(bench.state, bench.events).some((p) => p.startsWith('Ruled out (Another block'))).toBe(true);
  });

  it('a set that is ended early keeps what there is, and goes on to the judgement', () => {
    const bench = TestBench.micrometer().prepared();
    bench.shown.reading = (state, slot) => bench.certified(state, slot).toFixed(3);
    while (nextItem(bench.state)?.type === 'reading' && slotOf(nextItem(bench.state) as never).point !== 'p6')
      bench.do({
        type: 'observed',
        ...slotOf(nextItem(bench.state) as never),
        text: bench.shown.reading(bench.state, slotOf(nextItem(bench.state) as never)),
      });
    bench.do({ type: 'set-ended', set: 'as-found', reason: 'Only to 13 mm' });
    expect(next(bench)).toBe('judge');
    expect(points(bench)).toHaveLength(5);
    expect(verdictAsFound(bench.state)).toBe('pass');
  });

  it('every event of a log is a valid document, and the state follows from the log alone, one by one or at once', () => {
    const bench = TestBench.micrometer().readAll(scatter);
    const stored = bench.events.map((e) => recordedEventSchema.parse(JSON.parse(JSON.stringify(e))));
    const { plan: _a, ...folded } = runState(stored);
    const { plan: _b, ...stepwise } = bench.state;
    expect(JSON.stringify([...folded.live.values()])).toBe(JSON.stringify([...stepwise.live.values()]));
    expect(folded.firstOpen).toBe(stepwise.firstOpen);
    expect(JSON.stringify([folded.readings, folded.steps, folded.conditions, folded.sets])).toBe(
      JSON.stringify([stepwise.readings, stepwise.steps, stepwise.conditions, stepwise.sets]),
    );
  });
});

describe('what is refused', () => {
  const ready = () => TestBench.micrometer().prepared();
  const reading = (text: string, more = {}) => ({
    type: 'observed' as const,
    set: 'as-found',
    series: 'error',
    point: 'p1',
    repeat: 1,
    observation: 'R',
    text,
    ...more,
  });

  it('readings before the preparation is done', () =>
    expect(TestBench.micrometer().try(reading('2.500'))).toContain('Something has to be done before'));
  it.each([
    [' ', 'Nothing was typed'],
    ['abc', 'not a number'],
    ['-2.5', 'lost sign'],
    ['25.03', 'Did you mean 2.503 mm'],
    ['2503', 'Did you mean 2.503 mm'],
    ['0.503', 'Did you mean 2.503 mm'],
    ['0.098', 'Did you mean 2.489 mm'],
    ['7', 'away from the point'],
    ['2.50123', 'more digits'],
  ])('a reading of %j', (text, message) => {
    const bench = ready();
    expect(text.trim() === '' ? 'Nothing was typed' : bench.try(reading(text))).toContain(message);
  });
  it('an implausible reading: kept as typed only on purpose and with a reason', () => {
    const bench = ready();
    expect(bench.refusal(reading('25.03'))).toMatchObject({ suggestion: '2.503', path: ['text'], keepable: true });
    expect(bench.refusal(reading('2.703', { confirmed: true }))).toMatchObject({ path: ['reason'] });
    expect(bench.try(reading('2.703', { confirmed: true, reason: 'Read twice' }))).toBeNull();
    expect(live(bench.state, 'p1')).toEqual(['2.703']);
  });
  it('what the display cannot show, whatever is said about it', () => {
    const kept = { confirmed: true, reason: 'Read twice' };
    const beyond = ready().refusal(reading('2503', kept));
    expect(beyond).toMatchObject({ message: expect.stringContaining('reaches from 0 to 25 mm'), suggestion: '2.503' });
    expect(beyond!.keepable).toBeUndefined();
    expect(ready().try(reading('2.50123', kept))).toContain('more digits than it can show');
    const coarse = new TestBench({
      ...setups['outside-micrometer']!(),
      instrument: { ...TestBench.micrometer().setup.instrument, resolution: 0.002 },
    });
    coarse.prepared();
    expect(coarse.try(reading('2.501', kept))).toContain('steps of 0.002 mm: it shows 2.5 or 2.502 mm, not 2.501');
    expect(coarse.try(reading('2.502'))).toBeNull();
  });
  it('a reading that is taken already, until it is struck out with its reason', () => {
    const bench = ready()
      .do(reading('2.500'))
      .do(reading('2.501', { repeat: 2 }))
      .do(reading('2.500', { repeat: 3 }));
    expect(bench.try(reading('2.500', { repeat: 2 }))).toContain('is taken');
    expect(bench.try(reading('2.500', { repeat: 4 }))).toContain('no such reading');
    const taken = bench.state.readings[1]!;
    bench.do({ type: 'struck', sequence: taken.sequence, reason: 'Mistyped' });
    expect(bench.try({ type: 'struck', sequence: taken.sequence, reason: 'Mistyped' })).toContain('already struck');
    expect(nextItem(bench.state)).toMatchObject({ point: 'p1', repeat: 2 });
    bench.do(reading('2.502', { repeat: 2 }));
    expect(bench.state.readings).toHaveLength(4);
    expect(live(bench.state, 'p1').sort()).toEqual(['2.500', '2.500', '2.502']);
  });
  it('an early end of a wait without a reason', () => {
    const bench = TestBench.micrometer();
    while (!(nextItem(bench.state)?.type === 'step' && (nextItem(bench.state) as { id: string }).id === 'soak'))
      bench.do({ ...(nextItem(bench.state) as { set: string; id: string }), type: 'step-done', ...plainValue(bench) });
    bench.do({ type: 'wait-begun', set: 'as-found', id: 'soak' }).wait(10);
    expect(bench.try({ type: 'wait-begun', set: 'as-found', id: 'soak' })).toContain('already running');
    expect(bench.try({ type: 'wait-ended', set: 'as-found', id: 'soak' })).toContain('still running');
    expect(bench.try({ type: 'wait-ended', set: 'as-found', id: 'soak', reason: 'Together since yesterday' })).toBeNull();
  });
  it('another thing than the record says, another option than wanted and a no, each without a word', () => {
    const bench = TestBench.micrometer();
    const step = (id: string, value: string | boolean | number, reason?: string) =>
      bench.try({
        type: 'step-done',
        set: 'as-found',
        id,
        value,
        ...(typeof value === 'number' && { text: String(value) }),
        ...(reason ? { reason } : {}),
      });
    expect(step('damage', true)).toContain('not what comes next');
    expect(step('number', 'M-2')).toContain('The record says M-1');
    expect(step('number', 'm 1')).toBeNull();
    expect(step('damage', false)).toContain('what is wrong');
    expect(step('damage', false, 'A nick in the frame')).toBeNull();
    expect(step('faces', true)).toBeNull();
    expect(step('flatness', 1)).toBeNull();
    expect(step('parallelism', 2)).toBeNull();
    expect(step('unit', 'feet')).toContain('Choose one of');
    expect(step('unit', 'other')).toContain('wants Yes');
    expect(step('unit', 'registered')).toBeNull();
    // An answer may be corrected while its set is open.
    expect(step('damage', true)).toBeNull();
  });
  it('conditions that cannot be, or that are outside without a reason', () => {
    const bench = ready();
    const record = (air: string, frame: string, blocks: string, reason?: string) =>
      bench.try({ type: 'conditions-recorded', set: 'as-found', values: { air, frame, blocks }, ...(reason ? { reason } : {}) });
    expect(record('203', '20', '20')).toContain('cannot be right');
    expect(record('20', 'warm', '20')).toContain('Micrometer');
    expect(record('23', '20', '20')).toContain('Room air: 23 °C');
    expect(record('20', '20.0', '20.8')).toContain('more than 0.5 °C away');
    expect(record('23', '20', '20', 'Heating repaired tomorrow')).toBeNull();
  });
  it('items that do not add up, or that have been read on', () => {
    const bench = ready();
    const choose = (...items: string[]) =>
      bench.try({ type: 'items-chosen', set: 'as-found', series: 'error', point: 'p1', use: 'blocks', items });
    expect(choose('gb-47-1.5')).toContain('add to 1.5');
    expect(choose('gb-47-1.5', 'gb-47-1.5')).toContain('only once');
    expect(choose('gb-47-9.9')).toContain('not in the standard');
    expect(choose('gb-47-1.4', 'gb-47-1.1')).toBeNull();
    bench.do(reading('2.500'));
    expect(choose('gb-47-1.5', 'gb-47-1')).toContain('Strike them out');
  });
  it('judging with a point missing; skipping it takes a reason, and it can be taken up again', () => {
    const bench = ready();
    const place = (point: string) => ({ set: 'as-found', series: 'error', point });
    expect(bench.try(leaveIt)).toContain('not complete');
    expect(bench.try({ type: 'skipped', ...place('p2'), reason: '' })).toContain('reason');
    for (const p of bench.state.places.get('as-found|error|')!.points.slice(1))
      bench.do({ type: 'skipped', ...place(p.id), reason: 'No such block' });
    expect(bench.try(reading('5.100', { point: 'p2' }))).toContain('skipped');
    bench
      .do(reading('2.500'))
      .do(reading('2.500', { repeat: 2 }))
      .do(reading('2.500', { repeat: 3 }));
    // All is read or skipped; what is taken up again comes next, before the judgement.
    expect(nextItem(bench.state)?.type).toBe('judge');
    bench.do({ type: 'resumed', ...place('p2') });
    expect(nextItem(bench.state)).toMatchObject({ type: 'reading', point: 'p2', repeat: 1 });
    bench.do(reading('5.100', { point: 'p2' }));
  });
  it('changing as-found readings after the decision', () => {
    const bench = ready().readAll(scatter).do(leaveIt);
    expect(bench.try(reading('2.500'))).toContain('evidence');
    expect(bench.try({ type: 'struck', sequence: bench.state.readings[0]!.sequence, reason: 'Dirt' })).toContain('evidence');
    expect(bench.try({ type: 'withdrawn', set: 'as-found', series: 'error', reason: 'Dirt' })).toContain('evidence');
  });
  it('going against the advice without a reason, and adjusting what the owner forbids', () => {
    const bench = ready().readAll(scatter);
    expect(bench.try({ ...leaveIt, adjustment: 'zero' })).toContain('against the advice');
    expect(bench.try({ ...leaveIt, adjustment: 'zero', proposed: 'zero', reason: 'x y z' })).toContain('advice has changed');
    const forbidden = TestBench.micrometer({ adjustmentAllowed: false }).readAll((n, r) => 0.0035 + scatter(n, r));
    expect(forbidden.try({ ...leaveIt, adjustment: 'zero', reason: 'All the same' })).toContain('check only');
  });
  it('an adjustment beyond what can be stored, or read back as something else', () => {
    const bench = ready()
      .readAll((n, r) => 0.0035 + scatter(n, r))
      .do({ ...leaveIt, adjustment: 'zero', proposed: 'zero' });
    const adjusted = (stored: Record<string, { before?: string; after: string; readBack?: string }>) =>
      bench.try({ type: 'adjusted', set: 'as-found', id: 'zero', stored, note: '' });
    expect(adjusted({})).toContain('is missing');
    expect(adjusted({ shift: { after: '0.2' } })).toContain('the procedure wants');
    // A zero that is moved holds nothing before, and gives nothing back to be read.
    expect(adjusted({ shift: { after: '-0.004' } })).toBeNull();
  });
  it('a next date in the past, far away, or other than proposed without a reason', () => {
    const bench = ready().readAll(scatter).do(leaveIt);
    const decide = (date: string, reason = '') =>
      bench.try({ type: 'interval-decided', next: date, proposed: '2027-11-24', reason });
    expect(decide('2026-11-24')).toContain('future');
    expect(decide('2040-01-01')).toContain('ten years');
    expect(decide('2036-11-25')).toContain('ten years');
    expect(decide('2036-11-24')).toContain('give the reason');
    expect(decide('2027-05-24')).toContain('give the reason');
    expect(decide('2027-05-24', 'Used daily on reeds')).toBeNull();
  });
  it('finishing before its time, and anything after breaking off', () => {
    const bench = ready();
    expect(bench.try({ type: 'run-completed', certificate: 'C', remark: '' })).toContain('not complete');
    bench.do({ type: 'run-broken-off', reason: 'Sent back' });
    expect(bench.try(reading('2.500'))).toContain('broken off');
  });
  it('a standard that cannot serve, when the run would begin', () => {
    const setup = TestBench.micrometer().setup;
    expect(() => new TestBench({ ...setup, standards: {} })).toThrow('Nothing is chosen for Gauge blocks');
    expect(() => new TestBench({ ...setup, standards: { blocks: [standardNamed('weights-e')] } })).toThrow(
      'not what Gauge blocks asks',
    );
    expect(
      () =>
        new TestBench({
          ...setup,
          standards: { blocks: [standardNamed('gb-m10')] },
          instrument: { ...setup.instrument, lower: 25, upper: 50, usedLower: 25, usedUpper: 50 },
        }),
    ).toThrow('No items of Gauge blocks add to');
  });
});

/** What a step is answered with when nothing is wrong. */
function plainValue(bench: TestBench): { value: string | boolean | number; text?: string } {
  const id = (nextItem(bench.state) as { id: string }).id;
  // Bands of light on the faces.
  if (id === 'flatness' || id === 'parallelism') return { value: 1, text: '1' };
  return { value: { number: 'M-1', unit: 'registered', box: 'QM-GB-47' }[id] ?? true };
}

describe('results', () => {
  it('agree with the formula worked by hand', () => {
    const bench = TestBench.micrometer();
    const at = { air: '20.3', frame: '20.2', blocks: '20.4' } as Record<string, string>;
    bench.shown.condition = (id) => at[id]!;
    bench.readAll((n, r) => 0.002 + scatter(n, r));
    const { state } = bench;
    const point = points(bench).find((p) => p.nominal === 20.2)!;
    const items = bench.setup.standards['blocks']![0]!.document.items!;
    const [b19, b12] = [19, 1.2].map((n) => items.find((i) => i.nominal === n)!) as [(typeof items)[0], (typeof items)[0]];
    const L = b19.certified! + b12.certified!;
    const reference = L * (1 + 1.15e-5 * 0.4 - 1.15e-5 * 0.2);
    expect(point.result.reference).toBeCloseTo(reference, 9);
    const mean = point.repeats.reduce((a, b) => a + b, 0) / 3;
    expect(point.value).toBeCloseTo(mean - reference, 8);
    const groups = points(bench).map((p) => p.repeats);
    const pooled = Math.sqrt(
      groups.reduce((s, g) => s + g.reduce((q, v) => q + (v - (g[0]! + g[1]! + g[2]!) / 3) ** 2, 0), 0) / 20,
    );
    const years =
      (Date.parse('2026-11-24') - Date.parse(bench.setup.standards['blocks']![0]!.document.certificate!.date)) /
      (365.25 * 86400e3);
    const third = Math.sqrt(3);
    const parts: Record<string, number> = {
      R: Math.max(pooled / third, 0.001 / Math.sqrt(12)),
      L: b19.expandedUncertainty / 2 + b12.expandedUncertainty / 2,
      drift: ((0.00005 * 2 + 0.0000005 * 20.2) * years) / third,
      wring: 0.00005 / third,
      a_b: (L * 0.4 * 1e-6) / third,
      a_m: (L * 0.2 * 2e-6) / third,
      t: 0,
      dt: (L * 1.15e-5 * 0.3) / third,
      // One band on the worse face, one over both.
      face: 0.0003 / third,
    };
    for (const c of point.result.contributions) expect(Math.abs(c.contribution), c.symbol).toBeCloseTo(parts[c.symbol]!, 8);
    const u = Math.sqrt(Object.values(parts).reduce((s, p) => s + p * p, 0));
    expect(point.result.standardUncertainty).toBeCloseTo(u, 9);
    expect(point.result.limits).toEqual({ lower: -0.004, upper: 0.004 });
    expect(placedPoint(state, point.place)!.limits['E']).toEqual({ lower: -0.004, upper: 0.004 });
  });
  it("use the instrument's own limits where its record gives them", () => {
    const bench = TestBench.micrometer({ characteristics: { limit: 0.006 } }).readAll(scatter);
    expect(points(bench)[0]!.result.limits!.upper).toBe(0.006);
  });
  it('there is no verdict on a set with a point missing', () => {
    const bench = TestBench.micrometer().prepared();
    expect(verdictAsFound(bench.state)).toBeNull();
  });
});

describe('diagnosis and advice', () => {
  const judged = (error: (nominal: number, repeat: number) => number, instrument = {}) => {
    const bench = TestBench.micrometer(instrument).readAll(error);
    return {
      diagnosis: diagnose(bench.state, 'as-found'),
      advice: adjustmentAdvice(bench.state, 'as-found'),
      date: proposeNextDate(bench.state, verdictAsFound(bench.state), '2026-11-24'),
    };
  };
  it('does not pool the scatter of one bad point with the rest: it says to read that point again', () => {
    const { diagnosis, advice } = judged((nominal, repeat) => (nominal === 12.9 ? [-0.001, 0.001, 0.0015][repeat]! : 0));
    expect(diagnosis.kind).toBe('scatter');
    expect(diagnosis.sentence).toContain('12.9 mm');
    expect(diagnosis.sentence).toContain('Cochran');
    expect(advice.adjustment).toBeNull();
  });
  it('leaves a quiet instrument alone', () => {
    const { diagnosis, advice, date } = judged(scatter);
    expect(diagnosis.kind).toBe('quiet');
    expect(advice.adjustment).toBeNull();
    expect(date).toMatchObject({ date: '2027-11-24', months: 12 });
  });
  it('sees an offset and says what taking it away would leave', () => {
    const { diagnosis, advice } = judged((n, r) => 0.0034 + scatter(n, r));
    expect(diagnosis.kind).toBe('offset');
    expect(diagnosis.sentence).toMatch(/near \+3\.[34] µm: a constant offset/);
    expect(advice).toMatchObject({ adjustment: 'zero', each: null });
    expect(advice.reason).toContain('“Set the zero” would bring it to');
  });
  it('leaves an offset within the share of the tolerance alone', () =>
    expect(judged((n, r) => 0.002 + scatter(n, r)).advice.adjustment).toBeNull());
  it('sees one odd point and sends the technician to it', () => {
    const { diagnosis, advice } = judged((n, r) => (n === 12.9 ? 0.01 : 0) + scatter(n, r));
    expect(diagnosis).toMatchObject({ kind: 'odd-point' });
    expect(diagnosis.sentence).toContain('12.9 mm');
    expect(advice.adjustment).toBeNull();
  });
  it('sees scatter, and that it is the first readings that lag', () =>
    expect(judged((_, r) => (r - 1) * 0.003).diagnosis).toMatchObject({
      kind: 'not-settled',
      scatter: expect.stringContaining('s = 3.0 µm') as string,
    }));
  it('sees an error that grows over the range', () => {
    const { diagnosis, advice } = judged((n, r) => 0.00028 * (n - 12.5) + scatter(n, r));
    expect(diagnosis.kind).toBe('slope');
    expect(advice.adjustment).toBeNull();
  });
  it('does not call an error that grows from nothing an offset, though all of it lies on one side', () => {
    const { diagnosis, advice } = judged((n, r) => 0.00018 * n + scatter(n, r) / 4);
    expect(diagnosis.kind).toBe('slope');
    expect(advice.adjustment).toBeNull();
  });
  it('shortens the interval after a fail', () =>
    expect(judged((n, r) => 0.007 + scatter(n, r)).date).toMatchObject({ date: '2027-05-24', months: 6 }));
  it("keeps to the instrument's own interval", () =>
    expect(judged(scatter, { intervalMonths: 3 }).date).toMatchObject({ date: '2027-02-24', months: 3 }));
  it.each([
    ['never-while-inside', 0.0032, null],
    ['never-while-inside', 0.006, 'zero'],
    ['always-centre', 0.0012, 'zero'],
  ] as const)('school "%s" with an offset of %d mm proposes: %s', (kind, offset, adjustment) => {
    const procedure = procedureNamed('outside-micrometer');
    const changed = { ...procedure, adjustments: procedure.adjustments.map((a) => ({ ...a, policy: { kind } })) };
    const bench = TestBench.micrometer({}, changed).readAll((n, r) => offset + scatter(n, r) / 2);
    expect(adjustmentAdvice(bench.state, 'as-found').adjustment).toBe(adjustment);
  });
});

describe('a standard that lacks what a budget names', () => {
  const bath = setups['thermometer-in-bath']!;
  const without = (): ReturnType<typeof bath> => {
    const setup = bath();
    const [probe] = setup.standards['reference']!;
    const { driftPerYear: _drift, ...properties } = probe!.document.properties ?? {};
    return {
      ...setup,
      standards: { ...setup.standards, reference: [{ ...probe!, document: { ...probe!.document, properties } }] },
    };
  };
  it('is refused before the first step, with what is missing and where it is asked for', () =>
    expect(() => startAct({ ...without(), timeZone: 'UTC' }, '2026-11-24')).toThrow(
      'does not state “Drift per year”, which “Error of indication” asks for. Enter it with the certificate, or choose another standard.',
    ));
  it('is good enough where the quantity that names it is left out', () => {
    const setup = without();
    const left = setup.procedure.series.map((s) => ({
      ...s,
      results: s.results.map((r) => ({
        ...r,
        quantities: r.quantities.map((q) => (q.symbol === 'drift' ? { ...q, when: { choice: 'liquid', is: 'oil' } } : q)),
      })),
    }));
    const act = startAct({ ...setup, procedure: { ...setup.procedure, series: left }, timeZone: 'UTC' }, '2026-11-24');
    expect(act.plan.items.length).toBeGreaterThan(10);
  });
});
