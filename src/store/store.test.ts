import { actSchema } from '../core/acts/registry';
import { runState } from '../core/acts/fold';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readFileSync, readdirSync } from 'node:fs';
import { createClient } from '@libsql/client';
import { verdictAsFound } from '../core/run/run-results';
import { TestBench, micrometer, standardNamed } from '../core/run/fixtures/bench';
import { budgetById, listBudgets, removeBudget, saveBudget } from './budget-store';
import { isUniqueViolation, migrateDatabase, openDatabase, type Database } from './database';
import {
  addProcedure,
  countInstruments,
  dueInstruments,
  findInstruments,
  formerCertificatesOf,
  listProcedures,
  instrumentById,
  runsWithStandard,
  saveInstrument,
  saveStandard,
  standardById,
  type InstrumentValues,
} from './register';
import {
  appendEvent,
  eventByKey,
  eventsOfRun,
  eventsOfRuns,
  insertRuns,
  insertWholeRun,
  lastCertificateNumber,
  latestFinishedRuns,
  oldCertificate,
  openRunOf,
  runById,
  sequencesOf,
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

const instrument = (id: string, nextDue: string | null, more: Partial<InstrumentValues> = {}): InstrumentValues => ({
  ...micrometer,
  ownerAddress: '',
  use: '',
  nextDateWanted: false,
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
  procedureId: 'p',
  procedureRevision: 1,
  status: 'open',
  startedAt: '2026-11-24T08:00:00.000Z',
  finishedAt: null,
  certificate: null,
  isReviewed: false,
  summary: null,
  setUp: null,
  purpose: 'calibration',
  pairs: null,
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
  it('keeps the certificate that a later one replaces, with all that it stated', async () => {
    const { document } = standardNamed('gb-47');
    const row = {
      id: 's',
      identification: 'S',
      kind: 'gauge-block-set',
      designation: '',
      place: '',
      due: document.certificate!.due!,
      document,
    };
    await saveStandard(db, row, '2026-11-24');
    expect(await formerCertificatesOf(db, 's')).toEqual([]);
    // Only a word is changed: the certificate is the same, and none has been replaced.
    await saveStandard(db, { ...row, place: 'Drawer' }, '2026-11-25');
    expect(await formerCertificatesOf(db, 's')).toEqual([]);
    const later = { ...document, certificate: { ...document.certificate!, number: 'N 2' }, items: document.items!.slice(0, 3) };
    await saveStandard(db, { ...row, document: later }, '2026-11-26');
    expect((await standardById(db, 's'))!.document.items).toHaveLength(3);
    expect(await formerCertificatesOf(db, 's')).toEqual([JSON.parse(JSON.stringify(document))]);
  });
  it('lists procedures newest revision first; those of version 1 are kept, and not offered', async () => {
    await addProcedure(db, { id: 'p', revision: 1, document: { version: 1 } });
    await addProcedure(db, { id: 'p', revision: 2, document: { version: 2 } });
    await addProcedure(db, { id: 'p', revision: 3, document: { version: 2 } });
    expect((await listProcedures(db)).map((r) => [r.id, r.revision])).toEqual([
      ['p', 3],
      ['p', 2],
    ]);
  });
});

describe('logs in the store', () => {
  it('are read back as they were written, in order', async () => {
    await insertWholeRun(db, run('r1', 'a'), [{ role: 'blocks', standardId: 's' }], events);
    const read = await eventsOfRun(db, 'r1');
    expect(read).toEqual(events.map(({ idempotencyKey: _key, ...event }) => event));
    expect((await runsWithStandard(db, 's')).map((r) => r.id)).toEqual(['r1']);
    expect((await eventByKey(db, 'r1', 'k3'))?.sequence).toBe(3);
    expect(await eventByKey(db, 'r1', 'nothing')).toBeUndefined();
    expect((await eventsOfRuns(db, ['r1', 'none'])).get('none')).toEqual([]);
    expect(await sequencesOf(db, 'r1')).toEqual(events.map((e) => e.sequence));
  });
  it('a taken sequence number writes nothing, not even what would follow from it', async () => {
    const again = { ...events.at(-1)!, idempotencyKey: 'other' };
    const error = await appendEvent(db, 'r1', again, {
      run: { status: 'finished' },
      instrument: { id: 'a', lastCalibrated: '2026-11-24', nextDue: '2027-11-24', stored: {} },
    }).catch((e: unknown) => e);
    expect(isUniqueViolation(error)).toBe(true);
    expect((await runById(db, 'r1'))?.status).toBe('open');
    expect((await findInstruments(db, { text: 'A', due: 'all', today: '', soon: '' }, 1)).rows[0]?.nextDue).not.toBe(
      '2027-11-24',
    );
  });
  it('an instrument has one open run at most', async () => {
    const error = await insertRuns(db, [{ row: run('r2', 'a'), used: [], first: { ...events[0]!, idempotencyKey: 'r2' } }]).catch(
      (e: unknown) => e,
    );
    expect(isUniqueViolation(error)).toBe(true);
    expect(await runById(db, 'r2')).toBeUndefined();
    expect((await openRunOf(db, 'a'))?.id).toBe('r1');
  });
  it('finishing writes the event, the run and the dates of the instrument together', async () => {
    const next = {
      sequence: events.length + 1,
      at: '2026-11-24T10:00:00.000Z',
      person: 'Ada',
      act: actSchema.parse({ type: 'note-added', text: 'done' }),
      done: { at: '2026-11-24T09:00:00.000Z', ahead: 1.5 },
      idempotencyKey: 'end',
    };
    await appendEvent(db, 'r1', next, {
      run: { status: 'finished', certificate: 'C26-0001' },
      instrument: { id: 'a', lastCalibrated: '2026-11-24', nextDue: '2027-11-24', stored: { shift: 0.002 } },
    });
    expect((await instrumentById(db, 'a'))!.stored).toEqual({ shift: 0.002 });
    expect(await runById(db, 'r1')).toMatchObject({ status: 'finished', certificate: 'C26-0001' });
    expect((await latestFinishedRuns(db, ['a', 'b'])).get('a')?.id).toBe('r1');
    expect(await lastCertificateNumber(db, 'C26-')).toBe(1);
    expect(await lastCertificateNumber(db, 'C25-')).toBe(0);
    expect((await eventsOfRun(db, 'r1')).at(-1)!.done).toEqual({ at: '2026-11-24T09:00:00.000Z', ahead: 1.5 });
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

describe('a database of the program before', () => {
  const migrations = 'src/store/migrations';
  /** Made by the migrations of that time, with a real log of version 1. */
  async function oldDatabase(): Promise<Database> {
    const file = join(folder, 'old.db');
    const client = createClient({ url: `file:${file}` });
    await client.execute('CREATE TABLE __drizzle_migrations (id INTEGER PRIMARY KEY, hash text NOT NULL, created_at numeric)');
    const journal = JSON.parse(readFileSync(join(migrations, 'meta/_journal.json'), 'utf8')) as {
      entries: { when: number; tag: string }[];
    };
    for (const { when, tag } of journal.entries.slice(0, 4)) {
      for (const statement of readFileSync(join(migrations, `${tag}.sql`), 'utf8').split('--> statement-breakpoint'))
        await client.execute(statement);
      await client.execute({ sql: 'INSERT INTO __drizzle_migrations (hash, created_at) VALUES (?, ?)', args: [tag, when] });
    }
    const golden = JSON.parse(readFileSync('src/core/log/golden/adjusted-conditional-fail.json', 'utf8')) as {
      events: { sequence: number; at: string; person: string; act: Record<string, never> }[];
      expected: { summary: unknown; certificate: { number: string } };
    };
    const start = golden.events[0]!.act as unknown as {
      instrument: { id: string; identification: string };
      standard: { id: string; identification: string; items: Record<string, number | string>[] };
      procedure: { id: string; revision: number };
    };
    const insert = (table: string, values: Record<string, unknown>) =>
      client.execute({
        sql: `INSERT INTO ${table} (${Object.keys(values).join(', ')}) VALUES (${Object.keys(values)
          .map(() => '?')
          .join(', ')})`,
        args: Object.values(values) as never,
      });
    await insert('instruments', {
      id: start.instrument.id,
      identification: start.instrument.identification,
      kind: 'outside-micrometer',
      designation: 'D',
      owner: 'O',
      place: 'P',
      range_lower: 25,
      range_upper: 50,
      calibrated_lower: 25,
      calibrated_upper: 50,
      resolution: 0.001,
      maximum_permissible_error: 0.005,
      adjustment_allowed: 1,
      interval_months: null,
      state: 'in-use',
      last_calibrated: '2026-06-14',
      next_due: '2026-12-14',
    });
    await insert('standards', {
      id: start.standard.id,
      identification: start.standard.identification,
      kind: 'gauge-block-set',
      designation: 'Blocks',
      place: 'Here',
      certificate_issuer: 'I',
      certificate_number: 'N 1',
      certificate_date: '2025-10-19',
      due: '2027-10-19',
    });
    for (const item of start.standard.items)
      await insert('standard_items', {
        id: item['id'],
        standard_id: start.standard.id,
        nominal: item['nominal'],
        certified: item['certified'],
        expanded_uncertainty: item['expandedUncertainty'],
        coverage_factor: item['coverageFactor'],
        expansion_coefficient: item['expansionCoefficient'],
        marking: item['marking'],
      });
    await insert('procedures', {
      id: start.procedure.id,
      revision: start.procedure.revision,
      document: JSON.stringify(start.procedure),
    });
    await insert('runs', {
      id: 'old',
      instrument_id: start.instrument.id,
      standard_id: start.standard.id,
      procedure_id: start.procedure.id,
      procedure_revision: start.procedure.revision,
      status: 'finished',
      started_at: golden.events[0]!.at,
      finished_at: golden.events.at(-1)!.at,
      certificate: golden.expected.certificate.number,
      is_reviewed: 1,
      summary: JSON.stringify(golden.expected.summary),
    });
    for (const e of golden.events)
      await insert('events', {
        run_id: 'old',
        sequence: e.sequence,
        at: e.at,
        person: e.person,
        idempotency_key: `k${e.sequence}`,
        act: JSON.stringify(e.act),
      });
    await insert('certificates', {
      run_id: 'old',
      number: golden.expected.certificate.number,
      content: JSON.stringify(golden.expected.certificate),
      digest: 'd',
    });
    client.close();
    return openDatabase({ DATABASE_URL: `file:${file}` });
  }

  it('keeps every record when it is brought to the shape of today, and reads the same', async () => {
    const old = await oldDatabase();
    await migrateDatabase(old);
    expect(readdirSync(migrations).filter((f) => f.endsWith('.sql'))).toHaveLength(21);
    const instrument = (await instrumentById(old, 'qm-0140'))!;
    expect(instrument).toMatchObject({
      unit: 'mm',
      lower: 25,
      upper: 50,
      usedLower: 25,
      characteristics: { limit: 0.005 },
      stored: {},
      nextDue: '2026-12-14',
      ownerAddress: '',
      nextDateWanted: false,
      use: '',
    });
    const standard = (await standardById(old, 'gb-47'))!;
    expect(standard.document).toMatchObject({
      format: 'just-twice/standard',
      unit: 'mm',
      certificate: { number: 'N 1', due: '2027-10-19' },
    });
    expect(standard.document.items).toHaveLength(47);
    expect(standard.document.items![0]).toMatchObject({ nominal: 1, properties: { expansionCoefficient: 1.15e-5 } });
    const row = (await runById(old, 'old'))!;
    expect(row).toMatchObject({ purpose: 'calibration', pairs: null });
    expect(row.summary).toMatchObject({
      adjusted: true,
      found: {
        verdict: 'conditional-fail',
        what: 'Error',
        point: '42.6 mm',
        value: -0.0045143430688,
        lower: -0.004,
        upper: 0.004,
        unit: 'mm',
        shownIn: 'um',
      },
      left: { verdict: 'pass', point: '30.1 mm' },
    });
    expect((await runsWithStandard(old, 'gb-47')).map((r) => r.id)).toEqual(['old']);
    expect((await oldCertificate(old, 'old'))!.content.version).toBe(1);
    const state = runState(await eventsOfRun(old, 'old'));
    expect(verdictAsFound(state)).toBe('conditional-fail');
    expect((await eventByKey(old, 'old', 'k3'))!.sequence).toBe(3);
    await expect(old.$client.execute("UPDATE events SET person = 'Other'")).rejects.toThrow('never changed');
    old.$client.close();
  });
});
