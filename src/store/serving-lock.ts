import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { createClient } from '@libsql/client';
import { isBusy } from './database';

/** Who serves a database, for the sentence that another one is told. */
export type Holder = { process: number; address: string; since: string };

export class DatabaseInUseError extends Error {
  constructor(
    readonly file: string,
    readonly holder: Holder | null,
  ) {
    const who = holder ? ` by the server at ${holder.address} (process ${holder.process}, since ${holder.since})` : '';
    super(`The database ${file} is in use${who}. Stop that server first; two servers never share one database.`);
    this.name = 'DatabaseInUseError';
  }
}

const lockOf = (file: string) => `${file}.lock`;
const holderOf = (file: string) => `${file}.server`;

function readHolder(file: string): Holder | null {
  try {
    return JSON.parse(readFileSync(holderOf(file), 'utf8')) as Holder;
  } catch {
    return null;
  }
}

/**
 * Takes a database for one process. The lock is an exclusive transaction on a file beside the database: the operating system
 * gives it up when the process ends, however it ends, so that no killed server is ever in the way of the next one.
 * @param file of a local database @param address what is served there, or what is being done with the file
 * @returns a function that gives the database up
 * @throws DatabaseInUseError naming who has it
 */
export async function takeDatabase(file: string, address: string): Promise<() => void> {
  mkdirSync(dirname(file) || '.', { recursive: true });
  const client = createClient({ url: `file:${lockOf(file)}`, timeout: 0 });
  try {
    await client.execute('BEGIN EXCLUSIVE');
  } catch (error) {
    client.close();
    throw isBusy(error) ? new DatabaseInUseError(file, readHolder(file)) : error;
  }
  const holder: Holder = { process: process.pid, address, since: new Date().toISOString() };
  writeFileSync(holderOf(file), JSON.stringify(holder));
  return () => {
    rmSync(holderOf(file), { force: true });
    // Closing alone would keep the lock until the driver's statements are collected.
    void client.execute('ROLLBACK').finally(() => client.close());
  };
}
