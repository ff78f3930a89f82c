import { describe, expect, it } from 'vitest';
import { planDay } from './day';
import { dayQuestion, daysOf, isLate, timeOfMinute, workingDays, type DayBoard, type DayWish, type DayWork } from './day-board';
import { faultsOf } from './fixtures/draw-week';

const step = (minutes: number, isWait = false, uses: string[] = []) => ({ title: 'Step', minutes, isWait, uses });
const work = (id: string, more: Partial<DayWork> = {}): DayWork => ({
  id,
  address: `/instruments/${id}`,
  identification: id.toUpperCase(),
  owner: 'Shop',
  due: null,
  isOnBench: false,
  steps: [step(20)],
  cautions: [],
  ...more,
});
/** A Wednesday, at ten. */
const board = (...all: DayWork[]): DayBoard => ({ today: '2026-12-02', minute: 600, work: all, unplanned: [], isMore: false });
const wish: DayWish = { from: 480, to: 990, days: 1, people: 1, notBefore: {}, leftOut: [] };
const planned = (b: DayBoard, w: DayWish) => {
  const question = dayQuestion(b, w);
  const plan = planDay(question);
  expect(faultsOf(question, plan)).toEqual([]);
  return plan;
};

describe('working days', () => {
  it('leave out weekends, and begin on a Monday where today is a Saturday', () => {
    expect(workingDays('2026-12-03', 3)).toEqual(['2026-12-03', '2026-12-04', '2026-12-07']);
    expect(workingDays('2026-12-05', 2)).toEqual(['2026-12-07', '2026-12-08']);
  });
  it('a minute of a later day is a time of that day', () =>
    expect([timeOfMinute(0), timeOfMinute(1440 + 605), timeOfMinute(989.6)]).toEqual(['00:00', '10:05', '16:30']));
});

describe('the question of a day', () => {
  it('nothing begins before now, nor before it was moved to', () => {
    const { entries } = planned(board(work('a'), work('b')), { ...wish, notBefore: { b: 840 } });
    expect(entries.map((e) => [e.job, e.from])).toEqual([
      ['a', 600],
      ['b', 840],
    ]);
  });
  it('on a Saturday the Monday begins with its hours', () => {
    const saturday = { ...board(work('a')), today: '2026-12-05' };
    expect(planned(saturday, wish).entries[0]!.from).toBe(480);
  });
  it('after its hours a day is not planned any more', () => {
    const late = { ...board(work('a', { due: '2026-12-03' })), minute: 990 };
    expect(dayQuestion(late, { ...wish, days: 2 }).jobs).toMatchObject([{ due: 0, notBefore: 0 }]);
    expect(daysOf(late, { ...wish, days: 2 })).toEqual(['2026-12-03', '2026-12-04']);
    expect(daysOf({ ...late, minute: 989 }, wish)).toEqual(['2026-12-02']);
  });
  it('a wait that runs goes on over the night: by the morning so much less of it is left', () => {
    const steps = [{ ...step(900, true), isRunning: true as const }, step(10)];
    const first = (b: DayBoard) => dayQuestion(b, wish).jobs[0]!.steps[0];
    expect(first(board(work('a', { steps })))).toMatchObject({ wait: 900 });
    // From half past four to midnight 450 minutes have gone.
    const late = { ...board(work('a', { steps })), minute: 990 };
    expect(first(late)).toMatchObject({ wait: 450 });
    expect(planDay(dayQuestion(late, wish)).entries.map((e) => [e.from, e.to])).toEqual([
      [0, 450],
      [480, 490],
    ]);
    expect(first({ ...late, today: '2026-12-04' })).toMatchObject({ wait: 0 });
  });
  it('two with one standard are read one after the other, their soaks beside each other', () => {
    const steps = [step(10), step(60, true), step(30, false, ['PRT-3'])];
    const { entries } = planned(board(work('a', { steps }), work('b', { steps })), wish);
    const reads = entries.filter((e) => e.step === 2).map((e) => [e.from, e.to]);
    expect(reads[1]![0]).toBeGreaterThanOrEqual(reads[0]![1]!);
    expect(Math.max(...entries.map((e) => e.to))).toBe(600 + 10 + 60 + 30 + 30);
  });
  it('what lies on the bench comes before what is overdue, and that before the rest, where there is no room for all', () => {
    const long = { steps: [step(200)] };
    const all = board(
      work('soon', { due: '2026-12-02', ...long }),
      work('overdue', { due: '2026-11-02', ...long }),
      work('begun', { isOnBench: true, ...long }),
    );
    expect(planned(all, { ...wish, to: 820 }).finished).toEqual(['begun']);
    expect(new Set(planned(all, wish).finished)).toEqual(new Set(['begun']));
    expect(new Set(planned(all, { ...wish, to: 1010 }).finished)).toEqual(new Set(['begun', 'overdue']));
  });
  it('is wanted by its day; after the last one it is wanted by the last, over a weekend by the day before', () => {
    const dues = ['2026-12-03', '2026-12-05', '2027-01-09', '2026-11-30'];
    const { jobs } = dayQuestion(board(...dues.map((due) => work(due, { due }))), { ...wish, days: 5 });
    expect(jobs.map((j) => j.due)).toEqual([1, 2, 4, 0]);
  });
  it('leaves out what is to be left out, and what has no steps', () => {
    const { jobs, resources } = dayQuestion(
      board(work('a', { steps: [step(5, false, ['X'])] }), work('b'), work('c', { steps: [] })),
      { ...wish, leftOut: ['a'] },
    );
    expect(jobs.map((j) => j.id)).toEqual(['b']);
    expect(resources).toEqual({});
  });
  it('late is what misses a day that is still to come', () => {
    const late = (due: string | null, after = true) => isLate({ due }, '2026-12-02', after);
    expect([late('2026-12-03'), late('2026-12-02'), late('2026-12-01'), late(null), late('2026-12-03', false)]).toEqual([
      true,
      true,
      false,
      false,
      false,
    ]);
  });
});
