import { describe, expect, it } from 'vitest';
import { nextItem } from '../../core/run/next-step';
import { evaluationIfAny } from '../../core/run/run-results';
import { judgedPoints } from '../../core/run/judged-points';
import { slotOf } from '../../core/state/place-keys';
import type { RunState } from '../../core/state/run-state';
import { debrief } from './debrief';
import { drawn, procedureOf, Worked } from './fixtures/played';
import { remedyOf } from './hidden-faults';
import { displayAt, drawnFaults, shownAt, truthAt } from './practice';
import { practiceCases } from './practice-cases';

const asFound = 'as-found';
const errorsIn = (state: RunState, set: string, series = 'error'): number[] =>
  judgedPoints(
    state,
    set,
    state.procedure.series.find((s) => s.id === series)!,
    ['E'],
  ).map((p) => p.value);
const begun = (id: string, seed: number): Worked => {
  const { practice, first } = drawn(id, seed);
  return new Worked(practice, first);
};

describe('cases to practise on', () => {
  it('are at least 24 of every discipline and degree, with two faults at once, with none, and with faults of either side', () => {
    expect(practiceCases.length).toBeGreaterThanOrEqual(24);
    expect(new Set(practiceCases.map((c) => c.id)).size).toBe(practiceCases.length);
    expect(new Set(practiceCases.map((c) => c.discipline)).size).toBe(7);
    for (const level of ['easy', 'harder', 'nasty']) expect(practiceCases.some((c) => c.level === level)).toBe(true);
    expect(practiceCases.some((c) => c.faults.length === 2)).toBe(true);
    expect(practiceCases.filter((c) => c.faults.length === 0).length).toBeGreaterThanOrEqual(2);
  });

  it('have what is around the instrument behind a cause that their procedure looks for', () => {
    for (const of of practiceCases) {
      const procedure = procedureOf(of.procedure);
      for (const seed of [1, 2, 3])
        drawnFaults(of, procedure, seed).forEach((fault, i) => {
          expect(
            procedure.series.some((s) => s.id === fault.series),
            of.id,
          ).toBe(true);
          expect(fault.cause !== null, of.id).toBe(!of.faults[i]!.isOwn);
        });
    }
  });

  it('are drawn alike from one seed, and otherwise from another', () => {
    const of = practiceCases.find((c) => c.id === 'wall-gauge')!;
    const procedure = procedureOf(of.procedure);
    expect(drawnFaults(of, procedure, 7)).toEqual(drawnFaults(of, procedure, 7));
    const sizes = new Set(Array.from({ length: 20 }, (_, seed) => drawnFaults(of, procedure, seed)[0]!.size));
    expect(sizes.size).toBe(20);
    const [first, second] = drawnFaults(of, procedure, 7);
    expect(first!.cause).toBeNull();
    expect(second!.cause).toBe('couplant');
  });
});

describe('the bench that is simulated', () => {
  it('shows the same reading to whoever looks twice', () => {
    const run = begun('dropped-micrometer', 4);
    while (nextItem(run.state)?.type !== 'reading') run.record(run.next()!);
    const now = run.events.at(-1)!.at;
    const [line] = displayAt(run.practice, run.state, now);
    expect(line?.unit).toBe('mm');
    expect(displayAt(run.practice, run.state, now)).toEqual([line]);
    const item = nextItem(run.state)!;
    if (item.type !== 'reading') throw new Error('A reading comes next.');
    expect(shownAt(run.practice, run.state, now).reading(run.state, slotOf(item))).toBe(line!.text);
  });

  it('has an instrument that fell off by the same everywhere; what is entered is what moves it', () => {
    const run = begun('dropped-micrometer', 4).toDecision();
    const found = errorsIn(run.state, asFound);
    expect(evaluationIfAny(run.state, asFound).verdict).toBe('fail');
    // Half of what is proposed takes half of it away.
    run.decide('zero');
    const proposal = run.next()!;
    if (proposal.type !== 'adjusted') throw new Error('The adjustment comes next.');
    const shift = proposal.stored['shift']!;
    const half = (Number(shift.after) / 2).toFixed(4);
    run.record({ ...proposal, stored: { shift: { before: shift.before!, after: half, readBack: half } } }).toDecision();
    const left = errorsIn(run.state, run.state.sets.at(-1)!.id);
    const mean = (xs: number[]) => xs.reduce((a, b) => a + b, 0) / xs.length;
    expect(mean(left) / mean(found)).toBeCloseTo(0.5, 1);
  });

  it('has dirt at one point that goes when it is looked for, and no sooner', () => {
    const run = begun('borrowed-blocks', 2).toDecision();
    const worst = (set: string) => Math.max(...errorsIn(run.state, set).map(Math.abs));
    const [fault] = run.practice.faults;
    const other = run.state.procedure.ruleOut.find((r) => r.id !== fault!.cause && r.id !== 'unit')!;
    expect(worst(asFound)).toBeGreaterThan(0.004);
    run.record({ type: 'ruling-out', set: asFound, id: other.id, note: 'Perhaps' }).toDecision();
    expect(worst(run.state.sets.at(-1)!.id)).toBeGreaterThan(0.004);
    run.record({ type: 'ruling-out', set: run.state.sets.at(-1)!.id, id: fault!.cause!, note: 'It is this' }).toDecision();
    expect(worst(run.state.sets.at(-1)!.id)).toBeLessThan(0.003);
  });

  it('knows the instrument from what stands around it', () => {
    const run = begun('borrowed-blocks', 2).toDecision();
    const now = run.events.at(-1)!.at;
    const slot = [...run.state.live.values()]
      .map((r) => r.slot)
      .find((s) => Math.abs(truthAt(run.practice, run.state, now).trueValue(run.state, s, 'E')) > 0.004)!;
    expect(Math.abs(truthAt(run.practice, run.state, now, true).trueValue(run.state, slot, 'E'))).toBeLessThan(0.004);
  });
});

describe('how a practice went', () => {
  it('is solved where dirt was found and said, and nothing adjusted', async () => {
    const run = begun('borrowed-blocks', 2).toDecision();
    const { cause } = run.practice.faults[0]!;
    run.record({ type: 'ruling-out', set: asFound, id: cause!, note: 'It is this' }).toDecision();
    run.decide(null);
    const told = await debrief(run.practice, run.events, ['odd-point']);
    expect(told).toMatchObject({ isSolved: true, mistakes: [], isLeftInside: true });
    expect(told.faults).toMatchObject([{ kind: 'odd-point', remedy: 'look', isFound: true, isNamed: true }]);
    expect(told.spent.readings).toBe(60);
    expect(told.told!.after).toBeLessThan(told.told!.of);
    expect(told.expert.decisions.at(-1)).toBe('Left it as it is');
    expect(told.expert.readings).toBeGreaterThan(30);
  });

  it('is not where it was adjusted over the dirt, or something else was said', async () => {
    const run = begun('borrowed-blocks', 2).toDecision().decide('zero').toDecision();
    const told = await debrief(run.practice, run.events, ['offset']);
    expect(told.isSolved).toBe(false);
    expect(told.mistakes.join(' ')).toMatch(/adjusted while something else was wrong.*Nobody looked.*Not said.*Said, and not so/);
  });

  it('counts adjusting something sound against the advice as a mistake, and saying that nothing was wrong as right', async () => {
    const run = begun('calliper-kept-well', 1).toDecision();
    const kept = await debrief(run.practice, run.events, []);
    expect(kept).toMatchObject({ isSolved: true, faults: [], told: null });
    run.decide('zero').toDecision();
    const moved = await debrief(run.practice, run.events, []);
    expect(moved.mistakes).toEqual(['It was adjusted against the advice, and there was nothing that an adjustment takes away.']);
  });

  it('wants what nothing mends to be left outside', async () => {
    const run = begun('worn-screw', 2).toDecision();
    expect(remedyOf(run.state.procedure, run.practice.faults[0]!)).toBe('none');
    run.decide(null);
    expect(await debrief(run.practice, run.events, ['curvature'])).toMatchObject({ isSolved: true, isLeftInside: false });
  });
});
