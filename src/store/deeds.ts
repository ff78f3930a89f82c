import { and, desc, eq, gte, inArray, like, lt, or, sql, type SQL } from 'drizzle-orm';
import { writing, type Database } from './database';
import { deeds, events, instruments, runs } from './schema';
import { made, nextNumber, writeSealed } from './seals';

export type DeedRow = typeof deeds.$inferSelect;

/** Notes what somebody did. */
export const addDeed = (db: Database, deed: Omit<DeedRow, 'sequence'>): Promise<void> =>
  writing(db, async () => {
    const row = { sequence: await nextNumber(db, deeds), ...deed };
    await writeSealed(db, [db.insert(deeds).values(row)], [made('deeds', row)]);
  });

export type DeedQuery = {
  person?: string | undefined;
  text?: string | undefined;
  from?: string | undefined;
  to?: string | undefined;
};

const asked = ({ person, text, from, to }: DeedQuery): SQL | undefined =>
  and(
    person ? eq(deeds.person, person) : undefined,
    text
      ? or(...[deeds.what, deeds.subject, deeds.detail, deeds.by].map((column) => like(column, `%${text.replace(/[%_]/g, '')}%`)))
      : undefined,
    from ? gte(deeds.at, from) : undefined,
    to ? lt(deeds.at, to) : undefined,
  );

export const findDeeds = (db: Database, query: DeedQuery, limit: number): Promise<DeedRow[]> =>
  db.select().from(deeds).where(asked(query)).orderBy(desc(deeds.sequence)).limit(limit);

export type ActRow = {
  at: string;
  person: string;
  type: string;
  run: string;
  identification: string;
  certificate: string | null;
  token: string | null;
};

/** Acts of some kinds, of all runs, the latest first. @param from @param to ISO times: from the first, before the second */
export const findActs = (
  db: Database,
  { types, person, text, from, to }: { types: readonly string[]; person?: string; text?: string; from?: string; to?: string },
  limit: number,
): Promise<ActRow[]> => {
  const type = sql<string>`json_extract(${events.act}, '$.type')`;
  return db
    .select({
      at: events.at,
      person: events.person,
      type,
      run: events.runId,
      identification: instruments.identification,
      certificate: runs.certificate,
      token: events.token,
    })
    .from(events)
    .innerJoin(runs, eq(runs.id, events.runId))
    .innerJoin(instruments, eq(instruments.id, runs.instrumentId))
    .where(
      and(
        inArray(type, [...types]),
        person ? eq(events.person, person) : undefined,
        from ? gte(events.at, from) : undefined,
        to ? lt(events.at, to) : undefined,
        text
          ? sql`(instr(lower(${instruments.identification}), lower(${text})) or instr(lower(coalesce(${runs.certificate}, '')), lower(${text})))`
          : undefined,
      ),
    )
    .orderBy(desc(events.at), desc(events.sequence))
    .limit(limit);
};
