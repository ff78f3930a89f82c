import { AsyncLocalStorage } from 'node:async_hooks';
import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import { createClient, type Client } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { readConfiguration, type Configuration } from './configuration';
import * as schema from './schema';

export type Database = LibSQLDatabase<typeof schema> & { $client: Client };

/** The database is held by somebody else for longer than a person would wait. Nothing was written; the same request may be sent again. */
export class StoreBusyError extends Error {
  constructor() {
    super('The database is in use by another program. Nothing was recorded; try again in a moment.');
    this.name = 'StoreBusyError';
  }
}

/** How long SQLite itself waits for a lock, in ms. Short: its wait stops this process; `writing` waits without stopping it. */
const lockWait = 100;

/** How long a write is tried again while somebody else holds the lock, in ms. */
const writePatience = 20_000;

/** The file of a local database; null for a remote one. */
export const databaseFile = (url: string): string | null => (url.startsWith('file:') ? url.slice('file:'.length) : null);

/** A connection's settings: SQLite keeps them for one connection only, so a fresh one needs them again. */
async function configure(client: Client, isLocal: boolean): Promise<void> {
  if (!isLocal) return;
  // A write-ahead log survives a killed process; readers do not wait for the writer. FULL: a commit is on the disk when it is answered.
  for (const pragma of ['journal_mode = WAL', 'synchronous = FULL', 'foreign_keys = ON', `busy_timeout = ${lockWait}`])
    await client.execute(`PRAGMA ${pragma}`);
}

/** Opens a database, making the folder of a local file when it is missing. */
export async function openDatabase(configuration: Pick<Configuration, 'DATABASE_URL' | 'DATABASE_TOKEN'>): Promise<Database> {
  const url = configuration.DATABASE_URL;
  const file = databaseFile(url);
  if (file) mkdirSync(dirname(file) || '.', { recursive: true });
  const client = createClient({
    url,
    timeout: lockWait,
    ...(configuration.DATABASE_TOKEN ? { authToken: configuration.DATABASE_TOKEN } : {}),
  });
  await configure(client, file !== null);
  return drizzle(client, { schema });
}

/** Brings a database to the newest shape, in one transaction; forward only. */
export async function migrateDatabase(database: Database, folder = 'src/store/migrations'): Promise<void> {
  await migrate(database, { migrationsFolder: folder });
}

/** Shared by every copy of this module in the process: the server and the pages it serves are bundled apart. */
type Shared = {
  database: Promise<Database> | undefined;
  queues: WeakMap<Database, Promise<unknown>>;
  inside: AsyncLocalStorage<Database>;
  touched: WeakMap<Database, string[]>;
};
const shared = ((globalThis as Record<symbol, unknown>)[Symbol.for('just-twice/store')] ??= {
  database: undefined,
  queues: new WeakMap(),
  inside: new AsyncLocalStorage(),
  touched: new WeakMap(),
} satisfies Shared) as Shared;

/** The application's database, opened once per process. */
export function database(): Promise<Database> {
  shared.database ??= openDatabase(readConfiguration(process.env));
  return shared.database;
}

/** Whether this process alone writes: a local file is served by one at a time. */
export const isAlone = (db: Database): boolean => db.$client.protocol === 'file';

/** Says that an instrument, or what is known of its calibrations, is another than before. */
export const touch = (db: Database, instrument: string): void => void touchedIn(db).push(instrument);

/** Instruments that were touched, in their order: what is kept of them is read again from where it was read last. */
export function touchedIn(db: Database): string[] {
  const known = shared.touched.get(db) ?? [];
  shared.touched.set(db, known);
  return known;
}

/** Lets the next `database()` open anew, for a file that has just been removed or replaced. */
export function forgetDatabase(): void {
  void shared.database?.then((db) => db.$client.close()).catch(() => {});
  shared.database = undefined;
}

const codesOf = (error: unknown): string[] => {
  const codes: string[] = [];
  for (let at: unknown = error; at instanceof Error; at = at.cause)
    codes.push(`${(at as { code?: unknown }).code ?? ''} ${(at as { extendedCode?: unknown }).extendedCode ?? ''} ${at.message}`);
  return codes;
};

/** Whether an error is SQLite saying that somebody else holds the lock. */
export const isBusy = (error: unknown): boolean => codesOf(error).some((c) => /SQLITE_(BUSY|LOCKED)/.test(c));

/** Whether an error is SQLite refusing a second row with the same key. */
export const isUniqueViolation = (error: unknown): boolean =>
  codesOf(error).some((c) => /UNIQUE constraint|SQLITE_CONSTRAINT_(UNIQUE|PRIMARYKEY)/i.test(c));

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/**
 * Does work that reads and writes, alone among all writers of this process, and answers when it is committed. While another
 * program holds the lock the whole work is tried again.
 *
 * A statement that fails for want of a lock stays open in the connection (the driver does not reset it), and whatever the same
 * connection writes afterwards is shown but never committed. So a failure other than a broken rule ends the connection.
 * @throws StoreBusyError when the lock is not to be had; whatever the work throws otherwise
 */
export function writing<T>(db: Database, work: () => Promise<T>): Promise<T> {
  if (shared.inside.getStore() === db) return work();
  const turn = (shared.queues.get(db) ?? Promise.resolve()).then(() => shared.inside.run(db, () => tryUntilFree(db, work)));
  shared.queues.set(
    db,
    turn.catch(() => {}),
  );
  return turn;
}

async function tryUntilFree<T>(db: Database, work: () => Promise<T>): Promise<T> {
  const until = performance.now() + writePatience;
  for (let wait = 20; ; wait = Math.min(400, wait * 2)) {
    try {
      return await work();
    } catch (error) {
      if (!isDatabaseError(error) || isUniqueViolation(error)) throw error;
      await freshConnection(db);
      if (!isBusy(error)) throw error;
      if (performance.now() > until) throw new StoreBusyError();
      await pause(wait);
    }
  }
}

const isDatabaseError = (error: unknown): boolean => codesOf(error).some((c) => /SQLITE_|LIBSQL|TRANSACTION_CLOSED/.test(c));

async function freshConnection(db: Database): Promise<void> {
  await db.$client.reconnect();
  for (let tries = 0; ; tries++)
    try {
      return await configure(db.$client, isAlone(db));
    } catch (error) {
      // Setting up takes a lock of its own for a moment.
      if (!isBusy(error) || tries > 50) throw error;
      await pause(50);
      await db.$client.reconnect();
    }
}

/** Writes the write-ahead log back into the file, so that the file alone is the database. */
export async function checkpoint(db: Database): Promise<void> {
  await db.$client.execute('PRAGMA wal_checkpoint(TRUNCATE)');
}
