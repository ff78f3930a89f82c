import { actSchema, type NewAct } from '../acts/registry';
import type { InstrumentSnapshot } from '../plan/snapshots';
import { withPlan } from '../acts/plan';
import { admit } from '../acts/admit';
import { spreadAct } from '../acts/spread';
import { estimateOf } from '../evaluate/fixtures/documents';
import { describe, expect, it } from 'vitest';
import { plainAct } from '../../bench/technician';
import { setups, TestBench, type Setup } from '../run/fixtures/bench';
import { errorOf, reads as observed, setup as made } from '../run/fixtures/made';
import { nextItem, waitMinutes } from '../run/next-step';
import { evaluationIn, verdictAsFound, verdictAsLeft } from '../run/run-results';
import { placedPoint, type RunState, type Slot } from '../state/run-state';
import { slotOf } from '../state/place-keys';
import { startAct } from '../run/start-run';
import { itemNamed, nextTurn, pointKey, type Turn } from './turn';

/** What an instrument is off by; the bath drifts by a hundredth of a degree with each reading of anything. */
type Off = (state: RunState) => number;

/** Several instruments on one bench: each has its own log; acts go where the set-up says. */
class TestSetUp {
  readonly benches: TestBench[];
  /** What was read, in order: the letter of the instrument, or S for what was read once for all. */
  readonly order: string[] = [];
  private readings = 0;

  constructor(setup: () => Setup, members: Partial<InstrumentSnapshot>[], offs: readonly Off[], drift = 0) {
    this.benches = members.map((more, i) => {
      const own = setup();
      const instrument = { ...own.instrument, id: `t-${i}`, identification: `T-${i}`, ...more };
      const bench = new TestBench({ ...own, instrument, setUp: { id: 'bath', place: i + 1, of: members.length } } as Setup);
      bench.shown.reading = (state, slot) => {
        const point = placedPoint(state, slot)!.nominal!;
        const value = point + drift * this.readings;
        return slot.observation.startsWith('S')
          ? value.toFixed(3)
          : (value + offs[i]!(state)).toFixed(state.instrument.resolution === 0.001 ? 3 : 2);
      };
      return bench;
    });
  }

  get states(): RunState[] {
    return this.benches.map((b) => b.state);
  }
  get turn(): Turn | null {
    return nextTurn(this.states);
  }

  /** An act made for one, in every log that it concerns; the members that it reached. */
  act(turn: Turn | null, from: number, entry: NewAct): number[] {
    const spread = spreadAct(this.states, turn, from, actSchema.parse(entry));
    for (const { member, act } of spread) {
      const { state, person, at } = this.benches[member]!;
      expect(admit(state, withPlan(state, act), person, at)).toBeNull();
    }
    for (const { member, act } of spread) this.benches[member]!.do(act);
    return spread.map((s) => s.member);
  }

  /** One thing done as the set-up asks. */
  step(): boolean {
    const { turn } = this;
    if (!turn) return false;
    const from = turn.members[0]!;
    const bench = this.benches[from]!;
    const act = plainAct(bench.state, bench.shown, bench.at)!;
    if (act.type === 'wait-ended') {
      const minutes = waitMinutes(bench.state);
      for (const b of this.benches) b.wait(minutes);
    }
    if (act.type === 'observed') {
      this.order.push(turn.isShared ? 'S' : 'abcdef'[from]!);
      this.readings++;
    }
    this.act(turn, from, act);
    // Nobody's clock stands still while somebody else is read.
    const latest = Math.max(...this.benches.map((b) => b.now));
    for (const b of this.benches) b.now = latest;
    return true;
  }

  play(until: (states: RunState[]) => boolean = () => false): this {
    while (!until(this.states) && this.step());
    return this;
  }
}

const bath = setups['thermometer-in-bath']!;
const good: Off = () => 0.02;
const offUntilSet: Off = (state) => (state.adjusted.length ? 0 : 0.3);
const three = [{}, {}, {}];
const reads = (state: RunState) => nextItem(state)?.type === 'reading';
const nextSlot = (state: RunState): Slot => {
  const item = nextItem(state)!;
  if (item.type !== 'reading') throw new Error('Nothing is read now.');
  return slotOf(item);
};

describe('three thermometers in one bath', () => {
  const setUp = new TestSetUp(bath, three, [good, offUntilSet, good], 0.002).play();

  it('are each brought to their own end with their own log, results and adjustment', () => {
    for (const { completed } of setUp.states) expect(completed).not.toBeNull();
    expect(setUp.states.map((s) => s.adjusted.length)).toEqual([0, 1, 0]);
    expect(setUp.states.map(verdictAsFound)).toEqual(['pass', 'fail', 'pass']);
    expect(setUp.states.map(verdictAsLeft)).toEqual(['pass', 'pass', 'pass']);
    expect(setUp.states[1]!.sets.map((s) => s.id)).toEqual(['as-found', 'as-left']);
    expect(setUp.states[0]!.sets.map((s) => s.id)).toEqual(['as-found']);
  });
  it('are read in order and back again, between two readings of the reference', () =>
    expect(setUp.order.slice(5, 21).join('')).toBe('SabccbaS'.repeat(2)));
  it('have the reference and the stability of the bath read once for all', () => {
    const references = setUp.states.map((s) =>
      s.readings.filter((r) => r.slot.set === 'as-found' && r.slot.observation.startsWith('S')).map((r) => r.text),
    );
    expect(references[0]).toHaveLength(3 * (5 + 6));
    expect(references[1]).toEqual(references[0]);
    expect(setUp.order.filter((o) => o === 'S')).toHaveLength(2 * 3 * (5 + 6));
  });
  it('what is adjusted is read again alone, the bath judged anew before', () => {
    const left = setUp.order.slice(3 * (5 + 3 * 8));
    expect(left.slice(0, 9)).toEqual(['S', 'S', 'S', 'S', 'S', 'S', 'b', 'b', 'S']);
    expect(left).toHaveLength(3 * (5 + 3 * 4));
  });
  it('wait once, and answer once what is asked about the set-up; each says its own number', () => {
    const ends = setUp.states.map((s) => [...s.waits.values()].map((w) => w.ended!.at));
    expect(ends[2]).toEqual(ends[0]);
    const tie = setUp.states.map((s) => s.steps.find((x) => x.item.id === 'tie')!.at);
    expect(new Set(tie).size).toBe(1);
    const named = setUp.states.map((s) => s.steps.find((x) => x.item.id === 'number')!);
    expect(new Set(named.map((n) => n.at)).size).toBe(3);
    expect(named.map((n) => n.value)).toEqual(['T-0', 'T-1', 'T-2']);
  });
  it('a drift that goes on steadily falls out of every mean, whatever the place in the row', () => {
    const errorsAt = (drift: number) => {
      const fine = three.map(() => ({ resolution: 0.001 }));
      const { states } = new TestSetUp(bath, fine, [good, good, good], drift).play((all) =>
        all.every((s) => nextItem(s)?.type === 'judge'),
      );
      return states.flatMap((s) =>
        evaluationIn(s, 'as-found')
          .series.filter((x) => x.id === 'error')
          .flatMap((x) => x.points.map((p) => estimateOf(p.results['E']))),
      );
    };
    const still = errorsAt(0);
    const drifting = errorsAt(0.002);
    expect(still).toHaveLength(9);
    // Three readings of each in one direction only would be off by 0.002 °C to 0.006 °C.
    drifting.forEach((e, i) => expect(Math.abs(e - still[i]!)).toBeLessThan(0.0005));
  });
});

it('a document that reads the reference before the instrument is turned round in every second repeat', () => {
  const setup = bath();
  const series = setup.procedure.series.map((s) =>
    s.id === 'error' ? { ...s, observe: s.observe.filter((o) => o.id === 'S1' || o.id === 'T1'), repeats: 2 } : s,
  );
  const procedure = { ...setup.procedure, series };
  const { plan } = startAct({ ...setup, procedure, timeZone: 'UTC', setUp: { id: 'bath', place: 1, of: 2 } }, '2026-11-24');
  const read = plan.items.filter((i) => i.type === 'reading' && i.series === 'error' && i.each === 'low');
  expect(read.map((i) => `${'id' in i ? i.id : ''} ${'repeat' in i ? i.repeat : ''}`)).toEqual(['S1 1', 'T1 1', 'T1 2', 'S1 2']);
});

it('instruments with other ranges meet at the points that they have in common, and wait for each other at none', () => {
  const setUp = new TestSetUp(setups['pressure-transmitter']!, [{}, { usedUpper: 300 }], [good, good]);
  const met: Record<string, string[]> = {};
  for (const b of setUp.benches)
    b.shown.reading = (state, slot) => {
      const nominal = placedPoint(state, slot)!.nominal!;
      if (slot.observation === 'P') return nominal.toFixed(2);
      return slot.observation === 'I' ? (4 + (16 * nominal) / state.instrument.usedUpper).toFixed(3) : nominal.toFixed(1);
    };
  for (;;) {
    const { turn } = setUp;
    if (!turn) break;
    const state = setUp.states[turn.members[0]!]!;
    const item = nextItem(state)!;
    if (item.type === 'reading' && item.id === 'P') met[`${pointKey(state, item)} ${item.sweep}`] = turn.members.map(String);
    setUp.step();
  }
  expect(Object.entries(met).map(([k, m]) => `${k} ${m.join('')}`)).toEqual([
    'n0 up 01',
    'n75 up 1',
    'n150 up 01',
    'n225 up 1',
    'n300 up 01',
    'n450 up 0',
    'n600 up 0',
    'n600 down 0',
    'n450 down 0',
    'n300 down 01',
    'n225 down 1',
    'n150 down 01',
    'n75 down 1',
    'n0 down 01',
  ]);
  for (const { completed } of setUp.states) expect(completed).not.toBeNull();
});

describe('what happens on the way', () => {
  it('an instrument is taken out, and the others go on; it can be brought to its end alone', () => {
    const setUp = new TestSetUp(bath, three, [good, good, good]).play((states) => states[0]!.live.size >= 20);
    setUp.act(null, 1, { type: 'left-set-up', reason: 'Its cable is broken' });
    expect(setUp.states.map((s) => s.setUp!.left?.reason ?? null)).toEqual([null, 'Its cable is broken', null]);
    const before = setUp.states[1]!.sequence;
    setUp.play();
    expect(setUp.states[1]!.sequence).toBe(before);
    for (const i of [0, 2]) expect(setUp.states[i]!.completed).not.toBeNull();
    expect(setUp.benches[1]!.try({ type: 'left-set-up', reason: 'Once more' })).toBe('This run stands alone already.');
    setUp.benches[1]!.playTo('end');
    expect(setUp.states[1]!.completed).not.toBeNull();
    expect(evaluationIn(setUp.states[1]!, 'as-found').complete).toBe(true);
  });
  it('one that is broken off holds nobody up either', () => {
    const setUp = new TestSetUp(bath, three, [good, good, good]).play((states) => states.every(reads));
    expect(setUp.act(null, 0, { type: 'run-broken-off', reason: 'Damaged' })).toEqual([0]);
    setUp.play();
    expect(setUp.states.map((s) => s.completed !== null)).toEqual([false, true, true]);
  });
  it('a reading of the reference that is struck out goes in every log, and is taken once more for all', () => {
    const setUp = new TestSetUp(bath, three, [good, good, good]).play((states) => states[0]!.live.size >= 3);
    const last = setUp.states[0]!.readings.at(-1)!;
    expect(setUp.act(setUp.turn, 0, { type: 'struck', sequence: last.sequence, reason: 'Mistyped' })).toEqual([0, 1, 2]);
    expect(setUp.states.map((s) => s.readings.at(-1)!.struck?.reason)).toEqual(['Mistyped', 'Mistyped', 'Mistyped']);
    expect(setUp.turn).toMatchObject({ isShared: true, members: [0, 1, 2] });
    expect(nextSlot(setUp.states[2]!)).toMatchObject({ observation: last.slot.observation, repeat: last.slot.repeat });
  });
  it('a reading of one instrument that is struck out is its own, and comes again before anything else', () => {
    const setUp = new TestSetUp(bath, three, [good, good, good]).play((states) => states[2]!.live.size >= 7);
    const own = setUp.states[1]!.readings.findLast((r) => r.slot.observation === 'T1')!;
    expect(setUp.act(setUp.turn, 1, { type: 'struck', sequence: own.sequence, reason: 'Disturbed' })).toEqual([1]);
    expect(setUp.turn).toMatchObject({ isShared: false, members: [1] });
    expect(nextSlot(setUp.states[1]!)).toEqual(own.slot);
  });
  it('a point is skipped for all where the reference is read, and for one where that one is', () => {
    const setUp = new TestSetUp(bath, three, [good, good, good]).play(
      (states) => reads(states[0]!) && nextSlot(states[0]!).series === 'error',
    );
    const { series, each, point, set } = nextSlot(setUp.states[0]!);
    const skip = { type: 'skipped', set, series, ...(each ? { each } : {}), point, reason: 'Not wanted' } as const;
    const shared = setUp.turn;
    expect(spreadAct(setUp.states, shared, 0, actSchema.parse(skip)).map((s) => s.member)).toEqual([0, 1, 2]);
    setUp.step();
    expect(setUp.turn!.isShared).toBe(false);
    expect(spreadAct(setUp.states, setUp.turn, 0, actSchema.parse(skip)).map((s) => s.member)).toEqual([0]);
  });
  it('an answer may be given for some only: the others are asked again', () => {
    const setUp = new TestSetUp(bath, three, [good, good, good]).play((states) => {
      const items = states.map(nextItem);
      return items.every((item) => item?.type === 'step' && item.id === 'tie');
    });
    const { turn } = setUp;
    const act = actSchema.parse({ type: 'step-done', set: 'as-found', id: 'tie', value: true });
    expect(turn!.members).toEqual([0, 1, 2]);
    const spread = spreadAct(setUp.states, turn, 0, act, [0, 2]);
    expect(spread.map((s) => s.member)).toEqual([0, 2]);
    for (const s of spread) setUp.benches[s.member]!.do(s.act);
    expect(setUp.turn!.members).toEqual([1]);
    expect(itemNamed(setUp.states[1]!, setUp.turn!.key)).toMatchObject({ id: 'tie' });
  });
  it('conditions read again are in force for all', () => {
    const setUp = new TestSetUp(bath, three, [good, good, good]).play((states) => states.every(reads));
    const reached = setUp.act(setUp.turn, 2, { type: 'conditions-recorded', set: 'as-found', values: { air: '21.4' } });
    expect(reached).toEqual([0, 1, 2]);
    for (const s of setUp.states) expect(s.conditions.at(-1)).toMatchObject({ id: 'air', text: '21.4' });
  });
});

it('more instruments than the document allows, or a document for one, are refused', () => {
  const setUp = { id: 'x', place: 1, of: 9 };
  expect(() => startAct({ ...bath(), timeZone: 'UTC', setUp }, '2026-11-24')).toThrow('takes at most 8 instruments');
  expect(() => startAct({ ...setups['balance']!(), timeZone: 'UTC', setUp }, '2026-11-24')).toThrow('one by one');
});

describe('numbers that are keyed in together', () => {
  it('are, for each instrument of a set-up, its own', () => {
    const document = {
      setUp: { most: 2 },
      steps: [
        {
          kind: 'do',
          id: 'hang',
          title: 'Hang',
          instruction: 'Each to its line.',
          show: [{ id: 'line', title: 'Line', unit: 'V', is: 'instrument.usedUpper' }],
        },
      ],
      series: [
        { id: 'main', title: 'Main', points: { unit: 'V', list: [5] }, observe: [observed()], results: [errorOf('R', 0.1)] },
      ],
    };
    const bench = new TestSetUp(() => made(document), [{ usedUpper: 10 }, { usedUpper: 8 }], [() => 0, () => 0]);
    const turn = bench.turn!;
    expect(turn).toMatchObject({ isShared: true, members: [0, 1] });
    bench.act(turn, 0, { type: 'step-done', set: 'as-found', id: 'hang', value: { line: 10 }, shown: { line: '10' } });
    expect(bench.states.map((s) => [s.steps.at(-1)!.value, s.steps.at(-1)!.shown])).toEqual([
      [{ line: 10 }, { line: '10' }],
      [{ line: 8 }, { line: '8' }],
    ]);
  });
});
