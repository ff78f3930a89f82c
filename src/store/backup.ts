import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { copyFile, mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { notOurs, quickCheck } from './check';
import type { Database } from './database';

export type Backup = { file: string; digest: string };

/** SHA-256 of a file, in hexadecimal. */
export async function digestOf(file: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

/** A time as part of the name of a file. */
const stampOf = (instant: string) => instant.slice(0, 19).replace(/[-:]/g, '').replace('T', '-');

/**
 * Copies a database while it is in use: one moment of it, whole, checked, with its SHA-256 in a file beside it.
 * @param folder made when missing @param instant ISO time, for the name of the file
 * @throws Error when there is no room or the copy is not whole; then nothing is left in the folder
 */
export async function backUp(db: Database, folder: string, instant: string): Promise<Backup> {
  await mkdir(folder, { recursive: true });
  const file = join(folder, `just-twice-${stampOf(instant)}.db`);
  if (existsSync(file)) throw new Error(`${file} is there already: one backup a second is enough.`);
  // Made under another name: what bears the name of a backup is whole, and has its checksum.
  const making = `${file}.making`;
  const checksum = `${file}.sha256`;
  try {
    await rm(making, { force: true });
    await db.$client.execute({ sql: 'VACUUM INTO ?', args: [making] });
    const fault = await quickCheck(making);
    if (fault) throw new Error(`The copy is not whole (${fault}). Check the database itself: npm run verify`);
    const digest = await digestOf(making);
    await writeFile(checksum, `${digest}  ${basename(file)}\n`);
    await rename(making, file);
    return { file, digest };
  } catch (error) {
    for (const part of [making, checksum]) await rm(part, { force: true });
    const said = error instanceof Error ? error.message : '';
    throw new Error(
      /FULL|ENOSPC|IOERR|disk/i.test(said)
        ? `There is no room for a backup in ${folder}. Nothing was left there: make room, or name another folder.`
        : `No backup was made: ${said}`,
      { cause: error },
    );
  }
}

/**
 * Puts a backup in the place of a database. The present one is set aside beside it, never removed. The database must not be in use.
 * @returns where the former database lies now; null when there was none
 * @throws Error when the backup is not what its checksum says, is damaged, empty, another program's or of a newer one; then nothing was changed
 */
export async function restore(backup: string, file: string, instant: string): Promise<string | null> {
  if (!existsSync(backup)) throw new Error(`There is no file ${backup}. Name a backup, for instance backups/just-twice-….db`);
  const noted = await readFile(`${backup}.sha256`, 'utf8').catch(() => null);
  if (noted !== null && noted.trim().split(/\s+/)[0] !== (await digestOf(backup)))
    throw new Error(`${backup} is not what it was when it was made: its checksum differs. Take another backup.`);
  // Opened aside: reading a database may leave files beside it.
  const copy = `${file}.restoring`;
  const without = async (message: string, cause?: unknown): Promise<never> => {
    for (const suffix of ['', '-wal', '-shm']) await rm(copy + suffix, { force: true });
    throw new Error(message, { cause });
  };
  if ((await stat(backup)).size === 0) await without(`${backup} is empty. Take another backup.`);
  await copyFile(backup, copy).catch((error: unknown) =>
    without(`${backup} could not be copied beside ${file}: make room.`, error),
  );
  const fault = await quickCheck(copy);
  if (fault) await without(`${backup} is damaged (${fault}). Take another backup.`);
  const foreign = await notOurs(copy);
  if (foreign) await without(`${backup} cannot be restored: ${foreign} Nothing was changed.`);
  for (const suffix of ['-wal', '-shm']) await rm(copy + suffix, { force: true });
  return putInPlace(copy, file, instant);
}

/**
 * Puts a whole database in the place of another, which is set aside beside it and never removed. Neither may be in use.
 * @returns where the former database lies now; null when there was none
 */
export async function putInPlace(whole: string, file: string, instant: string): Promise<string | null> {
  let aside: string | null = null;
  if (existsSync(file)) {
    aside = `${file}.before-${stampOf(instant)}`;
    // The write-ahead log goes with its file: what it holds belongs to the former database.
    for (const suffix of ['', '-wal', '-shm']) if (existsSync(file + suffix)) await rename(file + suffix, aside + suffix);
  }
  await rename(whole, file);
  return aside;
}
