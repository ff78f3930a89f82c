import { createReadStream, existsSync } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import type * as z from 'zod';
import { runState } from '../core/acts/fold';
import { summarizeRun } from '../core/run/run-summary';
import { recordSchema } from '../core/seal/record';
import { digestOf, putInPlace } from '../store/backup';
import { checkDatabaseFile } from '../store/check';
import { checkpoint, migrateDatabase, openDatabase, type Database } from '../store/database';
import { standingsAnew } from '../store/standings';
import { isBeforeRuns, isEmptyLaboratory, putRows, putRun, rowSchemaOf, wholeNames, type WholeName } from '../store/whole';
import { isRecordFile, manifestSchema, tableFile, type Manifest } from './export-service';
import { eventsIn } from './record-service';
import { verifyDatabase, type Verification } from './verify-service';

/** A folder that cannot be read back, in sentences that name the file. */
export class ImportRefusedError extends Error {
  constructor(readonly faults: readonly string[]) {
    super(
      `${faults.slice(0, 5).join('\n')}${faults.length > 5 ? `\nand ${faults.length - 5} more` : ''}\nNothing was taken in: take the folder as it was exported.`,
    );
    this.name = 'ImportRefusedError';
  }
}

const refuse = (...faults: string[]): never => {
  throw new ImportRefusedError(faults);
};

/** A text as JSON of a shape, or a sentence that says which file it is not. */
function parsed<T>(schema: z.ZodType<T>, text: string, where: string): T {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return refuse(`${where} is not JSON.`);
  }
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  return refuse(`${where}: ${issue!.path.join('.') || 'file'}: ${issue!.message}`);
}

/** Does what puts in something of a file; what the database or the core refuses is said with the name of the file. */
async function from<T>(file: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof ImportRefusedError) throw error;
    const said = error instanceof Error ? `${error.message} ${String(error.cause ?? '')}` : '';
    return refuse(
      `${file}: ${/FOREIGN KEY/.test(said) ? 'it refers to something that is not there.' : /UNIQUE/.test(said) ? 'something is in it twice.' : said.slice(0, 200)}`,
    );
  }
}

/**
 * Reads the folder of a laboratory back into an empty one, all or nothing: made in a file of its own, verified to the end of its chain, and put in the
 * place of the empty one, which is set aside. The database must not be in use.
 * @param file of the database @param instant ISO time @param progress told after each run
 * @throws ImportRefusedError where something in the folder is not what was exported; Error where the laboratory is not empty
 */
export async function importLaboratory(
  folder: string,
  file: string,
  instant: string,
  progress: (done: number, of: number) => void = () => {},
): Promise<Verification> {
  const manifest = parsed(
    manifestSchema,
    await readFile(join(folder, 'manifest.json'), 'utf8').catch(() =>
      refuse(`There is no manifest.json in ${folder}: name the folder that was exported.`),
    ),
    'manifest.json',
  );
  await requireWhole(folder, manifest);
  if (existsSync(file)) await requireEmpty(file);
  const making = `${file}.importing`;
  const clear = async () => {
    for (const suffix of ['', '-wal', '-shm']) await rm(making + suffix, { force: true });
  };
  await clear();
  try {
    const found = await readInto(making, folder, manifest, progress);
    await putInPlace(making, file, instant);
    return found;
  } catch (error) {
    await clear();
    throw error;
  }
}

/** Makes a database of what lies in a folder, and verifies it. */
async function readInto(
  file: string,
  folder: string,
  manifest: Manifest,
  progress: (done: number, of: number) => void,
): Promise<Verification> {
  const db = await openDatabase({ DATABASE_URL: `file:${file}` });
  try {
    // It is put in place when it is whole: until then nothing is lost with it.
    await db.$client.execute('PRAGMA synchronous = OFF');
    await migrateDatabase(db);
    await readAll(db, folder, manifest, progress);
    const found = await verifyDatabase(db, () => {}, manifest.head ? [manifest.head] : []);
    if (found.faults.length > 0) refuse(...found.faults);
    await checkpoint(db);
    return found;
  } finally {
    db.$client.close();
  }
}

/** @throws ImportRefusedError where a file is missing or not what was written */
async function requireWhole(folder: string, { files }: Manifest): Promise<void> {
  const names = new Set(files.map((f) => f.name));
  const faults = wholeNames
    .filter((name) => !names.has(tableFile(name)))
    .map((name) => `manifest.json names no ${tableFile(name)}.`);
  for (const { name, sha256 } of files) {
    const digest = await digestOf(join(folder, name)).catch(() => null);
    if (digest === null) faults.push(`${name} is missing.`);
    else if (digest !== sha256) faults.push(`${name} is not what was exported: its digest differs.`);
  }
  if (faults.length > 0) refuse(...faults);
}

/** Looks only: a file of another program, or a damaged one, stays as it is. */
async function requireEmpty(file: string): Promise<void> {
  await checkDatabaseFile(file);
  const db = await openDatabase({ DATABASE_URL: `file:${file}` });
  try {
    if (await isEmptyLaboratory(db)) return;
    throw new Error(
      `${file} holds a laboratory already. Name a file that is not there yet in DATABASE_URL, and import into that.`,
    );
  } finally {
    db.$client.close();
  }
}

async function readAll(
  db: Database,
  folder: string,
  { files }: Manifest,
  progress: (done: number, of: number) => void,
): Promise<void> {
  for (const name of wholeNames.filter(isBeforeRuns)) await readTable(db, folder, name);
  const records = files.map((f) => f.name).filter(isRecordFile);
  for (const [i, name] of records.entries()) {
    await from(name, async () => {
      const record = parsed(recordSchema, await readFile(join(folder, name), 'utf8'), name);
      const state = runState(eventsIn(record));
      await putRun(db, record, state.completed ? summarizeRun(state) : null);
    });
    progress(i + 1, records.length);
  }
  for (const name of wholeNames.filter((n) => !isBeforeRuns(n))) await readTable(db, folder, name);
  await standingsAnew(db);
}

/** How many rows are put in at once: SQLite takes so many values in one statement. */
const atOnce = 50;

async function readTable(db: Database, folder: string, name: WholeName): Promise<void> {
  const schema = rowSchemaOf(name);
  const file = tableFile(name);
  let rows: z.infer<typeof schema>[] = [];
  let at = 0;
  const put = async () => {
    if (rows.length > 0) await from(file, () => putRows(db, name, rows));
    rows = [];
  };
  for await (const line of createInterface({ input: createReadStream(join(folder, file)), crlfDelay: Infinity })) {
    rows.push(parsed(schema, line, `${file}, line ${++at}`));
    if (rows.length === atOnce) await put();
  }
  await put();
}
