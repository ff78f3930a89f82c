import { and, asc, eq, gt, inArray, isNull, or, sql } from 'drizzle-orm';
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
/** As a literal: an index that holds only these is not found by a parameter. */
const rang = sql`${checkStandings.isAlarm} = 1`;
const inAlarm = and(rang, or(isNull(instruments.lastCalibrated), sql`not ${isAnswered}`));

/** Instruments of some kinds whose latest check gives an alarm; read from the few that do (`crossJoin` keeps that order). */
export const checksInAlarm = (db: Database, kinds: readonly string[], most: number): Promise<StandingLine[]> =>
  db
    .select(line)
    .from(checkStandings)
    .crossJoin(instruments)
    .where(and(eq(instruments.id, checkStandings.instrumentId), inAlarm, isAsked, inArray(instruments.kind, [...kinds])))
    .orderBy(asc(instruments.identification))
    .limit(most);

/** A check is wanted where the last was made up to a day, or up to a time. */
export type WantedBy = { kind: string; day: string } | { kind: string; at: string };

/** Instruments of some kinds that are to be checked: how many there are, and the first lines, those that are due first. */
export async function wantedChecks(
  db: Database,
  asked: readonly WantedBy[],
  most: number,
): Promise<{ count: number; lines: StandingLine[] }> {
  if (asked.length === 0) return { count: 0, lines: [] };
  const rows = asked.map((by) => sql`(${by.kind}, ${'day' in by ? by.day : null}, ${'at' in by ? by.at : null})`);
  // Where it was never calibrated there is nothing yet to be watched.
  const first = await db.all<{ id: string; n: number }>(sql`
    with asked(kind, day, at) as (values ${sql.join(rows, sql`, `)})
    select ${instruments.id} as id, count(*) over () as n
    from asked
    cross join ${instruments} on ${instruments.kind} = asked.kind
    left join ${checkStandings} on ${checkStandings.instrumentId} = ${instruments.id}
    where ${isAsked} and ${instruments.lastCalibrated} is not null and (
      ${checkStandings.instrumentId} is null or
      ((${checkStandings.lastDay} <= asked.day or ${checkStandings.lastAt} <= asked.at) and not (${inAlarm}))
    )
    order by ${instruments.nextDue}, ${instruments.identification}
    limit ${most}`);
  const lines = await db
    .select(line)
    .from(instruments)
    .leftJoin(checkStandings, eq(instruments.id, checkStandings.instrumentId))
    .where(
      inArray(
        instruments.id,
        first.map((f) => f.id),
      ),
    )
    .orderBy(asc(instruments.nextDue), asc(instruments.identification));
  return { count: first[0]?.n ?? 0, lines };
}
