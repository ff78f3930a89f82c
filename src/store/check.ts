import { accessSync, constants, existsSync, mkdirSync, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { createClient } from '@libsql/client';
import type { Database } from './database';

/** A database that cannot be served, in a sentence that says what to do. */
export class DatabaseUnusableError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'DatabaseUnusableError';
  }
}

const restore = 'Restore the latest backup (npm run restore -- <backup file>), or name another file in DATABASE_URL.';

/**
 * Looks at a local database before it is opened for work: it can be read and written, it is one, and it is whole.
 * @throws DatabaseUnusableError saying what is wrong and what to do
 */
export async function checkDatabaseFile(file: string): Promise<void> {
  const folder = dirname(file) || '.';
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.W_OK);
  } catch {
    throw new DatabaseUnusableError(
      `The folder ${folder} cannot be made or written to. Make it and allow this user to write there, or name another file in DATABASE_URL.`,
    );
  }
  if (!existsSync(file)) return;
  const stat = statSync(file);
  if (!stat.isFile()) throw new DatabaseUnusableError(`${file} is not a file. Name a file in DATABASE_URL.`);
  if (stat.size === 0)
    throw new DatabaseUnusableError(
      `The database ${file} is empty (0 bytes), which no database of Just Twice ever is. ${restore} To begin with nothing, remove the empty file.`,
    );
  // Write permission is looked at in the mode bits too: root may write what nobody should.
  if ((stat.mode & 0o200) === 0 || !canWrite(file))
    throw new DatabaseUnusableError(
      `The database ${file} is read-only. Allow this user to write to it (chmod u+w), or name another file in DATABASE_URL.`,
    );
  const fault = await quickCheck(file);
  if (fault) throw new DatabaseUnusableError(`The database ${file} is damaged (${fault}). Keep it aside. ${restore}`);
  const foreign = await notOurs(file);
  if (foreign) throw new DatabaseUnusableError(`The database ${file} cannot be used: ${foreign} Nothing was changed. ${restore}`);
}

/** Tables without which a database is none of this program's. */
const ownTables = ['__drizzle_migrations', 'events', 'instruments', 'runs'];

/** How many migrations this program knows: the newest schema that it can serve. */
async function newestSchema(): Promise<number> {
  const journal: unknown = JSON.parse(await readFile('src/store/migrations/meta/_journal.json', 'utf8'));
  return (journal as { entries: unknown[] }).entries.length;
}

/** Why a whole database is not one that this program can serve, in a sentence; null where it is one. */
export async function notOurs(file: string): Promise<string | null> {
  const client = createClient({ url: `file:${file}` });
  try {
    const { rows } = await client.execute(`SELECT name FROM sqlite_master WHERE type = 'table'`);
    const tables = new Set(rows.map((r) => String(r[0])));
    if (!ownTables.every((name) => tables.has(name)))
      return tables.size === 0 ? 'there is nothing in it.' : 'it holds the data of another program.';
    const { rows: count } = await client.execute('SELECT count(*) FROM __drizzle_migrations');
    const [version, newest] = [Number(count[0]![0]), await newestSchema()];
    return version > newest
      ? `it was written by a newer Just Twice (its data have shape ${version}, this one knows ${newest}). Start that one.`
      : null;
  } finally {
    client.close();
  }
}

function canWrite(file: string): boolean {
  try {
    accessSync(file, constants.R_OK | constants.W_OK);
    return true;
  } catch {
    return false;
  }
}

/** What `PRAGMA quick_check` finds; null when the database is whole. */
export async function quickCheck(file: string): Promise<string | null> {
  try {
    const client = createClient({ url: `file:${file}` });
    try {
      const { rows } = await client.execute('PRAGMA quick_check(1)');
      const said = String(rows[0]?.[0] ?? 'no answer');
      return said === 'ok' ? null : said.split('\n')[0]!.slice(0, 120);
    } finally {
      client.close();
    }
  } catch (error) {
    return error instanceof Error ? error.message.replace(/^SQLITE_\w+: /, '') : 'it cannot be read';
  }
}

/** How many migrations a database has been through: the version of its schema. */
export async function schemaVersion(db: Database): Promise<number> {
  const { rows } = await db.$client.execute('SELECT count(*) FROM __drizzle_migrations');
  return Number(rows[0]![0]);
}
