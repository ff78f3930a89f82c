import { and, asc, desc, eq, isNotNull } from 'drizzle-orm';
import type { RecordedEvent } from '../core/acts/registry';
import { readLog } from '../core/log/read-log';
import type { Debrief } from '../core/practice/debrief-shape';
import { writing, type Database } from './database';
import { practiceEvents, practices } from './schema';

export type PracticeRow = typeof practices.$inferSelect;

/** Begins a run to practise on with its first entry. */
export async function beginPractice(
  db: Database,
  row: Omit<PracticeRow, 'endedAt' | 'debrief'>,
  first: RecordedEvent,
): Promise<void> {
  await writing(db, async () => {
    await db.insert(practices).values(row);
    await appendPracticeEvents(db, row.id, [{ ...first, idempotencyKey: row.id }]);
  });
}

export const practiceById = async (db: Database, id: string): Promise<PracticeRow | undefined> =>
  (await db.select().from(practices).where(eq(practices.id, id)).limit(1))[0];

/** What was done in a practice, in order. */
export async function practiceLog(db: Database, id: string): Promise<RecordedEvent[]> {
  const rows = await db
    .select()
    .from(practiceEvents)
    .where(eq(practiceEvents.practiceId, id))
    .orderBy(asc(practiceEvents.sequence));
  return rows.length ? readLog(rows.map(({ sequence, at, person, act }) => ({ sequence, at, person, act }))) : [];
}

/** Whether something was recorded under a key already, and as which entry. */
export async function practiceEntryByKey(db: Database, id: string, idempotencyKey: string): Promise<number | null> {
  const [row] = await db
    .select({ sequence: practiceEvents.sequence })
    .from(practiceEvents)
    .where(and(eq(practiceEvents.practiceId, id), eq(practiceEvents.idempotencyKey, idempotencyKey)));
  return row?.sequence ?? null;
}

export async function appendPracticeEvents(
  db: Database,
  id: string,
  events: readonly (RecordedEvent & { idempotencyKey: string })[],
): Promise<void> {
  for (const { sequence, at, person, act, idempotencyKey } of events)
    await db.insert(practiceEvents).values({ practiceId: id, sequence, at, person, act, idempotencyKey });
}

/** A practice is over: how it went. */
export const endPractice = async (db: Database, id: string, endedAt: string, debrief: Debrief): Promise<void> =>
  writing(db, async () => {
    await db.update(practices).set({ endedAt, debrief }).where(eq(practices.id, id));
  });

/** Practices of everybody that are over, latest first; of each what became of it. */
export const endedPractices = (db: Database): Promise<PracticeRow[]> =>
  db.select().from(practices).where(isNotNull(practices.endedAt)).orderBy(desc(practices.endedAt)).limit(mostListed);
const mostListed = 2000;

/** Practices of a person that are still on the bench. */
export const openPractices = async (db: Database, person: string): Promise<PracticeRow[]> =>
  (await db.select().from(practices).where(eq(practices.person, person)).orderBy(desc(practices.startedAt)).limit(50)).filter(
    (p) => p.endedAt === null,
  );
