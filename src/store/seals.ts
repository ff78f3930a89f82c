import { createHash } from 'node:crypto';
import { and, asc, count, desc, eq, gt, inArray, lte, sql } from 'drizzle-orm';
import type { BatchItem } from 'drizzle-orm/batch';
import { getTableColumns, getTableName } from 'drizzle-orm';
import { alias, type SQLiteColumn, type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { chained, partOf, partsOf, type Head, type Parts, type SealLine } from '../core/seal/seal';
import { isUniqueViolation, writing, type Database } from './database';
import * as schema from './schema';

/*
 * Whatever is written into a table that is a record makes a line in the chain of the laboratory, in the same transaction. A line says
 * what was written, not what the row holds: a column that somebody changed behind the application's back is not sealed in passing.
 */

/** SHA-256 of a text, in base64url. */
export const sha256 = (text: string): string => createHash('sha256').update(text).digest('base64url');

/** Tables that are records, what tells a row of them from another, and columns that are derived from elsewhere and made anew at will. */
const sealed = {
  laboratory: { of: schema.laboratory, key: ['id'] },
  facts: { of: schema.facts, key: ['key'] },
  people: { of: schema.people, key: ['id'] },
  instruments: { of: schema.instruments, key: ['id'] },
  standards: { of: schema.standards, key: ['id'] },
  formerCertificates: { of: schema.formerCertificates, key: ['standardId', 'number', 'replacedAt'] },
  procedures: { of: schema.procedures, key: ['id', 'revision'] },
  runs: { of: schema.runs, key: ['id'], derived: ['summary', 'pairs'] },
  certificates: { of: schema.certificates, key: ['runId'] },
  budgets: { of: schema.budgets, key: ['id'] },
  policies: { of: schema.policies, key: ['sequence'] },
  modelCards: { of: schema.modelCards, key: ['kind', 'model', 'version'] },
  findings: { of: schema.findings, key: ['sequence'] },
  useCounts: { of: schema.useCounts, key: ['sequence'] },
  outings: { of: schema.outings, key: ['sequence'] },
  movedDates: { of: schema.movedDates, key: ['sequence'] },
  tokens: { of: schema.tokens, key: ['id'] },
  competences: { of: schema.competences, key: ['id'] },
  deeds: { of: schema.deeds, key: ['sequence'] },
} satisfies Record<string, { of: SQLiteTable; key: readonly string[]; derived?: readonly string[] }>;

export type SealedName = keyof typeof sealed;
export const sealedNames = Object.keys(sealed) as SealedName[];
type Values = Readonly<Record<string, unknown>>;

/** What is written of a run beside its columns. */
type Beside = { log?: string; standards?: string; finished?: string };

/** A line on its way into the chain. */
export type Draft = Pick<SealLine, 'what' | 'table' | 'row' | 'parts'>;

export const sealedTable = (name: SealedName): SQLiteTable => sealed[name].of;
export const tableName = (name: SealedName): string => getTableName(sealed[name].of);

const columnsOf = (name: SealedName): Record<string, SQLiteColumn> => getTableColumns(sealed[name].of);

/** What tells a row from others, in one text. */
export const rowKey = (name: SealedName, values: Values): string => sealed[name].key.map((k) => String(values[k])).join('|');

const isKept = (name: SealedName, column: string): boolean =>
  !((sealed[name] as { derived?: readonly string[] }).derived ?? []).includes(column);

/** Columns of a table that are sealed. */
export const sealedColumns = (name: SealedName): string[] => Object.keys(columnsOf(name)).filter((c) => isKept(name, c));

/** Digests of the columns of a row that are there. */
const partsOfRow = (name: SealedName, values: Values): Parts =>
  partsOf(
    Object.fromEntries(
      sealedColumns(name)
        .filter((column) => values[column] !== undefined)
        .map((column) => [column, values[column]]),
    ),
    sha256,
  );

/** A row as it is put in: columns that are not given hold what the table says of them. */
const withDefaults = (name: SealedName, values: Values): Values =>
  Object.fromEntries(
    Object.entries(columnsOf(name)).map(([column, { default: preset }]) => [
      column,
      values[column] === undefined ? (preset ?? null) : values[column],
    ]),
  );

/** Digests of all columns of a row as it lies in the store, of those that are sealed. */
export const partsOfStored = (name: SealedName, row: Values): Parts => partsOfRow(name, withDefaults(name, row));

const draft = (what: Draft['what'], name: SealedName, row: string, parts: Parts): Draft => ({
  what,
  table: tableName(name),
  row,
  parts,
});

export const made = (name: SealedName, values: Values, beside: Beside = {}): Draft =>
  draft('made', name, rowKey(name, values), { ...partsOfStored(name, values), ...beside });
export const changed = (name: SealedName, key: Values, set: Values, beside: Beside = {}): Draft =>
  draft('changed', name, rowKey(name, key), { ...partsOfRow(name, set), ...beside });
export const removed = (name: SealedName, key: Values): Draft => draft('removed', name, rowKey(name, key), {});

/** The end of the chain; null before its first line. */
export async function headOfChain(db: Database): Promise<Head | null> {
  const [last] = await db
    .select({ sequence: schema.seals.sequence, hash: schema.seals.hash })
    .from(schema.seals)
    .orderBy(desc(schema.seals.sequence))
    .limit(1);
  return last ?? null;
}

/** Where another process, on the same remote database, was first with a line. */
const isTakenLine = (error: unknown): boolean =>
  isUniqueViolation(error) && /seals\.sequence/.test(error instanceof Error ? `${error.message} ${String(error.cause)}` : '');
const mostTries = 20;

type Statement = BatchItem<'sqlite'>;

/** Writes statements and the lines that say so, all or nothing. */
export const writeSealed = (db: Database, statements: readonly Statement[], drafts: readonly Draft[]): Promise<void> =>
  writing(db, async () => {
    for (let tries = 1; ; tries++) {
      const at = new Date().toISOString();
      const lines = chained(
        await headOfChain(db),
        drafts.map((d) => ({ at, ...d })),
        sha256,
      );
      const inserts = Array.from({ length: Math.ceil(lines.length / 100) }, (_, i) =>
        db.insert(schema.seals).values(lines.slice(100 * i, 100 * (i + 1))),
      );
      const [first, ...more] = [...statements, ...inserts];
      if (!first) return;
      try {
        await db.batch([first, ...more]);
        return;
      } catch (error) {
        if (!isTakenLine(error) || tries === mostTries) throw error;
      }
    }
  });

/** The number of the next row of a table whose rows are numbered. */
export async function nextNumber(db: Database, table: SQLiteTable & { sequence: SQLiteColumn }): Promise<number> {
  const [row] = await db.select({ last: sql<number | null>`max(${table.sequence})` }).from(table);
  return (row?.last ?? 0) + 1;
}

/** The number of the row that was put in last; 0 where there is none. */
export async function lastRowNumber(db: Database, name: SealedName): Promise<number> {
  const table = sealed[name].of;
  const [row] = await db.select({ last: sql<number | null>`max(${table}.rowid)` }).from(table);
  return row?.last ?? 0;
}

/** Some rows of a table in the order in which they were put in, after one of them; each with its number there. */
export async function rowsAfter(
  db: Database,
  name: SealedName,
  after: number,
  most: number,
): Promise<(Values & { rowNumber: number })[]> {
  const table = sealed[name].of;
  const rows = await db
    .select({ ...columnsOf(name), rowNumber: sql<number>`${table}.rowid` })
    .from(table)
    .where(sql`${table}.rowid > ${after}`)
    .orderBy(sql`${table}.rowid`)
    .limit(most);
  return rows as unknown as (Values & { rowNumber: number })[];
}

/** What the chain says of some rows: whether they are there, and the digests of what was written last into each of their columns. */
export async function sealsOfRows(
  db: Database,
  name: SealedName,
  rows: readonly string[],
): Promise<Map<string, { isThere: boolean; isMade: boolean; parts: Parts }>> {
  const { seals } = schema;
  const lines = await db
    .select({ what: seals.what, row: seals.row, parts: seals.parts })
    .from(seals)
    .where(and(eq(seals.table, tableName(name)), inArray(seals.row, [...rows])))
    .orderBy(asc(seals.sequence));
  const known = new Map<string, { isThere: boolean; isMade: boolean; parts: Parts }>();
  for (const { what, row, parts } of lines) {
    const before = known.get(row);
    // What stood there before there were seals is read late: what was written meanwhile holds.
    const all = what === 'found' ? { ...parts, ...before?.parts } : what === 'made' ? parts : { ...before?.parts, ...parts };
    known.set(row, { isThere: what !== 'removed', isMade: what === 'made' || (before?.isMade ?? false), parts: all });
  }
  return known;
}

/** Rows that were there by the chain up to one of its lines, some at a time, in the order of their keys. */
export async function* rowsInChain(db: Database, name: SealedName, upTo: number, atOnce = 500): AsyncGenerator<string[]> {
  const { seals } = schema;
  for (let after = ''; ;) {
    const part = await db
      .select({ row: seals.row, last: sql<number>`max(${seals.sequence})` })
      .from(seals)
      .where(and(eq(seals.table, tableName(name)), gt(seals.row, after), lte(seals.sequence, upTo)))
      .groupBy(seals.row)
      .orderBy(asc(seals.row))
      .limit(atOnce);
    if (part.length === 0) return;
    const gone = await db
      .select({ row: seals.row })
      .from(seals)
      .where(
        and(
          inArray(
            seals.sequence,
            part.map((p) => p.last),
          ),
          eq(seals.what, 'removed'),
        ),
      );
    const removedRows = new Set(gone.map((g) => g.row));
    yield part.map((p) => p.row).filter((row) => !removedRows.has(row));
    after = part.at(-1)!.row;
  }
}

/** Lines of the chain after one of them, in order. */
export const linesAfter = (db: Database, after: number, most: number): Promise<SealLine[]> =>
  db.select().from(schema.seals).where(gt(schema.seals.sequence, after)).orderBy(asc(schema.seals.sequence)).limit(most);

/** The line that says so. */
export const completion: Draft = { what: 'complete', table: 'seals', row: '', parts: {} };

/** When the chain was complete: from then on every row has its lines; null while older data is being sealed, or before. */
export async function sealedSince(db: Database): Promise<string | null> {
  const { seals } = schema;
  const [line] = await db
    .select({ at: seals.at })
    .from(seals)
    // By the row that the line is of: there is an index for that.
    .where(and(eq(seals.table, completion.table), eq(seals.row, completion.row)))
    .limit(1);
  return line?.at ?? null;
}

export const foundRow = (name: SealedName, row: Values, beside: Beside = {}): Draft => ({
  ...made(name, row, beside),
  what: 'found',
});

/** One digest of a row, as it was written last; undefined where it never was. */
export const sealedPart = async (db: Database, run: string, part: string): Promise<string | undefined> =>
  (await sealsOfRows(db, 'runs', [run])).get(run)?.parts[part];

/** The lines that the chain has of a run, each with the hash of the line before it. */
export async function linesOfRun(db: Database, run: string): Promise<(SealLine & { before: string })[]> {
  const { seals } = schema;
  const before = alias(seals, 'before');
  const rows = await db
    .select({ line: seals, before: before.hash })
    .from(seals)
    .leftJoin(before, eq(before.sequence, sql`${seals.sequence} - 1`))
    .where(and(eq(seals.table, tableName('runs')), eq(seals.row, run)))
    .orderBy(asc(seals.sequence));
  return rows.map((r) => ({ ...r.line, before: r.before ?? '' }));
}

/** The line of the chain by which a run was sealed with a certificate; null where it never was. */
export async function sealOfIssue(db: Database, run: string, certificate: string): Promise<Head | null> {
  const part = partOf(certificate, sha256);
  const line = (await linesOfRun(db, run)).findLast((l) => l.parts['certificate'] === part);
  return line ? { sequence: line.sequence, hash: line.hash } : null;
}

/** How many rows there are in all tables that are sealed. */
export async function countSealed(db: Database): Promise<number> {
  let all = 0;
  for (const name of sealedNames) all += (await db.select({ n: count() }).from(sealed[name].of))[0]?.n ?? 0;
  return all;
}
