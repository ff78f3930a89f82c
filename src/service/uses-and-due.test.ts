import ICAL from 'ical.js';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Database } from '../store/database';
import { countsOf } from '../store/intervals';
import { instrumentById } from '../store/register';
import { dueBoard, dueCalendar, dueLines, moveDue } from './due-service';
import { historyOf } from './history-service';
import { proposalsFor } from './interval-service';
import { today as laboratoryDay } from './laboratory-time';
import { refusalOf } from './fixtures/refusal-of';
import { noteCount, takeBack, takeOut } from './use-service';
import { ownCopy, person } from './fixtures/own-copy';

let db: Database;
let today: string;
ownCopy((opened) => (db = opened));
beforeAll(async () => void (today = await laboratoryDay()));

describe('counters of use', () => {
  it('are noted with their day, and tell the date', async () => {
    const before = (await proposalsFor('hv-22')).all.find((p) => p.school === 'use')!;
    expect(before.date).not.toBeNull();
    await noteCount('hv-22', { day: today, count: 60_000, person });
    const after = (await proposalsFor('hv-22')).chosen;
    expect(after).toMatchObject({ school: 'use', date: today });
    expect(after.reason).toContain('it is due now');
  });
  it('are counted while it is out: taken back with what it was used', async () => {
    const { hours, ...out } = (await historyOf('hv-22')).out!;
    expect(out).toMatchObject({ person: 'Tobias Wrenfield', place: 'Varnish room' });
    expect(hours).toBeCloseTo(5.5, 0);
    expect((await refusalOf(takeOut('hv-22', { place: 'Shop', person }))).message).toContain('Tobias Wrenfield took it');
    const last = (await historyOf('hv-22')).counts.at(-1)!;
    await takeBack('hv-22', { used: 150, person });
    const after = await historyOf('hv-22');
    expect(after.out).toBeNull();
    expect(after.counts.at(-1)).toEqual({ day: today, count: last.count + 150 });
    expect((await refusalOf(takeBack('hv-22', { used: 1, person }))).status).toBe(409);
    // One that was never counted begins at nothing; hours go by the clock.
    const taken = new Date(Date.now() - 2 * 3_600_000);
    await takeOut('qm-0112', { place: '', person }, taken.toISOString());
    expect((await historyOf('qm-0112', new Date(taken.getTime() + 4_500_000).toISOString())).out).toMatchObject({ hours: 1.3 });
    await takeBack('qm-0112', { used: 1.3, person });
    expect((await historyOf('qm-0112')).counts).toEqual([{ day: today, count: 1.3 }]);
    expect((await refusalOf(takeOut('moon', { place: '', person }))).status).toBe(404);
    expect((await refusalOf(takeOut('qm-0112', { place: '', person: 'Nobody' }))).status).toBe(422);
    await expect(db.$client.execute("UPDATE outings SET person = 'Other'")).rejects.toThrow('never changed');
    await expect(db.$client.execute('DELETE FROM outings')).rejects.toThrow('never removed');
  });
  it('are refused for a day to come, an unknown instrument or person', async () => {
    // A counter only rises, unless somebody says that it was set back; then it counts from there.
    const less = { day: today, count: 100, person };
    expect(await refusalOf(noteCount('hv-22', less))).toMatchObject({ status: 409, details: { fallen: true }, path: ['count'] });
    await noteCount('hv-22', { ...less, isSetBack: true });
    expect((await countsOf(db, ['hv-22'])).at(-1)).toMatchObject({ day: today, count: 100 });
    expect((await refusalOf(noteCount('hv-22', { day: '2190-01-01', count: 1, person }))).path).toEqual(['day']);
    expect((await refusalOf(noteCount('moon', { day: today, count: 1, person }))).status).toBe(404);
    expect((await refusalOf(noteCount('hv-22', { day: today, count: 1, person: 'Nobody' }))).status).toBe(422);
  });
});

describe('what comes due', () => {
  const whole = async (parts: AsyncGenerator<string>) => {
    let text = '';
    for await (const part of parts) text += part;
    return text;
  };
  it('is counted by week over a year, of all or of one owner or place', async () => {
    const board = await dueBoard({});
    const inWeeks = board.weeks.reduce((n, w) => n + w.count, 0);
    const late = board.lines.filter((l) => l.days === null || l.days < 0).length;
    expect(inWeeks + late).toBe(board.listed);
    expect(board.lines).toHaveLength(board.listed);
    expect(board.listed + board.later).toBe(118);
    expect(board.overdue).toBe(board.lines.filter((l) => l.days !== null && l.days < 0).length);
    for (const { monday, count } of board.weeks.filter((w) => w.count > 0).slice(0, 5)) {
      const { lines } = await dueLines({ week: monday, after: 0 });
      // What is late is none of this week's.
      expect(lines.filter((l) => l.days! >= 0)).toHaveLength(count);
    }
    const further = await dueLines({ after: 5 });
    expect(further.lines).toEqual(board.lines.slice(5));
    const one = await dueBoard({ owner: 'Fenwater Clock Repairs' });
    expect(new Set(one.lines.map((l) => l.owner))).toEqual(new Set(['Fenwater Clock Repairs']));
  });
  it('is a calendar that another program reads: a whole day each, on the day, with the same name each time', async () => {
    const text = await whole(dueCalendar({ owner: 'Fenwater Clock Repairs' }, 'http://bench.example'));
    const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
    const events = calendar.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));
    const board = await dueBoard({ owner: 'Fenwater Clock Repairs' });
    expect(events.map((e) => [e.summary, e.startDate.toString(), e.startDate.isDate]).sort()).toEqual(
      board.lines.map((l) => [`Calibrate ${l.identification}`, l.nextDue, true]).sort(),
    );
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
    expect(text).toContain('URL;VALUE=URI:http://bench.example/instruments/fw-03');
  });
  it('has a name that cannot begin lines of its own', async () => {
    const text = await whole(dueCalendar({ owner: 'Nobody\r\nBEGIN:VEVENT\rX:1' }, 'http://bench.example'));
    expect(text.split(/\r\n|\r|\n/).filter((line) => /^(BEGIN:VEVENT|X:1)/.test(line))).toEqual([]);
    expect(text).toContain('Nobody BEGIN:VEVENT X:1');
  });
  it('is moved together to one day, with a reason that is kept, or not at all', async () => {
    const ask = { instruments: ['qm-0131', 'qm-0132'], to: '2027-02-01', reason: 'Together with the tuning shop', person };
    expect((await refusalOf(moveDue({ ...ask, instruments: ['qm-0131', 'moon'] }))).status).toBe(404);
    expect((await refusalOf(moveDue({ ...ask, to: '2020-01-01' }))).message).toContain('is past');
    expect((await refusalOf(moveDue({ ...ask, to: '2090-01-01' }))).path).toEqual(['to']);
    const before = (await instrumentById(db, 'qm-0131'))!.nextDue;
    expect(await moveDue(ask)).toBe(2);
    expect((await instrumentById(db, 'qm-0132'))!.nextDue).toBe('2027-02-01');
    expect((await historyOf('qm-0131')).moves[0]).toMatchObject({ before, after: '2027-02-01', reason: ask.reason, person });
    // Once more is nothing more.
    expect(await moveDue(ask)).toBe(0);
  });
});
