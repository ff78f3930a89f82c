import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { demoCopy } from '../../demo/demo-for-tests';
import { runState } from '../core/acts/fold';
import { actSchema } from '../core/acts/registry';
import { database, type Database } from '../store/database';
import * as intervals from '../store/intervals';
import { instrumentById, listProcedures, saveInstrument } from '../store/register';
import { eventsOfRun, lastCertificateNumber, openRuns } from '../store/run-log';
import * as standings from '../store/standings';
import { benchBoard } from './bench-service';
import { deriveAll, deriveStandings } from './derived-service';
import { familyPage } from './family-service';
import { refusalOf } from './fixtures/refusal-of';
import { historyOf } from './history-service';
import { Histories } from './interval-service';
import { kindHistory } from './kind-histories';
import { laboratoryZone } from './laboratory-time';
import { LeastUsed } from './least-used';
import { log } from './log';
import { declarations } from './procedure-library';
import { quickBoard } from './quick-service';
import { appendAct, loadRun, statesNow } from './run-service';

/* What is kept so that it need not be worked out again is what it would be if it were. */

const folder = mkdtempSync(join(tmpdir(), 'just-twice-kept-'));
const person = 'Maud Ellery';
let db: Database;

beforeAll(async () => {
  const file = join(folder, 'test.db');
  await demoCopy(file, new Date().toISOString().slice(0, 10));
  process.env['DATABASE_URL'] = `file:${file}`;
  db = await database();
}, 300_000);
afterAll(() => {
  db.$client.close();
  rmSync(folder, { recursive: true, force: true });
});

const note = (expectedSequence: number, text: string, idempotencyKey: string = randomUUID()) => ({
  expectedSequence,
  idempotencyKey,
  person,
  act: actSchema.parse({ type: 'note-added', text }),
});
const lastOf = async (run: string) => (await eventsOfRun(db, run)).at(-1)!.sequence;

describe('a map that keeps so many', () => {
  it('lets go of what was asked for longest ago', () => {
    const kept = new LeastUsed<number>(2);
    kept.set('a', 1);
    kept.set('b', 2);
    expect(kept.get('a')).toBe(1);
    kept.set('c', 3);
    expect([kept.get('a'), kept.get('b'), kept.get('c')]).toEqual([1, undefined, 3]);
    kept.set('a', 4);
    kept.delete('c');
    expect([kept.get('a'), kept.get('c')]).toEqual([4, undefined]);
  });
});

describe('a run that is carried on from entry to entry', () => {
  it('is what its log gives, and what another program has written is seen', async () => {
    const { id } = (await openRuns(db)).find((r) => r.setUp === null)!;
    let last = await lastOf(id);
    for (const text of ['Lamp moved', 'Door shut', 'Draught gone']) {
      const { event } = await appendAct(id, note(last, text));
      expect(event.sequence).toBe(++last);
    }
    expect((await statesNow(db, [id])).get(id)).toEqual(runState(await eventsOfRun(db, id)));
    // Another program is first.
    await db.$client.execute({
      sql: `INSERT INTO events (run_id, sequence, at, person, idempotency_key, act, clock, done) SELECT run_id, sequence + 1, at, person, ?, act, clock, done FROM events WHERE run_id = ? AND sequence = ?`,
      args: [randomUUID(), id, last],
    });
    const refused = await refusalOf(appendAct(id, note(last, 'Too late')));
    expect(refused).toMatchObject({ status: 409, details: { missed: [{ sequence: last + 1, act: { text: 'Draught gone' } }] } });
    const { event } = await appendAct(id, note(last + 1, 'Now it fits'));
    expect(event.sequence).toBe(last + 2);
    expect((await loadRun(id)).state.notes.slice(-2).map((n) => n.text)).toEqual(['Draught gone', 'Now it fits']);
    expect((await statesNow(db, [id])).get(id)).toEqual(runState(await eventsOfRun(db, id)));
  });
  it('answers 409 where another was first at the very moment, and goes on from what is recorded', async () => {
    const { id } = (await openRuns(db)).find((r) => r.setUp === null)!;
    const last = await lastOf(id);
    await db.$client.execute(
      `CREATE TRIGGER first BEFORE INSERT ON events WHEN NEW.idempotency_key NOT LIKE 'other%' BEGIN
         INSERT INTO events (run_id, sequence, at, person, idempotency_key, act, clock, done) SELECT NEW.run_id, NEW.sequence, NEW.at, NEW.person, 'other' || NEW.sequence, NEW.act, NULL, NULL; END`,
    );
    expect((await refusalOf(appendAct(id, note(last, 'Second')))).status).toBe(409);
    await db.$client.execute('DROP TRIGGER first');
    expect(await lastOf(id)).toBe(last);
    expect((await appendAct(id, note(last, 'Alone'))).event.sequence).toBe(last + 1);
    expect((await statesNow(db, [id])).get(id)).toEqual(runState(await eventsOfRun(db, id)));
  });
  it('is the same for every run on the bench', async () => {
    const open = await openRuns(db);
    const kept = await statesNow(
      db,
      open.map((r) => r.id),
    );
    expect(kept.size).toBe(open.length);
    for (const { id } of open) expect(kept.get(id)).toEqual(runState(await eventsOfRun(db, id)));
    const { runs } = await benchBoard();
    expect(runs.length).toBeGreaterThan(30);
  });
});

describe('what is derived', () => {
  it('stands of quick checks as it stood, when it is made anew', async () => {
    while ((await deriveStandings(db)).made);
    const before = await quickBoard();
    expect(before.alarms.length + before.wanted.length).toBeGreaterThan(3);
    expect(before).toMatchObject({ isPending: false, more: 0 });
    await standings.standingsAnew(db);
    expect((await standings.withoutStanding(db, 10)).length).toBeGreaterThan(3);
    await deriveAll(db);
    expect(await standings.withoutStanding(db, 10)).toEqual([]);
    expect(await quickBoard()).toEqual(before);
    const few = await quickBoard(undefined, 1);
    expect(few.wanted).toEqual(before.wanted.slice(0, 1));
    expect(few.more).toBe(before.wanted.length - 1);
  });
  it('of runs whose values were taken away is the same again, and may be broken off and gone on with', async () => {
    const runs = (await db.$client.execute("SELECT id FROM runs WHERE status = 'finished' ORDER BY id LIMIT 12")).rows.map((r) =>
      String(r[0]),
    );
    const before = await intervals.pairsOfRuns(db, runs);
    await db.$client.execute(`UPDATE runs SET pairs = NULL WHERE id IN (${runs.map((r) => `'${r}'`).join(',')})`);
    let asked = 0;
    await deriveAll(db, () => asked++ >= 1);
    const left = await standings.runsWithoutPairs(db, 100);
    expect(left.length).toBeGreaterThan(0);
    expect(left.length).toBeLessThan(12);
    await deriveAll(db);
    expect(await standings.runsWithoutPairs(db, 100)).toEqual([]);
    expect(await intervals.pairsOfRuns(db, runs)).toEqual(before);
  });
});

describe('what cannot be derived', () => {
  it('stands in nobody’s way: the bench is shown, and the rest is worked out', async () => {
    const [run] = (await db.$client.execute("SELECT id, instrument_id FROM runs WHERE purpose = 'quick' LIMIT 1")).rows;
    const before = await quickBoard();
    await standings.standingsAnew(db);
    await db.$client.execute({ sql: 'UPDATE runs SET pairs = NULL WHERE id = ?', args: [String(run![0])] });
    await db.$client.execute('DROP TRIGGER events_never_changed');
    const act = (
      await db.$client.execute({ sql: 'SELECT act FROM events WHERE run_id = ? AND sequence = 2', args: [String(run![0])] })
    ).rows[0]![0] as string;
    const set = (text: string) =>
      db.$client.execute({ sql: 'UPDATE events SET act = ? WHERE run_id = ? AND sequence = 2', args: [text, String(run![0])] });
    await set('{"type":"dance","version":2}');
    const logged = vi.spyOn(log, 'warn').mockImplementation(() => {});
    await deriveAll(db);
    const board = await quickBoard();
    expect(logged).toHaveBeenCalled();
    logged.mockRestore();
    expect(board.isPending).toBe(true);
    expect((await standings.withoutStanding(db, 10)).map((i) => i.id)).toEqual([String(run![1])]);
    expect((await benchBoard()).quick.isPending).toBe(true);
    await set(act);
    await deriveAll(db);
    expect(await quickBoard()).toEqual(before);
  });
});

describe('what is known of a kind', () => {
  it('is the same thing until something of it changes, and then what it is', async () => {
    const before = await kindHistory(db, 'pressure-transmitter', 'UTC');
    expect(await kindHistory(db, 'pressure-transmitter', 'UTC')).toBe(before);
    const row = (await instrumentById(db, 'qp-21'))!;
    expect(before.members.map((m) => m.id)).toContain('qp-21');
    expect(before.visits.get('qp-21')!.length).toBeGreaterThan(2);
    await saveInstrument(db, { ...row, designation: 'Another name' });
    const after = await kindHistory(db, 'pressure-transmitter', 'UTC');
    expect(after.members.find((m) => m.id === 'qp-21')!.designation).toBe('Another name');
    expect(after.members).toHaveLength(before.members.length);
    await saveInstrument(db, { ...row, kind: 'outside-micrometer' });
    expect((await kindHistory(db, 'pressure-transmitter', 'UTC')).members.map((m) => m.id)).not.toContain('qp-21');
    await saveInstrument(db, row);
    const again = await kindHistory(db, 'pressure-transmitter', 'UTC');
    expect(again.members).toEqual(before.members);
    expect(again.visits.get('qp-21')).toEqual(before.visits.get('qp-21'));
  });
  it('gives what follows from a history once, and again where a count, a day or an instrument is another', async () => {
    const before = await historyOf('hv-22');
    expect((await historyOf('hv-22')).proposals).toBe(before.proposals);
    const { day, count } = before.counts.at(-1)!;
    await intervals.appendCount(db, { instrumentId: 'hv-22', day, count: count + 500, at: new Date().toISOString(), person });
    const after = await historyOf('hv-22');
    expect(after.counts).toHaveLength(before.counts.length + 1);
    expect(after.proposals.all.find((p) => p.school === 'use')).not.toEqual(before.proposals.all.find((p) => p.school === 'use'));
    expect((await historyOf('hv-22', '2027-08-01T09:00:00.000Z')).today).toBe('2027-08-01');
    const row = (await instrumentById(db, 'hv-22'))!;
    await saveInstrument(db, { ...row, intervalMonths: 5 });
    expect((await historyOf('hv-22')).proposals.chosen.months).toBe(5);
    await saveInstrument(db, row);
    expect((await historyOf('hv-22')).proposals).toEqual(after.proposals);
  });
  it('gives one page of a family as long as it stands', async () => {
    const { members } = await kindHistory(db, 'pressure-transmitter', await laboratoryZone());
    const histories = await Histories.read('pressure-transmitter');
    const kin = histories.kinOf(members.find((m) => m.id === 'qp-22')!);
    const [kind, ...told] = JSON.parse(kin) as string[];
    const page = await familyPage(kind!, told);
    expect(await familyPage(kind!, told)).toBe(page);
    expect(page.count.all).toBe(histories.membersOf(kin).length);
    const row = (await instrumentById(db, 'qp-22'))!;
    await saveInstrument(db, { ...row, state: 'out-of-use' });
    expect((await familyPage(kind!, told)).count.inUse).toBe(page.count.inUse - 1);
    await saveInstrument(db, row);
  });
});

describe('what never changes', () => {
  it('is read once: revisions of procedures, and what they ask', async () => {
    const [first] = await listProcedures(db);
    expect((await listProcedures(db))[0]).toBe(first);
    expect(await declarations()).toBe(await declarations());
  });
});

describe('the number of the next certificate', () => {
  it('is found beyond those of four digits', async () => {
    const [used] = (await db.$client.execute('SELECT id FROM runs WHERE certificate IS NOT NULL LIMIT 1')).rows;
    expect(await lastCertificateNumber(db, 'C91-')).toBe(0);
    for (const [number, last] of [
      ['C91-0007', 7],
      ['C91-9999', 9999],
      ['C91-10000', 10_000],
      ['C91-10234', 10_234],
    ] as const) {
      await db.$client.execute({ sql: 'UPDATE runs SET certificate = ? WHERE id = ?', args: [number, String(used![0])] });
      expect(await lastCertificateNumber(db, 'C91-')).toBe(last);
    }
    expect(await lastCertificateNumber(db, 'C9-')).toBe(0);
  });
});
