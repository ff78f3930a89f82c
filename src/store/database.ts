import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import { createClient, type Client } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { readConfiguration, type Configuration } from './configuration';
import * as schema from './schema';

export type Database = LibSQLDatabase<typeof schema> & { $client: Client };

/** Opens a database, making the folder of a local file when it is missing. */
export async function openDatabase(configuration: Pick<Configuration, 'DATABASE_URL' | 'DATABASE_TOKEN'>): Promise<Database> {
  const url = configuration.DATABASE_URL;
  if (url.startsWith('file:')) mkdirSync(dirname(url.slice('file:'.length)) || '.', { recursive: true });
  const client = createClient({ url, ...(configuration.DATABASE_TOKEN ? { authToken: configuration.DATABASE_TOKEN } : {}) });
  // A write-ahead log survives a killed process; readers do not wait for the writer.
  if (url.startsWith('file:')) await client.execute('PRAGMA journal_mode = WAL');
  return drizzle(client, { schema });
}

/** Brings a database to the newest shape, in one transaction; forward only. */
export async function migrateDatabase(database: Database, folder = 'src/store/migrations'): Promise<void> {
  await migrate(database, { migrationsFolder: folder });
}

let shared: Promise<Database> | undefined;

/** The application's database, opened once per process. */
export function database(): Promise<Database> {
  shared ??= openDatabase(readConfiguration(process.env));
  return shared;
}
