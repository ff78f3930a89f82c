import type { InstrumentSnapshot } from '../core/plan/snapshots';
import type { RecordedEvent } from '../core/acts/registry';
import { and, asc, count, desc, eq, gt, gte, inArray, lte, ne, not, sql } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import { readLog, type StoredEvent } from '../core/log/read-log';
import { partOf } from '../core/seal/seal';
import type { RunPairs } from '../core/interval/visit';
import type { CauseCounts } from '../core/run/rule-out';
import type { RunSummary } from '../core/run/run-summary';
import { touch, writing, type Database } from './database';
import { eventRow, eventRows, hashOfEntry, standardsPart } from './log-seals';
import { changed, made, sha256, writeSealed } from './seals';
import { standingChange, type CheckChange } from './standings';
import { certificates, events, instruments, runs, runStandards } from './schema';

export type RunRow = typeof runs.$inferSelect;
export type NewEvent = RecordedEvent & { idempotencyKey: string };

/** What a finished or ended run changes outside its log; written in the same transaction as the event. */
export type RunChange = {
  run?: Partial<Pick<RunRow, 'status' | 'finishedAt' | 'certificate' | 'isReviewed'>> & {
    summary?: RunSummary;
    pairs?: RunPairs;
  };
  instrument?: {
    id: string;
    lastCalibrated?: string | null;
    nextDue?: string | null;
    stored?: InstrumentSnapshot['stored'];
    settings?: Record<string, string>;
    state?: 'out-of-use';
  };
  check?: CheckChange;
  /** What a run is finished with: it is sealed beside the head of its log. */
  finishedWith?: FinishedWith;
};

/** The procedure, the standards with their certificates, and the certificate as issued (null where none is). */
export type FinishedWith = { procedure: unknown; standards: unknown; certificate: unknown };

/** Which standards a run uses, by role. */
export type RunStandard = { role: string; standardId: string };

const stored = (row: typeof events.$inferSelect): StoredEvent => ({
  sequence: row.sequence,
  at: row.at,
  person: row.person,
  act: row.act,
  ...(row.clock ? { clock: row.clock } : {}),
  ...(row.done ? { done: row.done } : {}),
  ...(row.token ? { token: row.token } : {}),
});

export const runById = async (db: Database, id: string): Promise<RunRow | undefined> =>
  (await db.select().from(runs).where(eq(runs.id, id)).limit(1))[0];

/** The log of a run in the present shape; empty where there is none. An old entry may be read as two with one number. */
export async function eventsOfRun(db: Database, runId: string): Promise<RecordedEvent[]> {
  const rows = await db.select().from(events).where(eq(events.runId, runId)).orderBy(asc(events.sequence));
  return rows.length ? readLog(rows.map(stored)) : [];
}

/** Entries, certificates and lists of standards of runs that are not there; runs of instruments that are not there: each in words. */
export async function orphans(db: Database): Promise<string[]> {
  const missing = async (table: string, column: string, of: string): Promise<string[]> =>
    (await db.$client.execute(`SELECT DISTINCT ${column} FROM ${table} WHERE ${column} NOT IN (SELECT id FROM ${of})`)).rows.map(
      (row) => String(row[0]),
    );
  return [
    ...(await missing('events', 'run_id', 'runs')).map((id) => `Entries of a run ${id} that is not there.`),
    ...(await missing('certificates', 'run_id', 'runs')).map((id) => `A certificate of a run ${id} that is not there.`),
    ...(await missing('run_standards', 'run_id', 'runs')).map((id) => `Standards of a run ${id} that is not there.`),
    ...(await missing('runs', 'instrument_id', 'instruments')).map((id) => `Runs of an instrument ${id} that is not there.`),
  ];
}

/** The number of the latest entry of a log; null where there is none. */
export async function lastSequence(db: Database, runId: string): Promise<number | null> {
  const [row] = await db
    .select({ last: sql<number | null>`max(${events.sequence})` })
    .from(events)
    .where(eq(events.runId, runId));
  return row?.last ?? null;
}

/** The same of several logs. */
export async function lastSequences(db: Database, runIds: readonly string[]): Promise<Map<string, number>> {
  const rows = await db
    .select({ run: events.runId, last: sql<number>`max(${events.sequence})` })
    .from(events)
    .where(inArray(events.runId, [...runIds]))
    .groupBy(events.runId);
  return new Map(rows.map((r) => [r.run, r.last]));
}

/** Numbers of the entries of a log as they lie in the store. */
export async function sequencesOf(db: Database, runId: string): Promise<number[]> {
  const rows = await db
    .select({ sequence: events.sequence })
    .from(events)
    .where(eq(events.runId, runId))
    .orderBy(asc(events.sequence));
  return rows.map((r) => r.sequence);
}

/** Entries of a log after one of its entries; nothing where it has no more. */
export async function eventsAfterEntry(db: Database, runId: string, after: number): Promise<RecordedEvent[]> {
  const last = await lastSequence(db, runId);
  return last === null || last <= after ? [] : (await eventsOfRun(db, runId)).filter((e) => e.sequence > after);
}

export async function eventsOfRuns(db: Database, runIds: string[]): Promise<Map<string, RecordedEvent[]>> {
  const logs = new Map<string, StoredEvent[]>(runIds.map((id) => [id, []]));
  if (runIds.length === 0) return new Map();
  const rows = await db
    .select()
    .from(events)
    .where(inArray(events.runId, runIds))
    .orderBy(asc(events.runId), asc(events.sequence));
  for (const row of rows) logs.get(row.runId)!.push(stored(row));
  return new Map([...logs].map(([id, log]) => [id, log.length ? readLog(log) : []]));
}

/** The first entry of each of some logs: what was begun, with what. */
export async function firstEvents(db: Database, runIds: string[]): Promise<Map<string, RecordedEvent>> {
  if (runIds.length === 0) return new Map();
  const rows = await db
    .select()
    .from(events)
    .where(and(inArray(events.runId, runIds), eq(events.sequence, 1)));
  return new Map(rows.map((row) => [row.runId, readLog([stored(row)])[0]!]));
}

export async function eventByKey(db: Database, runId: string, idempotencyKey: string): Promise<RecordedEvent | undefined> {
  const [row] = await db
    .select()
    .from(events)
    .where(and(eq(events.runId, runId), eq(events.idempotencyKey, idempotencyKey)))
    .limit(1);
  if (!row) return undefined;
  // An entry of version 1 cannot be read alone: it is found again in its log.
  if (row.act.version !== undefined) return readLog([stored(row)])[0];
  return (await eventsOfRun(db, runId)).find((e) => e.sequence === row.sequence);
}

const standardRows = (db: Database, { id, startedAt }: Pick<RunRow, 'id' | 'startedAt'>, used: readonly RunStandard[]) =>
  used.length ? [db.insert(runStandards).values(used.map((u) => ({ runId: id, startedAt, ...u })))] : [];

/** Which standards some runs use. */
export async function standardsOfRuns(db: Database, ids: readonly string[]): Promise<Map<string, RunStandard[]>> {
  const rows = await db
    .select()
    .from(runStandards)
    .where(inArray(runStandards.runId, [...ids]));
  const used = new Map<string, RunStandard[]>(ids.map((id) => [id, []]));
  for (const { runId, role, standardId } of rows) used.get(runId)!.push({ role, standardId });
  return used;
}

/** A run as it begins: its line, the standards it uses, its first event. */
export type BegunRun = { row: RunRow; used: readonly RunStandard[]; first: NewEvent };

/** Begins runs: all of them or none. */
export async function insertRuns(db: Database, begun: readonly BegunRun[]): Promise<void> {
  const all = begun.map(({ row, used, first }) => ({ row, used, first: eventRow(row.id, first, '') }));
  await writeSealed(
    db,
    all.flatMap(({ row, used, first }) => [
      db.insert(runs).values(row),
      ...standardRows(db, row, used),
      db.insert(events).values(first),
    ]),
    all.map(({ row, used, first }) => made('runs', row, { log: first.seal.hash, standards: standardsPart(used) })),
  );
}

const withoutId = ({ id: _id, ...set }: NonNullable<RunChange['instrument']>) => set;

/** Appends one event and what follows from it, or nothing at all. A taken sequence number makes the insert fail. */
export async function appendEvent(db: Database, runId: string, event: NewEvent, change: RunChange): Promise<void> {
  await writing(db, async () => {
    const row = eventRow(runId, event, await hashOfEntry(db, runId, event.sequence - 1));
    const instrument = change.instrument && { id: change.instrument.id, set: withoutId(change.instrument) };
    await writeSealed(
      db,
      [
        db.insert(events).values(row),
        ...(change.run ? [db.update(runs).set(change.run).where(eq(runs.id, runId))] : []),
        ...(instrument ? [db.update(instruments).set(instrument.set).where(eq(instruments.id, instrument.id))] : []),
        ...(change.check ? [standingChange(db, change.check)] : []),
      ],
      [
        changed('runs', { id: runId }, change.run ?? {}, {
          log: row.seal.hash,
          ...(change.finishedWith ? { finished: partOf(change.finishedWith, sha256) } : {}),
        }),
        ...(instrument ? [changed('instruments', { id: instrument.id }, instrument.set)] : []),
      ],
    );
  });
  const touched = change.check?.instrument ?? change.instrument?.id;
  if (touched !== undefined) touch(db, touched);
}

/** Writes a whole run at once, for demo data and imports. */
export async function insertWholeRun(db: Database, row: RunRow, used: readonly RunStandard[], log: NewEvent[]): Promise<void> {
  const entries = eventRows(row.id, log);
  const chunks = Array.from({ length: Math.ceil(entries.length / 50) }, (_, i) =>
    db.insert(events).values(entries.slice(50 * i, 50 * (i + 1))),
  );
  const check = { instrument: row.instrumentId, at: row.purpose === 'quick' ? row.finishedAt : null };
  await writeSealed(
    db,
    [
      db.insert(runs).values(row),
      ...standardRows(db, row, used),
      ...chunks,
      ...(row.status === 'finished' ? [standingChange(db, check)] : []),
    ],
    [made('runs', row, { log: entries.at(-1)?.seal.hash ?? '', standards: standardsPart(used) })],
  );
  touch(db, row.instrumentId);
}

/** The digest of a certificate's content as it is kept. */
export const certificateDigest = (content: unknown): string => createHash('sha256').update(JSON.stringify(content)).digest('hex');

/** The certificate of a log of version 1 as it was issued; undefined for those finished before contents were kept, and since. */
export const oldCertificate = async (db: Database, runId: string) =>
  (await db.select().from(certificates).where(eq(certificates.runId, runId)).limit(1))[0];

export const runsOfInstrument = (db: Database, instrumentId: string): Promise<RunRow[]> =>
  db
    .select()
    .from(runs)
    .where(and(eq(runs.instrumentId, instrumentId), eq(runs.purpose, 'calibration')))
    .orderBy(desc(runs.startedAt))
    .limit(200);

/** Every run there is, in the order of their ids, some at a time: for checking a whole database, however large. */
export async function* everyRun(db: Database, atOnce = 50): AsyncGenerator<RunRow> {
  for (let after = ''; ;) {
    const part = await db.select().from(runs).where(gt(runs.id, after)).orderBy(asc(runs.id)).limit(atOnce);
    yield* part;
    if (part.length < atOnce) return;
    after = part.at(-1)!.id;
  }
}

export const countRuns = async (db: Database): Promise<number> => (await db.select({ n: count() }).from(runs))[0]?.n ?? 0;

export const openRuns = (db: Database): Promise<RunRow[]> =>
  db.select().from(runs).where(eq(runs.status, 'open')).orderBy(asc(runs.startedAt)).limit(50);

export const runsOfSetUp = (db: Database, setUp: string): Promise<RunRow[]> =>
  db.select().from(runs).where(eq(runs.setUp, setUp)).limit(50);

export const unreviewedRuns = (db: Database): Promise<{ id: string; identification: string; certificate: string | null }[]> =>
  db
    .select({ id: runs.id, identification: instruments.identification, certificate: runs.certificate })
    .from(runs)
    .innerJoin(instruments, eq(runs.instrumentId, instruments.id))
    .where(and(eq(runs.status, 'finished'), eq(runs.isReviewed, false)))
    .orderBy(asc(runs.finishedAt))
    .limit(50);

/** Every finished calibration that used a standard and began on a day or after it, latest first. */
export const calibrationsWith = (
  db: Database,
  standardId: string,
  since = '',
): Promise<{ id: string; certificate: string | null; finishedAt: string | null; identification: string }[]> =>
  db
    .selectDistinct({
      id: runs.id,
      certificate: runs.certificate,
      finishedAt: runs.finishedAt,
      identification: instruments.identification,
    })
    .from(runStandards)
    .innerJoin(runs, eq(runs.id, runStandards.runId))
    .innerJoin(instruments, eq(runs.instrumentId, instruments.id))
    .where(
      and(
        eq(runStandards.standardId, standardId),
        gte(runStandards.startedAt, since),
        eq(runs.status, 'finished'),
        eq(runs.purpose, 'calibration'),
      ),
    )
    .orderBy(desc(runs.finishedAt));

/** The latest finished run of each of some instruments. */
export async function latestFinishedRuns(db: Database, instrumentIds: string[]): Promise<Map<string, RunRow>> {
  if (instrumentIds.length === 0) return new Map();
  const rows = await db
    .select()
    .from(runs)
    .where(and(inArray(runs.instrumentId, instrumentIds), eq(runs.status, 'finished'), eq(runs.purpose, 'calibration')))
    .orderBy(asc(runs.startedAt));
  return new Map(rows.map((row) => [row.instrumentId, row]));
}

/** The latest calibration of an instrument that stands finished, but for one run. */
export async function finishedBeside(db: Database, instrumentId: string, runId: string): Promise<RunRow | undefined> {
  const rows = await db
    .select()
    .from(runs)
    .where(
      and(eq(runs.instrumentId, instrumentId), ne(runs.id, runId), eq(runs.status, 'finished'), eq(runs.purpose, 'calibration')),
    )
    .orderBy(desc(runs.startedAt))
    .limit(1);
  return rows[0];
}

export async function openRunOf(db: Database, instrumentId: string): Promise<RunRow | undefined> {
  return (
    await db
      .select()
      .from(runs)
      .where(and(eq(runs.instrumentId, instrumentId), eq(runs.status, 'open')))
      .limit(1)
  )[0];
}

/** Digits that a certificate's number has at the least and at the most. */
const [fewestDigits, mostDigits] = [1, 9];

/** The greatest number given to a certificate with a prefix such as `C26-`; 0 when there is none. */
export async function lastCertificateNumber(db: Database, prefix: string): Promise<number> {
  let last = 0;
  // As texts numbers of as many digits stand in their order: the index has the last of them at its end.
  for (let digits = fewestDigits; digits <= mostDigits; digits++) {
    const [from, to] = ['0', '9'].map((d) => prefix + d.repeat(digits));
    const [row] = await db
      .select({ last: sql<string | null>`max(${runs.certificate})` })
      .from(runs)
      .where(and(gte(runs.certificate, from!), lte(runs.certificate, to!), sql`length(${runs.certificate}) = ${to!.length}`));
    last = Math.max(last, Number(row?.last?.slice(prefix.length) ?? 0));
  }
  return last;
}

/** When anything was last recorded in any run; null before the first. */
export async function latestEventTime(db: Database, except: readonly TimeSpan[] = []): Promise<string | null> {
  const told = except.map(({ after, until }) => not(and(gt(events.at, after), lte(events.at, until))!));
  const [row] = await db
    .select({ at: sql<string | null>`max(${events.at})` })
    .from(events)
    .where(and(...told));
  return row?.at ?? null;
}

/**
 * The latest finished calibrations by a procedure of an instrument, else of others of its kind and make and type.
 * @returns ids of runs, latest first
 */
export async function formerRuns(
  db: Database,
  { id, kind, designation }: Pick<InstrumentSnapshot, 'id' | 'kind' | 'designation'>,
  procedureId: string,
  most: number,
): Promise<string[]> {
  const finished = and(eq(runs.status, 'finished'), eq(runs.purpose, 'calibration'), eq(runs.procedureId, procedureId));
  const own = await db
    .select({ id: runs.id })
    .from(runs)
    .where(and(eq(runs.instrumentId, id), finished))
    .orderBy(desc(runs.finishedAt))
    .limit(most);
  if (own.length > 0) return own.map((r) => r.id);
  const kin = await db
    .select({ id: runs.id })
    .from(instruments)
    .innerJoin(runs, eq(runs.instrumentId, instruments.id))
    .where(and(eq(instruments.kind, kind), eq(instruments.designation, designation), finished))
    .orderBy(desc(runs.finishedAt))
    .limit(most);
  return kin.map((r) => r.id);
}

/** Instants after one and up to another. */
export type TimeSpan = { after: string; until: string };

/** The causes that quick checks looked for, by the run; those that looked for none are not named. */
export async function looksForOf(db: Database, runIds: readonly string[]): Promise<Map<string, string>> {
  const cause = sql<string>`json_extract(${events.act}, '$.looksFor')`;
  const rows = await db
    .select({ run: events.runId, cause })
    .from(events)
    .where(and(inArray(events.runId, [...runIds]), eq(events.sequence, 1), sql`${cause} is not null`));
  return new Map(rows.map((r) => [r.run, r.cause]));
}

/** What looking for causes at one point gave in other runs of a procedure: of each how often it was looked for, and how often it was that. */
export async function causesLookedFor(db: Database, procedureId: string, except: string): Promise<CauseCounts> {
  const cause = sql<string>`json_extract(${events.act}, '$.id')`;
  const lines = await db
    .select({ cause, tried: count(), helped: sql<number>`sum(json_extract(${events.act}, '$.helped'))` })
    .from(events)
    .innerJoin(runs, eq(runs.id, events.runId))
    .where(
      and(
        sql`json_extract(${events.act}, '$.type') = 'looked'`,
        sql`json_extract(${events.act}, '$.helped') is not null`,
        eq(runs.procedureId, procedureId),
        ne(runs.id, except),
      ),
    )
    .groupBy(cause);
  return Object.fromEntries(lines.map(({ cause, tried, helped }) => [cause, { tried, helped }]));
}

/** Calibrations of some instruments that are signed and stand, the latest first. */
export const signedRunsOf = async (db: Database, instrumentIds: readonly string[]): Promise<RunRow[]> =>
  instrumentIds.length === 0
    ? []
    : db
        .select()
        .from(runs)
        .where(
          and(
            inArray(runs.instrumentId, [...instrumentIds]),
            eq(runs.status, 'finished'),
            eq(runs.purpose, 'calibration'),
            eq(runs.isReviewed, true),
          ),
        )
        .orderBy(desc(runs.finishedAt));
