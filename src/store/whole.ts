import { sql } from 'drizzle-orm';
import { createInsertSchema } from 'drizzle-zod';
import type { ExportedRecord } from '../core/seal/record';
import type { RunSummary } from '../core/run/run-summary';
import type { Database } from './database';
import * as schema from './schema';
import { linesAfter, rowsAfter, sealedNames, sealedTable, type SealedName } from './seals';

/*
 * All rows of a laboratory, to be taken out and put into an empty database as they were: with their numbers, their seals and the order in
 * which they were put in. Not among them: passwords, digits and sessions, what is worked out anew, and practice.
 */

/** Tables beside the runs, in an order in which none refers to a later one; certificates of old logs refer to runs. */
export const wholeNames = [
  ...sealedNames.filter((name) => name !== 'runs' && name !== 'certificates'),
  'certificates',
  'seals',
] as (Exclude<SealedName, 'runs'> | 'seals')[];
export type WholeName = (typeof wholeNames)[number];
/** Those that are put in before the runs. */
export const isBeforeRuns = (name: WholeName): boolean => name !== 'certificates' && name !== 'seals';

type Row = Record<string, unknown>;

const tableOf = (name: WholeName) => (name === 'seals' ? schema.seals : sealedTable(name));

/** What a row of a table holds. */
export const rowSchemaOf = (name: WholeName) => createInsertSchema(tableOf(name)).strict();

/** Rows of a table in the order in which they were put in, some at a time. */
export async function* rowsOf(db: Database, name: WholeName, atOnce = 500): AsyncGenerator<Row[]> {
  for (let after = 0; ;) {
    if (name === 'seals') {
      const lines = await linesAfter(db, after, atOnce);
      if (lines.length === 0) return;
      yield lines;
      after = lines.at(-1)!.sequence;
    } else {
      const rows = await rowsAfter(db, name, after, atOnce);
      if (rows.length === 0) return;
      yield rows.map(({ rowNumber: _, ...row }) => row);
      after = rows.at(-1)!.rowNumber;
    }
  }
}

/** The ids of all runs in the order in which they were put in. */
export const runIds = async (db: Database): Promise<string[]> =>
  (
    await db
      .select({ id: schema.runs.id })
      .from(schema.runs)
      .orderBy(sql`rowid`)
  ).map((r) => r.id);

/** Puts rows into a table as they are, with no line of their own in the chain: theirs comes with them. */
export const putRows = (db: Database, name: WholeName, rows: readonly Row[]): Promise<unknown> =>
  db.insert(tableOf(name)).values(rows as never);

/** Puts a run in with its log and its standards as they are; what is worked out of it follows. */
export async function putRun(
  db: Database,
  { run, standards, entries }: ExportedRecord,
  summary: RunSummary | null,
): Promise<void> {
  const row = { ...run, summary, pairs: null } as unknown as typeof schema.runs.$inferInsert;
  const used = standards.map((s) => ({ runId: run.id, ...s, startedAt: row.startedAt }));
  const log = entries.map((e) => ({ ...e, runId: run.id })) as (typeof schema.events.$inferInsert)[];
  await db.batch([
    db.insert(schema.runs).values(row),
    ...(used.length > 0 ? [db.insert(schema.runStandards).values(used)] : []),
    ...Array.from({ length: Math.ceil(log.length / 50) }, (_, i) =>
      db.insert(schema.events).values(log.slice(50 * i, 50 * (i + 1))),
    ),
  ]);
}

/** Whether nobody has entered anything yet: no people, instruments, standards or runs. */
export async function isEmptyLaboratory(db: Database): Promise<boolean> {
  for (const table of [schema.people, schema.instruments, schema.standards, schema.runs])
    if (
      (
        await db
          .select({ one: sql`1` })
          .from(table)
          .limit(1)
      ).length > 0
    )
      return false;
  return true;
}
