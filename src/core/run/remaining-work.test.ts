import { describe, expect, it } from 'vitest';
import { bareCase } from '../state/run-case';
import { planRun } from '../plan/run-plan';
import { setups, TestBench } from './fixtures/bench';
import { waitingNow } from './next-step';
import { remainingWork } from './remaining-work';

const sum = (steps: { minutes: number; isWait: boolean }[], isWait: boolean) =>
  steps.filter((s) => s.isWait === isWait).reduce((n, s) => n + s.minutes, 0);
const now = '2026-11-24T08:00:00.000Z';

describe('what is left of a run', () => {
  it('is at first what the plan of its set takes, to the minute a step', () => {
    const { state } = TestBench.micrometer({ identification: 'M-1' });
    const steps = remainingWork(state, now);
    const plan = planRun(state.procedure, bareCase(state, 'as-found', '2026-11-24'), ['as-found']);
    expect(sum(steps, true)).toBe(plan.waitingMinutes);
    expect(sum(steps, false)).toBeGreaterThanOrEqual(plan.handsOnMinutes);
    expect(sum(steps, false)).toBeLessThan(plan.handsOnMinutes + steps.length);
    // Blocks are held while they are read, not while the micrometer comes to the room's temperature.
    const [soak, last] = [steps.find((s) => s.isWait)!, steps.at(-1)!];
    expect(soak.uses).toEqual([]);
    expect(last.uses).toEqual(state.standards['blocks']!.map((s) => s.document.identification));
  });
  it('becomes less with what is done, and nothing is left once all waits for the record', () => {
    const bench = TestBench.micrometer({ identification: 'M-1' });
    const begun = remainingWork(bench.state, now);
    bench.readAll(() => 0);
    expect(sum(remainingWork(bench.state, now), false)).toBeLessThan(sum(begun, false));
    expect(remainingWork(bench.playTo('end').state, now)).toEqual([]);
  });
  it('of a wait that runs takes what is left of it', () => {
    // The soak is begun, and half an hour long.
    const bench = new TestBench(setups['thermometer-in-bath']!());
    const isWaiting = () => waitingNow(bench.state, now)?.endsAt ?? null;
    while (isWaiting() === null) bench.playNext();
    const ends = Date.parse(isWaiting()!);
    const left = (before: number) => remainingWork(bench.state, new Date(ends - before * 60_000).toISOString())[0]!;
    expect([left(30), left(12.5)].map((s) => [s.isWait, s.minutes])).toEqual([
      [true, 30],
      [true, 13],
    ]);
    expect(left(30).isRunning).toBe(true);
    expect(left(-1).isWait).toBe(false);
  });
  it('a wait whose length is told by what is read first is named, and not guessed', () => {
    const { state } = TestBench.micrometer({ identification: 'M-1' });
    const steps = state.procedure.steps.map((s) => (s.kind === 'wait' ? { ...s, minutes: { is: 'series.error.E' } } : s));
    const [wait] = remainingWork({ ...state, procedure: { ...state.procedure, steps } }, now).filter((s) => s.isWait);
    expect(wait).toMatchObject({ minutes: 0, isUnknown: true });
  });
  it('has no more than sixty steps, though a reading stands beside a wait a hundred times', () => {
    const { state } = TestBench.micrometer({ identification: 'M-1' });
    const reading = state.plan.find((i) => i.type === 'reading')!;
    const wait = state.plan.find(
      (i) => i.type === 'step' && state.procedure.steps.some((s) => s.id === i.id && s.kind === 'wait'),
    )!;
    const plan = Array.from({ length: 200 }, (_, i) => (i % 2 === 0 ? reading : wait));
    const steps = remainingWork({ ...state, plan, firstOpen: 0, done: new Map(), live: new Map() }, now);
    expect(steps.length).toBeLessThanOrEqual(60);
    expect(sum(steps, false) + sum(steps, true)).toBeGreaterThan(100 * 30);
  });
  it('of several in one set-up: what is shared once, the rest for each', () => {
    const { state } = new TestBench(setups['thermometer-in-bath']!());
    const [one, three] = [remainingWork(state, now), remainingWork(state, now, 3)];
    expect(sum(three, true)).toBe(sum(one, true));
    expect(sum(three, false)).toBeGreaterThan(sum(one, false));
    expect(sum(three, false)).toBeLessThan(3 * sum(one, false));
  });
});
