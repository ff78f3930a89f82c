import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestBench, blocks, micrometer, micrometerProcedure } from '../core/run/fixtures/bench';
import { budgetById, listBudgets, removeBudget, saveBudget } from './budget-shelf';
import { isUniqueViolation, migrateDatabase, openDatabase, type Database } from './database';
import {
  addProcedure,
  countInstruments,
  dueInstruments,
  findInstruments,
  itemsOfStandard,
  newestProcedureFor,
  saveInstrument,
  saveStandard,
  type InstrumentRow,
} from './register';
import {
  appendEvent,
  eventByKey,
  eventsOfRun,
  eventsOfRuns,
  insertRun,
  insertWholeRun,
  lastCertificateNumber,
  latestFinishedRuns,
  openRunOf,
  runById,
  type RunRow,
} from './run-log';

const folder = mkdtempSync(join(tmpdir(), 'just-twice-store-'));
let db: Database;
beforeAll(async () => {
  db = await openDatabase({ DATABASE_URL: `file:${join(folder, 'nested', 'store.db')}` });
  await migrateDatabase(db);
});
afterAll(() => {
  db.$client.close();
  rmSync(folder, { recursive: true, force: true });
});

const instrument = (id: string, nextDue: string | null, more: Partial<InstrumentRow> = {}): InstrumentRow => ({
  ...micrometer,
  id,
  identification: id.toUpperCase(),
  state: 'in-use',
  nextDue,
  lastCalibrated: null,
  ...more,
});
const run = (id: string, instrumentId: string, more: Partial<RunRow> = {}): RunRow => ({
  id,
  instrumentId,
  standardId: 's',
  procedureId: 'p',
  procedureRevision: 1,
  status: 'open',
  startedAt: '2026-11-24T08:00:00.000Z',
  finishedAt: null,
  certificate: null,
  isReviewed: false,
  summary: null,
  ...more,
});
const events = new TestBench().prepared().events.map((e) => ({ ...e, idempotencyKey: `k${e.sequence}` }));

describe('the store', () => {
  it('makes its folder, and migrating twice changes nothing', async () => {
    await migrateDatabase(db);
    const { rows } = await db.$client.execute(
      "SELECT name FROM sqlite_master WHERE type = 'table' AND name IN ('events', 'runs', 'budgets')",
    );
    expect(rows).toHaveLength(3);
  });
  it('finds what is due: overdue first, out of use never, without a date last', async () => {
    await saveInstrument(db, instrument('a', '2026-12-01'));
    await saveInstrument(db, instrument('b', '2026-10-01'));
    await saveInstrument(db, instrument('c', null));
    await saveInstrument(db, instrument('d', '2026-01-01', { state: 'out-of-use' }));
    await saveInstrument(db, instrument('e', '2028-01-01'));
    expect((await dueInstruments(db, '2026-12-31', 10)).map((i) => i.id)).toEqual(['b', 'a', 'c']);
    expect(await countInstruments(db, '2026-11-24')).toEqual({ total: 5, overdue: 1 });
    expect(
      (await findInstruments(db, { due: 'overdue', today: '2026-11-24', soon: '2026-12-24' }, 10)).rows.map((i) => i.id),
    ).toEqual(['b']);
    expect(
      (await findInstruments(db, { due: 'soon', today: '2026-11-24', soon: '2026-12-24' }, 10)).rows.map((i) => i.id),
    ).toEqual(['a']);
  });
  it('keeps a standard whole: row and items change together or not at all', async () => {
    const row = {
      id: 's',
      identification: 'S',
      kind: 'gauge-block-set',
      designation: '',
      place: '',
      certificateIssuer: 'I',
      certificateNumber: '1',
      certificateDate: '2026-01-01',
      due: '2028-01-01',
    };
    await saveStandard(db, row, blocks.items);
    expect(await itemsOfStandard(db, 's')).toHaveLength(47);
    const twice = [blocks.items[0]!, blocks.items[0]!];
    await expect(saveStandard(db, { ...row, certificateNumber: '2' }, twice)).rejects.toThrow();
    expect(await itemsOfStandard(db, 's')).toHaveLength(47);
  });
  it('offers the newest revision of a procedure and keeps the older ones', async () => {
    await addProcedure(db, { id: 'p', revision: 1, document: micrometerProcedure });
    await addProcedure(db, { id: 'p', revision: 2, document: { ...micrometerProcedure, revision: 2 } });
    expect((await newestProcedureFor(db, 'outside-micrometer'))?.revision).toBe(2);
    expect(await newestProcedureFor(db, 'sundial')).toBeUndefined();
  });
});

describe('logs in the store', () => {
  it('are read back as they were written, in order, and from any point', async () => {
    await insertWholeRun(db, run('r1', 'a'), events);
    const read = await eventsOfRun(db, 'r1');
    expect(read).toEqual(events.map(({ idempotencyKey: _key, ...event }) => event));
    expect((await eventsOfRun(db, 'r1', 5)).map((e) => e.sequence)).toEqual(read.slice(5).map((e) => e.sequence));
    expect((await eventByKey(db, 'r1', 'k3'))?.sequence).toBe(3);
    expect(await eventByKey(db, 'r1', 'nothing')).toBeUndefined();
    expect((await eventsOfRuns(db, ['r1', 'none'])).get('none')).toEqual([]);
  });
  it('a taken sequence number writes nothing, not even what would follow from it', async () => {
    const again = { ...events.at(-1)!, idempotencyKey: 'other' };
    const error = await appendEvent(db, 'r1', again, {
      run: { status: 'finished' },
      instrument: { id: 'a', lastCalibrated: '2026-11-24', nextDue: '2027-11-24' },
    }).catch((e: unknown) => e);
    expect(isUniqueViolation(error)).toBe(true);
    expect((await runById(db, 'r1'))?.status).toBe('open');
    expect((await findInstruments(db, { text: 'A', due: 'all', today: '', soon: '' }, 1)).rows[0]?.nextDue).not.toBe(
      '2027-11-24',
    );
  });
  it('an instrument has one open run at most', async () => {
    const error = await insertRun(db, run('r2', 'a'), { ...events[0]!, idempotencyKey: 'r2' }).catch((e: unknown) => e);
    expect(isUniqueViolation(error)).toBe(true);
    expect(await runById(db, 'r2')).toBeUndefined();
    expect((await openRunOf(db, 'a'))?.id).toBe('r1');
  });
  it('finishing writes the event, the run and the dates of the instrument together', async () => {
    const next = {
      sequence: events.length + 1,
      at: '2026-11-24T10:00:00.000Z',
      person: 'Ada',
      act: { type: 'note-added' as const, text: 'done' },
      idempotencyKey: 'end',
    };
    await appendEvent(db, 'r1', next, {
      run: { status: 'finished', certificate: 'C26-0001' },
      instrument: { id: 'a', lastCalibrated: '2026-11-24', nextDue: '2027-11-24' },
    });
    expect(await runById(db, 'r1')).toMatchObject({ status: 'finished', certificate: 'C26-0001' });
    expect((await latestFinishedRuns(db, ['a', 'b'])).get('a')?.id).toBe('r1');
    expect(await lastCertificateNumber(db, 'C26-')).toBe(1);
    expect(await lastCertificateNumber(db, 'C25-')).toBe(0);
  });
});

describe('budgets in the store', () => {
  const document = {
    format: 'just-twice/budget' as const,
    version: 1 as const,
    name: 'b',
    output: { symbol: 'Y', unit: '1' },
    model: 'a',
    quantities: [{ symbol: 'a', unit: '1', distribution: { type: 'constant' as const, value: 1 } }],
  };
  it('are kept, changed, listed newest first and removed', async () => {
    await saveBudget(db, { id: 'one', document, changedAt: '2026-01-01' });
    await saveBudget(db, { id: 'two', document, changedAt: '2026-02-01' });
    await saveBudget(db, { id: 'one', document: { ...document, name: 'renamed' }, changedAt: '2026-03-01' });
    expect((await listBudgets(db)).map((b) => [b.id, b.document.name])).toEqual([
      ['one', 'renamed'],
      ['two', 'b'],
    ]);
    await removeBudget(db, 'one');
    expect(await budgetById(db, 'one')).toBeUndefined();
  });
});
