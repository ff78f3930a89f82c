import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { copyFile, mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { quickCheck } from './check';
import type { Database } from './database';

export type Backup = { file: string; digest: string };

async function digestOf(file: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

const stampOf = (instant: string) => instant.slice(0, 19).replace(/[-:]/g, '').replace('T', '-');

/**
 * Copies a database while it is in use: one moment of it, whole, checked, with its SHA-256 in a file beside it.
 * @param folder made when missing @param instant ISO time, for the name of the file
 * @throws Error when the copy is not whole; then no copy is left
 */
export async function backUp(db: Database, folder: string, instant: string): Promise<Backup> {
  await mkdir(folder, { recursive: true });
  const file = join(folder, `just-twice-${stampOf(instant)}.db`);
  if (existsSync(file)) throw new Error(`${file} is there already: one backup a second is enough.`);
  await db.$client.execute({ sql: 'VACUUM INTO ?', args: [file] });
  const fault = await quickCheck(file);
  if (fault) {
    await rm(file, { force: true });
    throw new Error(`The copy is not whole (${fault}), and was removed. Check the database itself: npm run verify`);
  }
  const digest = await digestOf(file);
  await writeFile(`${file}.sha256`, `${digest}  ${basename(file)}\n`);
  return { file, digest };
}

/**
 * Puts a backup in the place of a database. The present one is set aside beside it, never removed. The database must not be in use.
 * @returns where the former database lies now; null when there was none
 * @throws Error when the backup is not what its checksum says, or is damaged; then nothing was changed
 */
export async function restore(backup: string, file: string, instant: string): Promise<string | null> {
  if (!existsSync(backup)) throw new Error(`There is no file ${backup}. Name a backup, for instance backups/just-twice-….db`);
  const noted = await readFile(`${backup}.sha256`, 'utf8').catch(() => null);
  if (noted !== null && noted.trim().split(/\s+/)[0] !== (await digestOf(backup)))
    throw new Error(`${backup} is not what it was when it was made: its checksum differs. Take another backup.`);
  // Opened aside: reading a database may leave files beside it.
  const copy = `${file}.restoring`;
  await copyFile(backup, copy);
  const fault = await quickCheck(copy);
  for (const suffix of ['-wal', '-shm']) await rm(copy + suffix, { force: true });
  if (fault) {
    await rm(copy, { force: true });
    throw new Error(`${backup} is damaged (${fault}). Take another backup.`);
  }
  let aside: string | null = null;
  if (existsSync(file)) {
    aside = `${file}.before-${stampOf(instant)}`;
    // The write-ahead log goes with its file: what it holds belongs to the former database.
    for (const suffix of ['', '-wal', '-shm']) if (existsSync(file + suffix)) await rename(file + suffix, aside + suffix);
  }
  await rename(copy, file);
  return aside;
}
