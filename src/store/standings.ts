import { and, asc, count, eq, gt, inArray, isNotNull, isNull, lte, or, sql, type SQL } from 'drizzle-orm';
import type { CheckStanding } from '../core/interval/quick-checks';
import { writing, type Database } from './database';
import { checkStandings, instruments, runs } from './schema';

/*
 * How the quick checks of instruments stand: derived from runs, kept so that a list of thousands need not be worked out for a page.
 * What finishes a run takes the standing of its instrument away in the same transaction.
 */

/** What the end of a run does to the standing of its instrument: a check was made at a time, or what went before is seen anew. */
export type CheckChange = { instrument: string; at: string | null };

export const standingChange = (db: Database, { instrument, at }: CheckChange) =>
  at === null
    ? db.update(checkStandings).set({ standing: null, isAlarm: false }).where(eq(checkStandings.instrumentId, instrument))
    : db
        .insert(checkStandings)
        .values({ instrumentId: instrument, lastAt: at })
        .onConflictDoUpdate({
          target: checkStandings.instrumentId,
          set: { lastAt: at, lastDay: null, standing: null, isAlarm: false },
        });

/** Takes all standings away, where what they are worked out by has changed: they are worked out again. */
export const standingsAnew = (db: Database): Promise<unknown> =>
  writing(db, () =>
    db.$client.batch(
      [
        'DELETE FROM check_standings',
        `INSERT INTO check_standings (instrument_id, last_at) SELECT instrument_id, max(finished_at) FROM runs
         WHERE purpose = 'quick' AND status = 'finished' GROUP BY instrument_id`,
      ],
      'write',
    ),
  );

/** Instruments whose standing is to be worked out. */
export const withoutStanding = (db: Database, most: number): Promise<{ id: string; kind: string }[]> =>
  db
    .select({ id: instruments.id, kind: instruments.kind })
    .from(checkStandings)
    .innerJoin(instruments, eq(instruments.id, checkStandings.instrumentId))
    .where(isNull(checkStandings.standing))
    .limit(most);

/** Keeps what was worked out; null where there is no check any more. */
export async function keepStanding(
  db: Database,
  instrumentId: string,
  known: { lastAt: string; lastDay: string; standing: CheckStanding; isAlarm: boolean } | null,
): Promise<void> {
  const one = eq(checkStandings.instrumentId, instrumentId);
  if (known) await db.update(checkStandings).set(known).where(one);
  else await db.delete(checkStandings).where(one);
}

/** Finished runs whose values are still to be worked out from their logs. */
export const runsWithoutPairs = async (db: Database, most: number): Promise<string[]> =>
  (
    await db
      .select({ id: runs.id })
      .from(runs)
      .where(and(sql`${runs.status} = 'finished'`, sql`${runs.pairs} is null`))
      .limit(most)
  ).map((r) => r.id);

const line = {
  id: instruments.id,
  identification: instruments.identification,
  designation: instruments.designation,
  place: instruments.place,
  kind: instruments.kind,
  nextDue: instruments.nextDue,
  lastDay: checkStandings.lastDay,
  standing: checkStandings.standing,
};
export type StandingLine = {
  id: string;
  identification: string;
  designation: string;
  place: string;
  kind: string;
  nextDue: string | null;
  lastDay: string | null;
  standing: CheckStanding | null;
};

/** On no bench and in use. A calibration since its last check has answered what rang. */
const isAsked = and(
  eq(instruments.state, 'in-use'),
  sql`${instruments.id} not in (select instrument_id from ${runs} where status = 'open')`,
);
const isAnswered = gt(instruments.lastCalibrated, checkStandings.lastDay);
const inAlarm = and(eq(checkStandings.isAlarm, true), or(isNull(instruments.lastCalibrated), sql`not ${isAnswered}`));

/** Instruments of some kinds whose latest check gives an alarm. */
export const checksInAlarm = (db: Database, kinds: readonly string[], most: number): Promise<StandingLine[]> =>
  db
    .select(line)
    .from(checkStandings)
    .innerJoin(instruments, eq(instruments.id, checkStandings.instrumentId))
    .where(and(inAlarm, isAsked, inArray(instruments.kind, [...kinds])))
    .orderBy(asc(instruments.identification))
    .limit(most);

/** A check is wanted where the last was made up to a day, or up to a time. */
export type WantedBy = { kind: string; day: string } | { kind: string; at: string };

function wanted(by: WantedBy): SQL {
  const isLong = 'day' in by ? lte(checkStandings.lastDay, by.day) : lte(checkStandings.lastAt, by.at);
  // Where it was never calibrated there is nothing yet to be watched.
  return and(
    eq(instruments.kind, by.kind),
    isAsked,
    isNotNull(instruments.lastCalibrated),
    or(isNull(checkStandings.instrumentId), isLong),
    or(isNull(checkStandings.instrumentId), sql`not (${inAlarm})`),
  )!;
}

/** Instruments of a kind that are to be checked, those that are due first. */
export const wantedChecks = (db: Database, by: WantedBy, most: number): Promise<StandingLine[]> =>
  db
    .select(line)
    .from(instruments)
    .leftJoin(checkStandings, eq(instruments.id, checkStandings.instrumentId))
    .where(wanted(by))
    .orderBy(asc(instruments.nextDue), asc(instruments.identification))
    .limit(most);

export const countWanted = async (db: Database, by: WantedBy): Promise<number> =>
  (
    await db
      .select({ n: count() })
      .from(instruments)
      .leftJoin(checkStandings, eq(instruments.id, checkStandings.instrumentId))
      .where(wanted(by))
  )[0]?.n ?? 0;
