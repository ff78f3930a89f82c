import { and, asc, desc, eq, gt, inArray, like, sql } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import type { Certificate } from '../core/certificate/certificate';
import type { RecordedEvent } from '../core/run/event-schema';
import type { RunSummary } from '../core/run/run-summary';
import { writing, type Database } from './database';
import { certificates, events, instruments, runs } from './schema';

export type RunRow = typeof runs.$inferSelect;
export type NewEvent = RecordedEvent & { idempotencyKey: string };

/** What a finished or ended run changes outside its log; written in the same transaction as the event. */
export type RunChange = {
  run?: Partial<Pick<RunRow, 'status' | 'finishedAt' | 'certificate' | 'isReviewed'>> & { summary?: RunSummary };
  instrument?: { id: string; lastCalibrated: string; nextDue: string };
  certificate?: Certificate;
};

const recorded = (row: typeof events.$inferSelect): RecordedEvent => ({
  sequence: row.sequence,
  at: row.at,
  person: row.person,
  act: row.act,
  ...(row.clock ? { clock: row.clock } : {}),
});

export const runById = async (db: Database, id: string): Promise<RunRow | undefined> =>
  (await db.select().from(runs).where(eq(runs.id, id)).limit(1))[0];

export async function eventsOfRun(db: Database, runId: string, after = 0): Promise<RecordedEvent[]> {
  const rows = await db
    .select()
    .from(events)
    .where(and(eq(events.runId, runId), gt(events.sequence, after)))
    .orderBy(asc(events.sequence));
  return rows.map(recorded);
}

export async function eventsOfRuns(db: Database, runIds: string[]): Promise<Map<string, RecordedEvent[]>> {
  const logs = new Map<string, RecordedEvent[]>(runIds.map((id) => [id, []]));
  if (runIds.length === 0) return logs;
  const rows = await db
    .select()
    .from(events)
    .where(inArray(events.runId, runIds))
    .orderBy(asc(events.runId), asc(events.sequence));
  for (const row of rows) logs.get(row.runId)!.push(recorded(row));
  return logs;
}

export async function eventByKey(db: Database, runId: string, idempotencyKey: string): Promise<RecordedEvent | undefined> {
  const [row] = await db
    .select()
    .from(events)
    .where(and(eq(events.runId, runId), eq(events.idempotencyKey, idempotencyKey)))
    .limit(1);
  return row && recorded(row);
}

const eventRow = (runId: string, { idempotencyKey, ...event }: NewEvent) => ({ runId, idempotencyKey, ...event });

export async function insertRun(db: Database, row: RunRow, first: NewEvent): Promise<void> {
  await writing(db, () => db.batch([db.insert(runs).values(row), db.insert(events).values(eventRow(row.id, first))]));
}

/** Appends one event and what follows from it, or nothing at all. A taken sequence number makes the insert fail. */
export async function appendEvent(db: Database, runId: string, event: NewEvent, change: RunChange): Promise<void> {
  await writing(db, () =>
    db.batch([
      db.insert(events).values(eventRow(runId, event)),
      ...(change.run ? [db.update(runs).set(change.run).where(eq(runs.id, runId))] : []),
      ...(change.instrument
        ? [
            db
              .update(instruments)
              .set({ lastCalibrated: change.instrument.lastCalibrated, nextDue: change.instrument.nextDue })
              .where(eq(instruments.id, change.instrument.id)),
          ]
        : []),
      ...(change.certificate ? [db.insert(certificates).values(certificateRow(runId, change.certificate))] : []),
    ]),
  );
}

/** Writes a whole finished run at once, for demo data and imports. */
export async function insertWholeRun(db: Database, row: RunRow, log: NewEvent[], certificate?: Certificate): Promise<void> {
  const chunks = Array.from({ length: Math.ceil(log.length / 50) }, (_, i) =>
    db.insert(events).values(log.slice(50 * i, 50 * (i + 1)).map((e) => eventRow(row.id, e))),
  );
  await writing(db, () =>
    db.batch([
      db.insert(runs).values(row),
      ...chunks,
      ...(certificate ? [db.insert(certificates).values(certificateRow(row.id, certificate))] : []),
    ]),
  );
}

/** The digest of a certificate's content as it is kept. */
export const certificateDigest = (content: Certificate): string =>
  createHash('sha256').update(JSON.stringify(content)).digest('hex');

const certificateRow = (runId: string, content: Certificate) => ({
  runId,
  number: content.number,
  content,
  digest: certificateDigest(content),
});

/** The certificate of a run as it was issued; undefined before, and for runs finished before contents were kept. */
export const issuedCertificate = async (db: Database, runId: string) =>
  (await db.select().from(certificates).where(eq(certificates.runId, runId)).limit(1))[0];

export const runsOfInstrument = (db: Database, instrumentId: string): Promise<RunRow[]> =>
  db.select().from(runs).where(eq(runs.instrumentId, instrumentId)).orderBy(desc(runs.startedAt)).limit(200);

/** Every run there is, oldest first: for checking a whole database. */
export const allRuns = (db: Database): Promise<RunRow[]> => db.select().from(runs).orderBy(asc(runs.startedAt));

export const openRuns = (db: Database): Promise<RunRow[]> =>
  db.select().from(runs).where(eq(runs.status, 'open')).orderBy(asc(runs.startedAt)).limit(50);

export const unreviewedRuns = (db: Database): Promise<(RunRow & { identification: string })[]> =>
  db
    .select({ run: runs, identification: instruments.identification })
    .from(runs)
    .innerJoin(instruments, eq(runs.instrumentId, instruments.id))
    .where(and(eq(runs.status, 'finished'), eq(runs.isReviewed, false)))
    .orderBy(asc(runs.finishedAt))
    .limit(50)
    .then((rows) => rows.map((row) => ({ ...row.run, identification: row.identification })));

/** The latest finished run of each of some instruments. */
export async function latestFinishedRuns(db: Database, instrumentIds: string[]): Promise<Map<string, RunRow>> {
  if (instrumentIds.length === 0) return new Map();
  const rows = await db
    .select()
    .from(runs)
    .where(and(inArray(runs.instrumentId, instrumentIds), eq(runs.status, 'finished')))
    .orderBy(asc(runs.startedAt));
  return new Map(rows.map((row) => [row.instrumentId, row]));
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

/** The greatest number given to a certificate with a prefix such as `C26-`; 0 when there is none. */
export async function lastCertificateNumber(db: Database, prefix: string): Promise<number> {
  const [row] = await db
    .select({ last: sql<number | null>`max(cast(substr(${runs.certificate}, ${prefix.length + 1}) as integer))` })
    .from(runs)
    .where(like(runs.certificate, `${prefix}%`));
  return Number(row?.last ?? 0);
}

/** When anything was last recorded in any run; null before the first. */
export async function latestEventTime(db: Database): Promise<string | null> {
  const [row] = await db.select({ at: sql<string | null>`max(${events.at})` }).from(events);
  return row?.at ?? null;
}
