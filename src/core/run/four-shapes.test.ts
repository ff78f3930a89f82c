import { describe, expect, it } from 'vitest';
import { certificateOf } from '../certificate/certificate';
import { verbs } from '../door/verbs';
import { plainAct } from '../../bench/technician';
import { setups, TestBench } from './fixtures/bench';
import { gateStanding } from './gates';
import { nextItem, sentenceOf, stageOf, stagesOf } from './next-step';
import { caseFile } from './case-file';
import { evaluationIn, setAsLeft, verdictAsFound, verdictAsLeft } from './run-results';
import { placedPoint, type RunState, type Slot } from '../state/run-state';
import { slotOf } from '../state/place-keys';
import { summarizeRun } from './run-summary';

/** An instrument that is a little off everywhere; the sizes suit each shape. */
const shows: Record<string, (state: RunState, slot: Slot, off: number) => string> = {
  'outside-micrometer': (state, slot, off) => (placedPoint(state, slot)!.nominal! + 0.0035 * off).toFixed(3),
  'thermometer-in-bath': (state, slot, off) => {
    const bath = placedPoint(state, slot)!.nominal! + 0.001 * (slot.repeat % 3);
    return slot.observation.startsWith('S') ? bath.toFixed(3) : (bath + 0.19 * off).toFixed(2);
  },
  balance: (state, slot, off) => {
    if (slot.observation === 'Z') return '0.000';
    const load = placedPoint(state, slot)!.nominal!;
    return (load * (1 + 2.4e-5 * off) + 0.001 * (slot.repeat % 2)).toFixed(3);
  },
  'pressure-transmitter': (state, slot, off) => {
    const nominal = placedPoint(state, slot)!.nominal!;
    if (slot.observation === 'P') return nominal.toFixed(2);
    return (4 + (16 * nominal) / 600 + 0.04 * off + (slot.sweep === 'down' ? 0.003 : 0)).toFixed(3);
  },
};

/** What the command-line door answers. */
function atTheDoor(question: unknown): unknown {
  const verb = verbs['evaluate']!;
  return JSON.parse(JSON.stringify(verb.answer(verb.schema.parse(question)))) as unknown;
}

/** A run played to its end, off by one before an adjustment and by none after. */
function played(family: string): TestBench {
  const bench = new TestBench(setups[family]!());
  bench.shown.reading = (state, slot) => shows[family]!(state, slot, state.adjusted.length ? 0 : 1);
  return bench.playTo('end');
}

describe.each(Object.keys(setups))('%s, from its start to its certificate', (family) => {
  const bench = played(family);

  it('is adjusted as its procedure asks, and read again', () => {
    expect(bench.state.completed).not.toBeNull();
    expect(bench.state.adjusted).toHaveLength(1);
    expect(bench.state.sets.map((s) => s.id)).toEqual(['as-found', 'as-left']);
    const { of } = bench.setup.procedure.adjustments[0]!;
    expect(setAsLeft(bench.state, of[0]!)).toBe('as-left');
    expect(verdictAsLeft(bench.state)).toBe('pass');
    expect(stageOf(bench.state, nextItem(bench.state))).toBe('done');
    expect(stagesOf(bench.state)).toEqual(['prepare', 'as-found', 'judge', 'adjust', 'as-left', 'finish']);
  });

  it('gives at the door what the run has, set by set', () => {
    for (const { id } of bench.state.sets) {
      const question = JSON.parse(JSON.stringify(caseFile(bench.state, id)));
      const answer = atTheDoor(question);
      const { complete, verdict, series } = evaluationIn(bench.state, id);
      expect(answer).toMatchObject(JSON.parse(JSON.stringify({ complete, verdict, series })));
    }
  });

  it('has a certificate in its own unit and words, the same however often it is made', () => {
    const certificate = certificateOf(bench.state, { name: 'Room', address: 'Yard' });
    expect(certificateOf(bench.state, { name: 'Room', address: 'Yard' })).toEqual(certificate);
    expect(JSON.stringify(certificate)).not.toMatch(/NaN|undefined|null mm/);
    const main = certificate.tables.find((t) => t.rows.some((r) => r.limits))!;
    for (const row of main.rows) {
      expect(row.found!.value).toMatch(/^-?\d/);
      expect(row.left!.verdict).toBe('pass');
    }
    expect(certificate.adjustments).toHaveLength(1);
    expect(certificate.asFound.conditions.length).toBe(bench.setup.procedure.conditions.length);
    expect(certificate.standards.every((s) => s.certificate !== '')).toBe(true);
    expect(JSON.stringify(certificate.tables)).not.toMatch(family === 'outside-micrometer' ? /kPa|°C/ : /mm|µm/);
  });

  it('says in a line how it was found and left', () => {
    const { found, left, adjusted } = summarizeRun(bench.state);
    expect(adjusted).toBe(true);
    expect(found!.verdict).toBe(verdictAsFound(bench.state));
    expect(Math.abs(left!.value)).toBeLessThan(Math.abs(found!.value));
  });
});

describe('a bath that is not steady', () => {
  it('stops the run at the gate: ruled out, or gone on from with a reason that prints', () => {
    const bench = new TestBench(setups['thermometer-in-bath']!());
    bench.shown.reading = (state, slot) =>
      (placedPoint(state, slot)!.nominal! + (slot.observation === 'S' ? 0.03 * slot.repeat : 0)).toFixed(
        slot.observation.startsWith('S') ? 3 : 2,
      );
    bench.playTo('gate');
    const gate = nextItem(bench.state);
    if (gate?.type !== 'gate') throw new Error('There is no gate.');
    expect(gateStanding(bench.state, gate)).toEqual({
      passes: false,
      sentence: 'Range over five readings: 0.12 K; the procedure wants at most 0.05 K.',
    });
    expect(bench.try({ ...gate, type: 'gate-passed', passes: true })).toContain('changed');
    expect(
      bench.try({
        type: 'gate-passed',
        set: gate.set,
        series: 'stability',
        each: 'low',
        point: 'p1',
        id: 'spread',
        passes: false,
      }),
    ).toContain('Look for the cause');
    // Ruled out: the set is left as it is, and a new one begins.
    bench.do({ type: 'ruling-out', set: 'as-found', id: 'settled', note: 'Not settled' });
    expect(nextItem(bench.state)).toMatchObject({ type: 'begin', set: 'as-found-2' });
    bench.playTo('gate').do({
      type: 'gate-passed',
      set: 'as-found-2',
      series: 'stability',
      each: 'low',
      point: 'p1',
      id: 'spread',
      passes: false,
      reason: 'Door was open',
    });
    expect(nextItem(bench.state)).toMatchObject({ type: 'condition', series: 'error', each: 'low' });
    bench.shown.reading = (state, slot) => shows['thermometer-in-bath']!(state, slot, 0);
    bench.playTo('end');
    const certificate = certificateOf(bench.state, { name: 'Room', address: '' });
    expect(certificate.remarks.join(' ')).toContain('was not met; gone on because: Door was open');
    // That it was not settled was ours: what was read after it stands as found.
    expect(certificate.asFound.incomplete).toBeNull();
    expect(certificate.remarks.join(' ')).toContain('as found 2 stands');
  });
});

describe('a wait for something to settle', () => {
  it('says how steady it is, and may be ended without a reason then', () => {
    const bench = new TestBench(setups['thermometer-in-bath']!());
    const isSettling = () => (nextItem(bench.state) as { id?: string }).id === 'settle';
    while (!isSettling()) bench.do(plainAct(bench.state, bench.shown, bench.at)!);
    const item = nextItem(bench.state) as { set: string; series: string; each: string; point: string };
    const place = { set: item.set, series: item.series, each: item.each, point: item.point, repeat: 1, id: 'settle' };
    expect(sentenceOf(bench.state, nextItem(bench.state), bench.at)).toBe(
      'Set the bath to 10 °C and leave it until it is steady.',
    );
    bench.do({ type: 'wait-begun', ...place });
    for (const text of ['9.8', '9.99', '10.001', '10.002', '10.001']) bench.wait(2.2).do({ type: 'watched', ...place, text });
    expect(bench.try({ type: 'watched', ...place, text: 'warm' })).toContain('not a number');
    // Within 0.02 K since 9.99, 6.6 minutes ago: five were wanted.
    expect(bench.try({ type: 'wait-ended', ...place })).toBeNull();
  });
});

describe('slots', () => {
  it('of every shape are asked for in the plan once', () => {
    for (const family of Object.keys(setups)) {
      const { plan, index } = new TestBench(setups[family]!()).state;
      const keys = plan.flatMap((i) => (i.type === 'reading' ? [JSON.stringify(slotOf(i))] : []));
      expect(new Set(keys).size).toBe(keys.length);
      expect(index.size).toBe(plan.length);
    }
  });
});

describe('what is read again as left', () => {
  it('brings the gate that it stands behind: the bath is set, settled and judged once more', () => {
    const bench = played('thermometer-in-bath');
    const left = bench.state.sets.find((s) => s.id.startsWith('as-left'))!.id;
    const items = bench.state.plan.filter((i) => i.set === left);
    expect(items.filter((i) => i.type === 'step' && i.id === 'settle')).toHaveLength(3);
    expect(items.filter((i) => i.type === 'gate')).toHaveLength(3);
    expect(items.filter((i) => i.type === 'reading' && i.series === 'stability')).toHaveLength(15);
  });
});
