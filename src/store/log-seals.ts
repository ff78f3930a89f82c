import { and, asc, eq } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import type { RecordedEvent } from '../core/acts/registry';
import { headOfLog, partOf, sealOfEntry, type EntrySeal, type SealedEntry } from '../core/seal/seal';
import type { Database } from './database';
import type { NewEvent, RunStandard } from './run-log';
import { events } from './schema';
import { sha256 } from './seals';

/* Digests and seals of logs as they lie in the store. */

/** SHA-256 over entries of a log, each as its columns lie in the store. */
function digestOfRows(rows: Iterable<readonly unknown[]>): string {
  const hash = createHash('sha256');
  for (const row of rows) hash.update(`${JSON.stringify(row)}\n`);
  return hash.digest('hex');
}

/** SHA-256 of the entries of a log up to a number, as they lie in the store: another reading, another time, another name is another digest. */
export async function logDigest(db: Database, runId: string, upTo: number): Promise<string> {
  const { rows } = await db.$client.execute({
    sql: 'SELECT sequence, at, person, act, clock, done FROM events WHERE run_id = ? AND sequence <= ? ORDER BY sequence',
    args: [runId, upTo],
  });
  return digestOfRows(rows.map((row) => [0, 1, 2, 3, 4, 5].map((i) => row[i] ?? null)));
}

/** The same of entries as their columns lie in the store. */
export const digestOfStored = (rows: readonly Record<string, unknown>[]): string =>
  digestOfRows(rows.map((r) => [r.sequence, r.at, r.person, r.act, r.clock ?? null, r.done ?? null]));

/** The same of entries that are on their way into the store. */
export const digestOfNew = (entries: readonly RecordedEvent[]): string =>
  digestOfRows(
    entries.map(({ sequence, at, person, act, clock, done }) => [
      sequence,
      at,
      person,
      JSON.stringify(act),
      clock ? JSON.stringify(clock) : null,
      done ? JSON.stringify(done) : null,
    ]),
  );

/** A row of the log with its seal, which follows on that of the entry before. */
export const eventRow = (runId: string, { idempotencyKey, ...event }: NewEvent, before: string) => ({
  runId,
  idempotencyKey,
  ...event,
  seal: sealOfEntry(runId, before, { ...event, idempotencyKey }, sha256),
});

/** Rows of a log from its first entry on. */
export function eventRows(runId: string, log: readonly NewEvent[]): ReturnType<typeof eventRow>[] {
  let before = '';
  return log.map((event) => {
    const row = eventRow(runId, event, before);
    before = row.seal.hash;
    return row;
  });
}

/** The entries of a log as they lie in the store, with their seals. */
export const sealedEntries = (db: Database, runId: string): Promise<(SealedEntry & { seal: EntrySeal | null })[]> =>
  db.select().from(events).where(eq(events.runId, runId)).orderBy(asc(events.sequence));

/** The hash of an entry; of one that was recorded before entries were sealed it is worked out from the log. */
export async function hashOfEntry(db: Database, runId: string, sequence: number): Promise<string> {
  if (sequence < 1) return '';
  const [row] = await db
    .select({ seal: events.seal })
    .from(events)
    .where(and(eq(events.runId, runId), eq(events.sequence, sequence)));
  if (row?.seal) return row.seal.hash;
  return headOfLog(
    runId,
    (await sealedEntries(db, runId)).filter((e) => e.sequence <= sequence),
    sha256,
  );
}

/** Which standards a run uses, as one digest. */
export const standardsPart = (used: readonly RunStandard[]): string =>
  partOf(used.map((u) => `${u.role} ${u.standardId}`).sort(), sha256);
