import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, open, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import Papa from 'papaparse';
import * as z from 'zod';
import { headSchema } from '../core/seal/seal';
import { openDatabase, type Database } from '../store/database';
import { headOfChain } from '../store/seals';
import { rowsOf, runIds, wholeNames, type WholeName } from '../store/whole';
import { recordOf } from './record-service';

/** What lies in the folder of a laboratory: each file with its SHA-256 in hexadecimal, records in the order in which their runs began. */
export const manifestSchema = z.strictObject({
  format: z.literal('just-twice-laboratory'),
  version: z.literal(1),
  at: z.iso.datetime(),
  /** The end of the chain when it was written. */
  head: headSchema.nullable(),
  files: z.array(
    z.strictObject({ name: z.string().regex(/^(?!.*\.\.)[\w-]+(\/[\w-]+)*\.(jsonl|json|csv)$/), sha256: z.string() }),
  ),
});
export type Manifest = z.infer<typeof manifestSchema>;

export const tableFile = (name: WholeName): string => `tables/${name}.jsonl`;
const recordFile = (run: string): string => `records/${run.slice(0, 2)}/${run}.json`;
export const isRecordFile = (name: string): boolean => name.startsWith('records/');

/** Tables that are also written for people and their spreadsheets; nothing is read back from these. */
const sheets: readonly WholeName[] = ['instruments', 'standards', 'people', 'competences', 'deeds'];

/** Columns of a row that a spreadsheet can show. */
const plain = (row: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(row).filter(([, v]) => typeof v !== 'object' || v === null));

/**
 * Writes everything that a laboratory has recorded into a folder of open files, of one moment: a record for each run, a table for all else, and
 * sheets of some. Made under another name, so that what bears the name is whole. Passwords, digits and sessions stay here.
 * @param folder that is not there yet, or empty @param instant ISO time @param progress told after each run
 * @throws Error where the folder holds something
 */
export async function exportLaboratory(
  db: Database,
  folder: string,
  instant: string,
  progress: (done: number, of: number) => void = () => {},
): Promise<Manifest> {
  if (existsSync(folder) && (await readdir(folder)).length > 0)
    throw new Error(`${folder} holds something already. Name a folder that is not there yet.`);
  const making = `${folder.replace(/\/+$/, '')}.making`;
  await rm(making, { recursive: true, force: true });
  // A copy of one moment: the laboratory works on meanwhile.
  const aside = await mkdtemp(join(tmpdir(), 'just-twice-export-'));
  try {
    const moment = join(aside, 'moment.db');
    await db.$client.execute({ sql: 'VACUUM INTO ?', args: [moment] });
    const copy = await openDatabase({ DATABASE_URL: `file:${moment}` });
    try {
      const manifest = await writeAll(copy, making, instant, progress);
      await rm(folder, { recursive: true, force: true });
      await rename(making, folder);
      return manifest;
    } finally {
      copy.$client.close();
    }
  } catch (error) {
    await rm(making, { recursive: true, force: true });
    throw error;
  } finally {
    await rm(aside, { recursive: true, force: true });
  }
}

async function writeAll(
  db: Database,
  folder: string,
  instant: string,
  progress: (done: number, of: number) => void,
): Promise<Manifest> {
  const files: Manifest['files'] = [];
  const write = async (name: string, parts: AsyncIterable<string> | Iterable<string>) => {
    await mkdir(dirname(join(folder, name)), { recursive: true });
    const file = await open(join(folder, name), 'w');
    const hash = createHash('sha256');
    try {
      for await (const part of parts) {
        hash.update(part);
        await file.write(part);
      }
    } finally {
      await file.close();
    }
    files.push({ name, sha256: hash.digest('hex') });
  };
  for (const name of wholeNames) await write(tableFile(name), lines(db, name));
  for (const name of sheets) await write(`${name}.csv`, sheet(db, name));
  const runs = await runIds(db);
  for (const [i, run] of runs.entries()) {
    await write(recordFile(run), [await recordOf(db, run)]);
    progress(i + 1, runs.length);
  }
  const manifest: Manifest = { format: 'just-twice-laboratory', version: 1, at: instant, head: await headOfChain(db), files };
  await writeFile(join(folder, 'manifest.json'), `${JSON.stringify(manifest, null, 1)}\n`);
  return manifest;
}

async function* lines(db: Database, name: WholeName): AsyncGenerator<string> {
  for await (const rows of rowsOf(db, name)) yield rows.map((row) => `${JSON.stringify(row)}\n`).join('');
}

async function* sheet(db: Database, name: WholeName): AsyncGenerator<string> {
  let isFirst = true;
  for await (const rows of rowsOf(db, name)) {
    yield `${Papa.unparse(rows.map(plain), { escapeFormulae: true, header: isFirst, newline: '\r\n' })}\r\n`;
    isFirst = false;
  }
}
