import { beforeAll, describe, expect, it } from 'vitest';
import { planDay } from '../core/day/day';
import { dayQuestion, type DayBoard } from '../core/day/day-board';
import { faultsOf } from '../core/day/fixtures/draw-week';
import { remainingWork } from '../core/run/remaining-work';
import { eventsOfRun, latestFinishedRuns } from '../store/run-log';
import { runState } from '../core/acts/fold';
import type { Database } from '../store/database';
import { instrumentEntrySchema } from '../core/register/entry-schemas';
import { dayBoard } from './day-service';
import { addInstrument } from './register-service';
import { ownCopy } from './fixtures/own-copy';

let db: Database;
let board: DayBoard;
ownCopy((opened) => (db = opened));
beforeAll(async () => void (board = await dayBoard()));

describe('what a day could be filled with', () => {
  it('what lies on the bench is there once, several of one set-up together', () => {
    const onBench = board.work.filter((w) => w.isOnBench);
    expect(onBench.length).toBeGreaterThan(10);
    expect(new Set(board.work.map((w) => w.id)).size).toBe(board.work.length);
    expect(onBench.filter((w) => w.address.startsWith('/set-ups/')).every((w) => w.identification.includes(' '))).toBe(true);
    expect(onBench.some((w) => w.address.startsWith('/set-ups/'))).toBe(true);
    const busy = new Set(onBench.flatMap((w) => w.identification.split(' ')));
    expect(board.work.filter((w) => !w.isOnBench && busy.has(w.identification))).toEqual([]);
  });
  it('one that is due goes as its last calibration was begun', async () => {
    const due = board.work.find((w) => !w.isOnBench)!;
    const run = (await latestFinishedRuns(db, [due.id])).get(due.id)!;
    const [first] = await eventsOfRun(db, run.id);
    expect(due.steps).toEqual(remainingWork(runState([first!]), first!.at));
    expect(due.steps.length).toBeGreaterThan(0);
  });
  it('one that was never calibrated here is named, not guessed', async () => {
    const entry = { identification: 'ZZ-1', kind: 'outside-micrometer', owner: 'Shop', unit: 'mm', lower: 0, upper: 25 };
    const more = { usedLower: 0, usedUpper: 25, resolution: 0.001, adjustmentAllowed: true, state: 'in-use', nextDue: null };
    const id = await addInstrument(instrumentEntrySchema.parse({ ...entry, ...more, intervalMonths: null }));
    const { work, unplanned } = await dayBoard();
    expect(unplanned.find((u) => u.id === id)?.why).toMatch(/never calibrated here/);
    expect(work.some((w) => w.id === id)).toBe(false);
  });
  it('a standard that has run out since is said', async () => {
    const later = await dayBoard(new Date(Date.now() + 2 * 365 * 86_400_000).toISOString());
    const cautions = later.work.flatMap((w) => w.cautions);
    expect(cautions.length).toBeGreaterThan(0);
    expect(cautions[0]).toMatch(/, with which it was calibrated last, ran out on \d{4}-\d\d-\d\d/);
    expect(later.work.filter((w) => w.isOnBench).flatMap((w) => w.cautions)).toEqual([]);
  });
  it('becomes days without an overlap: hands, hours, standards', () => {
    const early = { ...board, minute: 0 };
    const question = dayQuestion(early, { from: 480, to: 990, days: 3, people: 2, notBefore: {}, leftOut: [] });
    const plan = planDay(question);
    expect(faultsOf(question, plan)).toEqual([]);
    expect(plan.finished.length).toBeGreaterThan(20);
    expect(Object.keys(question.resources).length).toBeGreaterThan(5);
  });
});
