import { and, asc, count, desc, eq, gte, inArray, isNotNull, isNull, lte, or, sql } from 'drizzle-orm';
import type { SetPolicy } from '../core/interval/policy';
import type { PolicyLine } from '../core/interval/policy-board';
import type { RunPairs } from '../core/interval/visit';
import type { RunSummary } from '../core/run/run-summary';
import { touch, writing, type Database } from './database';
import { changed, made, nextNumber, writeSealed } from './seals';
import { instruments, movedDates, outings, policies, runs, useCounts } from './schema';

/** Policies that hold: the latest line of each scope and subject, where it is not taken back. */
export async function currentPolicies(db: Database): Promise<SetPolicy[]> {
  const rows = await db.select().from(policies).orderBy(asc(policies.sequence));
  const latest = new Map(rows.map((r) => [`${r.scope}|${r.subject}`, r]));
  return [...latest.values()].flatMap(({ scope, subject, policy }) => (policy ? [{ scope, subject, policy }] : []));
}

export const appendPolicy = (db: Database, line: PolicyLine): Promise<void> =>
  writing(db, async () => {
    const row = { sequence: await nextNumber(db, policies), ...line };
    await writeSealed(db, [db.insert(policies).values(row)], [made('policies', row)]);
  });

/** How a policy came to be what it is, latest first. */
export const policyLines = (db: Database): Promise<PolicyLine[]> =>
  db.select().from(policies).orderBy(desc(policies.sequence)).limit(200);

export type CalibrationRow = {
  run: string;
  instrumentId: string;
  procedureId: string;
  procedureRevision: number;
  finishedAt: string;
  summary: RunSummary | null;
  certificate: string | null;
};

/** SQLite takes no more names in one question than some ten thousand. */
const mostAtOnce = 5000;

/** Asks for many ids, some thousands at a time; rows come in the order of the ids' parts. */
async function inParts<T>(ids: readonly string[], ask: (part: string[]) => Promise<T[]>): Promise<T[]> {
  const parts: T[] = [];
  for (let i = 0; i < ids.length; i += mostAtOnce) for (const row of await ask(ids.slice(i, i + mostAtOnce))) parts.push(row);
  return parts;
}

const calibrationColumns = {
  run: runs.id,
  instrumentId: runs.instrumentId,
  procedureId: runs.procedureId,
  procedureRevision: runs.procedureRevision,
  finishedAt: runs.finishedAt,
  summary: runs.summary,
  certificate: runs.certificate,
};
const isCalibration = and(eq(runs.purpose, 'calibration'), eq(runs.status, 'finished'), isNotNull(runs.finishedAt));

const asCalibrations = (rows: (Omit<CalibrationRow, 'finishedAt'> & { finishedAt: string | null })[]): CalibrationRow[] =>
  rows.map((r) => ({ ...r, finishedAt: r.finishedAt! }));

/** Finished calibrations of some instruments, of each the oldest first. */
export const calibrationsOf = async (db: Database, instrumentIds: readonly string[]): Promise<CalibrationRow[]> =>
  asCalibrations(
    await inParts(instrumentIds, (part) =>
      db
        .select(calibrationColumns)
        .from(runs)
        .where(and(isCalibration, inArray(runs.instrumentId, part)))
        .orderBy(asc(runs.finishedAt)),
    ),
  );

/** The values of calibrations by run; null where they were not kept yet. */
export async function pairsOfRuns(db: Database, runIds: readonly string[]): Promise<Map<string, RunPairs | null>> {
  const rows = await inParts(runIds, (part) =>
    db.select({ id: runs.id, pairs: runs.pairs }).from(runs).where(inArray(runs.id, part)),
  );
  return new Map(rows.map((r) => [r.id, r.pairs]));
}

export const keepPairs = (db: Database, run: string, pairs: RunPairs): Promise<unknown> =>
  writing(db, () => db.update(runs).set({ pairs }).where(eq(runs.id, run)));

export type QuickRow = { run: string; instrumentId: string; finishedAt: string; pairs: RunPairs | null };

/** Finished quick checks of some instruments, of each the oldest first. */
export async function quickRuns(db: Database, instrumentIds: readonly string[]): Promise<QuickRow[]> {
  const isQuick = and(eq(runs.purpose, 'quick'), eq(runs.status, 'finished'));
  const rows = await inParts(instrumentIds, (part) =>
    db
      .select({ run: runs.id, instrumentId: runs.instrumentId, finishedAt: runs.finishedAt, pairs: runs.pairs })
      .from(runs)
      .where(and(isQuick, inArray(runs.instrumentId, part)))
      .orderBy(asc(runs.finishedAt)),
  );
  return rows.map((r) => ({ ...r, finishedAt: r.finishedAt! }));
}

/** When an instrument was last checked quickly; null where it never was. */
export const latestQuickRun = async (db: Database, instrumentId: string): Promise<string | null> =>
  (
    await db
      .select({ at: sql<string | null>`max(${runs.finishedAt})` })
      .from(runs)
      .where(and(eq(runs.purpose, 'quick'), eq(runs.status, 'finished'), eq(runs.instrumentId, instrumentId)))
  )[0]?.at ?? null;

export type UseCountRow = { instrumentId: string; day: string; count: number };

export const countsOf = (db: Database, instrumentIds: readonly string[]): Promise<UseCountRow[]> =>
  inParts(instrumentIds, (part) =>
    db
      .select({ instrumentId: useCounts.instrumentId, day: useCounts.day, count: useCounts.count })
      .from(useCounts)
      .where(inArray(useCounts.instrumentId, part))
      .orderBy(asc(useCounts.day), asc(useCounts.sequence)),
  );

export const appendCount = (db: Database, count: UseCountRow & { at: string; person: string }): Promise<void> =>
  writing(db, async () => {
    const row = { sequence: await nextNumber(db, useCounts), ...count };
    await writeSealed(db, [db.insert(useCounts).values(row)], [made('useCounts', row)]);
  });

export type Outing = { instrumentId: string; what: 'out' | 'back'; place: string; at: string; person: string };

/** When an instrument was taken out, or came back, last; undefined where it never was. */
export const latestOuting = async (db: Database, instrumentId: string): Promise<Outing | undefined> =>
  (await db.select().from(outings).where(eq(outings.instrumentId, instrumentId)).orderBy(desc(outings.sequence)).limit(1))[0];

/** Takes an instrument out, or back with what it was used for: both or neither. */
export const appendOuting = (
  db: Database,
  outing: Outing,
  count: (UseCountRow & { at: string; person: string }) | null,
): Promise<void> =>
  writing(db, async () => {
    const row = { sequence: await nextNumber(db, outings), ...outing };
    const counts = count ? [{ sequence: await nextNumber(db, useCounts), ...count }] : [];
    await writeSealed(
      db,
      [db.insert(outings).values(row), ...counts.map((c) => db.insert(useCounts).values(c))],
      [made('outings', row), ...counts.map((c) => made('useCounts', c))],
    );
  });

export type MovedDate = {
  instrumentId: string;
  before: string | null;
  after: string;
  reason: string;
  at: string;
  person: string;
};

/** Moves due dates, each with its line: all of them or none. */
export async function moveDates(db: Database, moved: readonly MovedDate[]): Promise<void> {
  await writing(db, async () => {
    const first = await nextNumber(db, movedDates);
    const rows = moved.map((m, i) => ({ sequence: first + i, ...m }));
    await writeSealed(
      db,
      rows.flatMap((row) => [
        db.insert(movedDates).values(row),
        db.update(instruments).set({ nextDue: row.after }).where(eq(instruments.id, row.instrumentId)),
      ]),
      rows.flatMap((row) => [made('movedDates', row), changed('instruments', { id: row.instrumentId }, { nextDue: row.after })]),
    );
  });
  for (const { instrumentId } of moved) touch(db, instrumentId);
}

export const movesOf = (db: Database, instrumentId: string): Promise<MovedDate[]> =>
  db.select().from(movedDates).where(eq(movedDates.instrumentId, instrumentId)).orderBy(desc(movedDates.sequence));

/** The latest move of each instrument's date. */
export async function latestMoves(db: Database): Promise<Map<string, MovedDate>> {
  const rows = await db.select().from(movedDates).orderBy(asc(movedDates.sequence));
  return new Map(rows.map((row) => [row.instrumentId, row]));
}

export type DueFilter = { owner?: string | undefined; place?: string | undefined };

const inUseOf = ({ owner, place }: DueFilter) =>
  and(
    eq(instruments.state, 'in-use'),
    owner ? eq(instruments.owner, owner) : undefined,
    place ? eq(instruments.place, place) : undefined,
  );

/** How many instruments in use come due on each day; null where nothing is known of it. */
export const dueDays = (db: Database, filter: DueFilter): Promise<{ day: string | null; n: number }[]> =>
  db
    .select({ day: instruments.nextDue, n: count() })
    .from(instruments)
    .where(inUseOf(filter))
    .groupBy(instruments.nextDue)
    .orderBy(asc(instruments.nextDue));

const dueColumns = {
  id: instruments.id,
  identification: instruments.identification,
  designation: instruments.designation,
  kind: instruments.kind,
  owner: instruments.owner,
  place: instruments.place,
  nextDue: instruments.nextDue,
};
export type DueRow = { [column in keyof typeof dueColumns]: (typeof instruments.$inferSelect)[column] };

/**
 * Instruments in use in the order of their dates, those without one first.
 * @param days within both; without `from` all that come due up to `until`, or have no date
 */
export const dueLines = (
  db: Database,
  filter: DueFilter,
  { from, until }: { from?: string | undefined; until: string },
  { offset, most }: { offset: number; most: number },
): Promise<DueRow[]> =>
  db
    .select(dueColumns)
    .from(instruments)
    .where(
      and(
        inUseOf(filter),
        from === undefined
          ? or(isNull(instruments.nextDue), lte(instruments.nextDue, until))
          : and(gte(instruments.nextDue, from), lte(instruments.nextDue, until)),
      ),
    )
    .orderBy(asc(instruments.nextDue), asc(instruments.identification))
    .limit(most)
    .offset(offset);

/** Instruments in use that have a date, in the order in which they were entered, after one of them. */
export const datedAfter = (
  db: Database,
  filter: DueFilter,
  after: number,
  most: number,
): Promise<(DueRow & { entered: number })[]> =>
  db
    .select({ ...dueColumns, entered: sql<number>`${instruments}.rowid` })
    .from(instruments)
    // By no index but that of the rows: a plus before a column takes it out of the others.
    .where(
      and(
        sql`+${instruments.state} = 'in-use'`,
        filter.owner ? sql`+${instruments.owner} = ${filter.owner}` : undefined,
        filter.place ? sql`+${instruments.place} = ${filter.place}` : undefined,
        isNotNull(instruments.nextDue),
        sql`${instruments}.rowid > ${after}`,
      ),
    )
    .orderBy(sql`${instruments}.rowid`)
    .limit(most);
