import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../bench/random';
import { certificateOf } from '../certificate/certificate';
import { adjustmentAdvice } from './adjustment-advice';
import { cautionsNow } from './cautions';
import { diagnose } from './diagnosis';
import { setups, TestBench } from './fixtures/bench';
import { judged } from './fixtures/judged';
import { nextItem } from './next-step';
import { reviewPoints } from './review-points';
import { determinedIn, verdictAsFound } from './run-results';
import { plainAct } from '../../bench/technician';
import { isPointRead } from '../state/progress';
import { placedPoint } from '../state/run-state';
import { slotOf } from '../state/place-keys';

const laboratory = { name: 'Room', address: '' };
const leaveIt = { type: 'adjustment-decided' as const, set: 'as-found', adjustment: null, proposed: null, reason: '' };
describe('what the errors of a set look like', () => {
  // The statistics of 120 are run with all tests; a bound that is broken shows in these already.
  const cases = process.env['TESTS'] === 'all' ? 120 : 40;
  const share = (kinds: string[], make: (seed: number, random: () => number) => TestBench): number => {
    const random = seededRandom(7);
    return (
      Array.from({ length: cases }, (_, seed) => diagnose(make(seed, random).state, 'as-found').kind).filter((k) =>
        kinds.includes(k),
      ).length / cases
    );
  };
  it('a progressive error is named, and called no offset', () => {
    const named = share(['slope', 'curve'], (seed, r) => {
      const rise = (r() < 0.5 ? -1 : 1) * (0.8 + 0.8 * r());
      return judged((x) => rise * x, 0.1, seed);
    });
    expect(named).toBeGreaterThanOrEqual(0.9);
  });
  it('a healthy instrument is accused of nothing', () => {
    const accused = share(['slope', 'curve', 'offset', 'odd-point', 'scatter'], (seed) => judged(() => 0, 0.2, seed));
    expect(accused).toBeLessThanOrEqual(0.05);
  });
  it('an offset is called one, and what it would leave is said with its point', () => {
    const bench = judged(() => 0.9, 0.05, 3);
    expect(diagnose(bench.state, 'as-found')).toMatchObject({
      kind: 'offset',
      sentence: expect.stringMatching(
        /constant offset\. Taking it away would leave at most [+−]0\.\d+ µm \([\d.]+ mm\)\. Most often/,
      ),
    });
  });
});

describe('advice', () => {
  it('an error that grows is never to be cured by the zero', () => {
    const bench = judged((x) => 1.4 * x, 0.03, 1);
    const { adjustment, reason } = adjustmentAdvice(bench.state, 'as-found');
    expect(adjustment).toBeNull();
    expect(reason).toContain('Set the zero');
  });
  it('nor what would still be outside after it', () => {
    // One half of the range far above, the other far below: the zero takes away their mean, which is next to nothing.
    const bench = judged((x) => (x < 0.5 ? 2.6 : 0.3), 0.03, 2);
    const { adjustment, reason } = adjustmentAdvice(bench.state, 'as-found');
    expect(adjustment).toBeNull();
    expect(reason).toMatch(/would still leave [+−]\S+ µm \([\d.]+ mm\), outside the limits/);
  });
  it('says what is left at the worst point', () => {
    const bench = judged(() => 0.9, 0.05, 3);
    expect(adjustmentAdvice(bench.state, 'as-found')).toMatchObject({
      adjustment: 'zero',
      reason: expect.stringMatching(/and leave [+−]0\.\d+ µm \([\d.]+ mm\) at the worst point\.$/),
    });
  });
});

describe('a point', () => {
  it('has been read when all its repeats are there, or it was skipped: before that its verdict is not shown', () => {
    const bench = TestBench.micrometer().prepared();
    const first = { set: 'as-found', series: 'error', point: 'p1' };
    for (let repeat = 1; repeat <= 3; repeat++) {
      expect(isPointRead(bench.state, first)).toBe(false);
      bench.do({ type: 'observed', ...slotOf(nextItem(bench.state) as never), text: '2.500' });
    }
    expect(isPointRead(bench.state, first)).toBe(true);
    expect(isPointRead(bench.state, { ...first, point: 'p2' })).toBe(false);
    bench.do({ type: 'skipped', ...first, point: 'p2', reason: 'No block' });
    expect(isPointRead(bench.state, { ...first, point: 'p2' })).toBe(true);
    bench.do({ type: 'struck', sequence: bench.state.readings[0]!.sequence, reason: 'Dirt' });
    expect(isPointRead(bench.state, first)).toBe(false);
  });
  it('of two passages has been read when both are there', () => {
    const bench = new TestBench(setups['pressure-transmitter']!()).prepared();
    const point = { set: 'as-found', series: (nextItem(bench.state) as { series: string }).series, point: 'p1' };
    while (!isPointRead(bench.state, { ...point, sweep: 'up' })) bench.do(plainAct(bench.state, bench.shown, bench.at)!);
    expect(isPointRead(bench.state, point)).toBe(false);
    bench.playTo('judge');
    expect(isPointRead(bench.state, point)).toBe(true);
  });
});

describe('an adjustment', () => {
  /** Adjusted, up to the first reading as left. */
  const adjusted = () =>
    judged(() => 0.9, 0.02, 3)
      .do({ ...leaveIt, adjustment: 'zero', proposed: 'zero' })
      .playTo('begin')
      .playTo('reading');
  const readFirst = (bench: TestBench, off: number, more = {}) => {
    const item = nextItem(bench.state);
    if (item?.type !== 'reading') throw new Error('No reading is wanted.');
    const slot = slotOf(item);
    return bench.refusal({ type: 'observed', ...slot, text: (bench.certified(bench.state, slot) + off).toFixed(3), ...more });
  };
  it.each([
    ['has changed next to nothing', 0.0036],
    ['has become worse', 0.0075],
  ])('that %s is asked about, and goes on with a reason', (words, off) => {
    const bench = adjusted();
    // Asked as soon as the point gives a result, on its third reading at the latest.
    const doubt = readFirst(bench, off) ?? readFirst(bench, off) ?? readFirst(bench, off);
    expect(doubt).toMatchObject({ message: expect.stringContaining(words), keepable: true });
    expect(readFirst(bench, off, { confirmed: true, reason: 'It is as it is' })).toBeNull();
    // It is asked once: the next points go on.
    for (let i = 0; i < 4; i++) expect(readFirst(bench, off)).toBeNull();
  });
  it('is not asked about at a point whose error was less than half of the greatest', () => {
    // 0.9 of the limit at the last points, a third of that at the first: only a point far off tells whether it took.
    const bench = judged((x) => (x > 0.5 ? 0.9 : 0.3), 0.01, 5);
    const { adjustment } = adjustmentAdvice(bench.state, 'as-found');
    bench
      .do({ ...leaveIt, adjustment: 'zero', proposed: adjustment, reason: 'As it is wanted' })
      .playTo('begin')
      .playTo('reading');
    for (let i = 0; i < 3; i++) expect(readFirst(bench, 0.0012)).toBeNull();
  });
  it('that took is not', () => {
    const bench = adjusted();
    for (let i = 0; i < 6; i++) expect(readFirst(bench, 0.0001)).toBeNull();
  });
});

describe('skipped points', () => {
  it('are not judged, and there is no verdict before the plan is done', () => {
    const bench = TestBench.micrometer().prepared();
    // The last point would fail.
    bench.shown.reading = (state, slot) => (placedPoint(state, slot)!.nominal! + (slot.point === 'p10' ? 0.02 : 0)).toFixed(3);
    while (nextItem(bench.state)?.type === 'reading' && bench.state.live.size < 27) {
      expect(verdictAsFound(bench.state)).toBeNull();
      bench.do({
        type: 'observed',
        ...slotOf(nextItem(bench.state) as never),
        text: bench.shown.reading(bench.state, slotOf(nextItem(bench.state) as never)),
      });
    }
    expect(verdictAsFound(bench.state)).toBeNull();
    bench.do({ type: 'skipped', set: 'as-found', series: 'error', point: 'p10', reason: 'It does not reach' });
    expect(verdictAsFound(bench.state)).toBe('pass');
  });
});

describe('a question of the preparation', () => {
  const confirmed = (bench: TestBench, value: boolean, reason?: string) => {
    const item = nextItem(bench.state);
    if (item?.type !== 'step') throw new Error('No step is open.');
    return bench.refusal({ type: 'step-done', set: item.set, id: item.id, value, ...(reason ? { reason } : {}) });
  };
  /** Up to the first question that is answered with yes or no. */
  const asked = () => {
    const bench = TestBench.micrometer();
    bench.do({ type: 'step-done', set: 'as-found', id: 'number', value: 'M-1' });
    return bench;
  };
  it('answered with no goes on only with a reason, and that prints', () => {
    const bench = asked();
    expect(confirmed(bench, false)).toMatchObject({ path: ['reason'] });
    expect(confirmed(bench, false, 'A nick in the anvil')).toBeNull();
    bench.playTo('end');
    expect(certificateOf(bench.state, laboratory).remarks.join('\n')).toContain('no: A nick in the anvil');
  });
  it('put right is a yes that says what was wrong', () => {
    const bench = asked();
    expect(confirmed(bench, true, 'Oil on the faces')).toBeNull();
    bench.playTo('end');
    expect(certificateOf(bench.state, laboratory).remarks.join('\n')).toContain(
      'yes, after this was put right: Oil on the faces',
    );
  });
  it('can be answered anew until its set is judged; the first answer stays in the log', () => {
    const bench = asked();
    const { id } = nextItem(bench.state) as { id: string };
    confirmed(bench, false, 'A nick');
    bench.prepared();
    const again = { type: 'step-done' as const, set: 'as-found', id, value: true };
    expect(bench.try(again)).toBeNull();
    expect(bench.state.steps.filter((s) => s.item.id === id).map((s) => s.value)).toEqual([false, true]);
    bench.playTo('judge').do(leaveIt);
    expect(bench.try(again)).not.toBeNull();
  });
});

/** The error of a point, with what it was worked out from. */
const errorAt = (bench: TestBench, point: string) =>
  determinedIn(bench.state, { set: 'as-found', series: 'error', point }, bench.setup.procedure.series[0]!.results[0]!)!;

describe('scatter', () => {
  /** A micrometer whose readings scatter by some micrometres at one point, and hardly elsewhere. */
  const scattering = (at: string, by: number) => {
    const bench = TestBench.micrometer();
    bench.shown.reading = (state, slot) =>
      (bench.certified(state, slot) + (slot.point === at ? by : 0) * (slot.repeat - 2)).toFixed(3);
    return bench.playTo('judge');
  };
  it('at one point, far above the others, is said with its point', () => {
    const { kind, sentence } = diagnose(scattering('p5', 0.004).state, 'as-found');
    expect(kind).toBe('scatter');
    expect(sentence).toContain('12.9 mm');
  });
  it('and is not pooled away: the set is judged only when the point was read again, or somebody says why it may stand', () => {
    const bench = scattering('p5', 0.004);
    expect(bench.refusal(leaveIt)).toMatchObject({
      message: expect.stringMatching(/Scatter at 12\.9 mm \(s = 4\.0 µm/),
      path: ['reason'],
    });
    const stands = scattering('p5', 0.004)
      .do({ ...leaveIt, reason: 'The anvil is worn there' })
      .playTo('end');
    expect(certificateOf(stands.state, laboratory).remarks.join('\n')).toMatch(
      /As found, scatter at 12\.9 mm .* gone on because: The anvil is worn there/,
    );
    // Struck out and read again, nothing is asked.
    for (const r of [...bench.state.readings].filter((x) => x.slot.point === 'p5'))
      bench.do({ type: 'struck', sequence: r.sequence, reason: 'Dirt on the anvil' });
    bench.shown.reading = (state, slot) => bench.certified(state, slot).toFixed(3);
    bench.playTo('judge');
    expect(bench.refusal(leaveIt)).toBeNull();
  });
});

describe('conditions', () => {
  it('count for each reading as they were when it was taken', () => {
    const bench = TestBench.micrometer().prepared();
    const readPoint = () => {
      for (let i = 0; i < 3; i++) bench.do(plainAct(bench.state, bench.shown, bench.at)!);
    };
    bench.shown.reading = (state, slot) => placedPoint(state, slot)!.nominal!.toFixed(3);
    for (let i = 0; i < 5; i++) readPoint();
    const before = errorAt(bench, 'p5').reference;
    bench.wait(10).do({ type: 'conditions-recorded', set: 'as-found', values: { air: '20.9', blocks: '20.9', frame: '20.5' } });
    expect(errorAt(bench, 'p5').reference).toBe(before);
    readPoint();
    // Blocks warmer than the frame by 0.4 K are longer by 11.5 µm for each metre and kelvin.
    const cold = errorAt(
      TestBench.micrometer().readAll(() => 0),
      'p6',
    ).reference!;
    expect((errorAt(bench, 'p6').reference! - cold) / (15 * 0.4 * 11.5e-6)).toBeCloseTo(1, 1);
  });
});

describe('what has grown old during a run', () => {
  it('is said: a certificate that ran out, and conditions read an hour ago', () => {
    const setup = setups['outside-micrometer']!();
    const [blocks] = setup.standards['blocks']!;
    const { certificate } = blocks!.document;
    setup.standards['blocks'] = [
      { ...blocks!, document: { ...blocks!.document, certificate: { ...certificate!, due: '2026-11-24' } } },
    ];
    const bench = new TestBench(setup).prepared();
    expect(cautionsNow(bench.state, bench.at)).toEqual([]);
    bench.wait(61);
    expect(cautionsNow(bench.state, bench.at).join()).toMatch(/read 6\d min ago\. Read again/);
    bench.wait(24 * 60);
    expect(cautionsNow(bench.state, bench.at)[0]).toContain('The certificate of QM-GB-47 ran out on 2026-11-24');
    bench.playTo('end');
    const { remarks } = certificateOf(bench.state, laboratory);
    expect(remarks.join('\n')).toContain('The certificate of QM-GB-47 ran out on 2026-11-24');
    expect(reviewPoints(bench.state, bench.events).join('\n')).toMatch(/as found: read \d+ min before the last reading/);
  });
});

describe('review', () => {
  const finished = () => TestBench.micrometer().playTo('end');
  it('is for none who took part', () => {
    const bench = TestBench.micrometer().prepared();
    bench.do({ type: 'observed', ...slotOf(nextItem(bench.state) as never), text: '2.500' }, 'Bo');
    bench.playTo('end');
    for (const person of ['Ada', 'Bo'])
      expect(bench.try({ type: 'run-reviewed', remark: '' }, person)).toContain('Ask a second person');
    expect(bench.try({ type: 'run-reviewed', remark: '' }, 'Cy')).toBeNull();
  });
  it('lists what is out of the ordinary, and nothing else', () => {
    /** Taken with care: as long as it takes, with readings that scatter as readings do. */
    const careful = () => {
      const made = TestBench.micrometer().prepared().wait(30);
      const plain = made.shown.reading;
      made.shown.reading = (state, slot) =>
        (Number(plain(state, slot)) + (slot.point === 'p2' && slot.repeat === 2 ? 0.001 : 0)).toFixed(3);
      return made;
    };
    const good = careful().playTo('end');
    expect(reviewPoints(good.state, good.events)).toEqual([]);
    const bench = careful();
    bench.do({ type: 'observed', ...slotOf(nextItem(bench.state) as never), text: '2.502' });
    bench.do({ type: 'struck', sequence: bench.state.sequence, reason: 'Mistyped' });
    bench.do({ type: 'skipped', set: 'as-found', series: 'error', point: 'p10', reason: 'It does not reach' });
    bench.playTo('end');
    expect(reviewPoints(bench.state, bench.events)).toEqual([
      '2.5 mm, as found: 2.502 struck out, Mistyped',
      '25 mm, as found: skipped, It does not reach',
    ]);
  });
  it('names haste, repeats that are all alike, and what rests on a device that was out of reach', () => {
    const hasty = finished();
    expect(reviewPoints(hasty.state, hasty.events)).toEqual([
      'All repeats are identical at 10 places: were they read, or copied?',
      expect.stringMatching(/^Took \d+ min; the procedure takes at least 75$/),
    ]);
    const events = hasty.events.map((e) =>
      e.act.type === 'wait-ended' ? { ...e, done: { at: new Date(Date.parse(e.at) - 12 * 60_000).toISOString(), ahead: 0 } } : e,
    );
    expect(reviewPoints(hasty.state, events).at(-1)).toContain('out of reach for 12 min');
  });
  it('names what failed first, and what was set other than proposed', () => {
    const bench = TestBench.micrometer().readAll((n, r) => 0.0085 + ((((n * 10) | 0) + r) % 3) * 0.0004);
    bench.do({ type: 'adjustment-decided', set: 'as-found', adjustment: 'zero', proposed: 'zero', reason: '' });
    const stored = { shift: { after: '-0.005' } };
    bench.do({ type: 'adjusted', set: 'as-found', id: 'zero', stored, note: '' });
    const points = reviewPoints(bench.state, bench.events);
    expect(points[0]).toMatch(/^As found\. Outside: Error, .*\+8\.\d+ µm, allowed ±4 µm, and \d more\.$/);
    expect(points.find((p) => p.includes('proposed was'))).toContain('set to −0.005, proposed was −0.00');
  });
  it('can send a run back: it is open again, and gets another certificate that says so', () => {
    const bench = finished();
    expect(bench.try({ type: 'run-returned', remark: 'Read 25 mm again' })).toContain('Ask a second person');
    // Another spelling is nobody else.
    expect(bench.try({ type: 'run-reviewed', remark: '' }, ` ${bench.person.toUpperCase()}`)).toContain('Ask a second person');
    bench.do({ type: 'run-returned', remark: 'Read 25 mm again' }, 'Cy');
    // Its date went with its certificate.
    expect([bench.state.completed, bench.state.interval]).toEqual([null, null]);
    expect(nextItem(bench.state)?.type).toBe('judge');
    expect(cautionsNow(bench.state, bench.at)[0]).toBe('Returned in review by Cy: Read 25 mm again');
    const last = bench.state.readings.at(-1)!;
    bench.do({ type: 'struck', sequence: last.sequence, reason: 'As review asks' });
    bench.playTo('end');
    expect(bench.state.readings).toHaveLength(31);
    expect(certificateOf(bench.state, laboratory).remarks.join('\n')).toContain('which was returned in review: Read 25 mm again');
    expect(bench.try({ type: 'run-reviewed', remark: '' }, 'Cy')).toBeNull();
  });
});
