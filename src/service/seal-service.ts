import { setTimeout as pause } from 'node:timers/promises';
import { checkLog, hashOfLine, headOfLog, headText, readHead, type Head, type Parts } from '../core/seal/seal';
import { database, writing, type Database } from '../store/database';
import { ServiceError } from './service-error';
import * as logSeals from '../store/log-seals';
import * as log from '../store/run-log';
import * as seals from '../store/seals';
import { triggerFaults } from '../store/triggers';

/** Rows that are looked at at once. */
const atOnce = 100;

/** What is sealed of a run beside its columns: the head of its log, and which standards it uses. */
async function besideRun(db: Database, id: string, used: readonly log.RunStandard[]) {
  return {
    log: headOfLog(id, await logSeals.sealedEntries(db, id), seals.sha256),
    standards: logSeals.standardsPart(used),
  };
}

/**
 * Seals what stood in the database before anything was sealed, a little at a time; begun anew it goes on. Once it is complete it does
 * nothing any more: a row without a line is then one that somebody put in.
 * @param isEnough asked between two pieces of work @param rest ms between two pieces, for whoever comes meanwhile
 * @returns how many rows it sealed
 */
export async function sealWhatIsThere(db: Database, isEnough: () => boolean = () => false, rest = 0): Promise<number> {
  if (await seals.sealedSince(db)) return 0;
  const count = await sealBareRows(db, isEnough, rest);
  if (!isEnough()) await seals.writeSealed(db, [], [seals.completion]);
  return count;
}

/** Seals every row that has no line: for whoever has just written them all at once. */
export async function sealBareRows(db: Database, isEnough: () => boolean = () => false, rest = 0): Promise<number> {
  let count = 0;
  for (const name of seals.sealedNames)
    for (let after = 0; ;) {
      if (isEnough()) return count;
      const isMore = await writing(db, async () => {
        const rows = await seals.rowsAfter(db, name, after, atOnce);
        if (rows.length === 0) return false;
        after = rows.at(-1)!.rowNumber;
        const keys = rows.map((row) => seals.rowKey(name, row));
        const known = await seals.sealsOfRows(db, name, keys);
        const columns = seals.sealedColumns(name);
        const bare = rows.filter((_, i) => !columns.every((column) => known.get(keys[i]!)?.parts[column] !== undefined));
        const used = name === 'runs' ? await log.standardsOfRuns(db, keys) : new Map<string, log.RunStandard[]>();
        const drafts = [];
        for (const row of bare) {
          const key = seals.rowKey(name, row);
          drafts.push(seals.foundRow(name, row, name === 'runs' ? await besideRun(db, key, used.get(key) ?? []) : {}));
        }
        await seals.writeSealed(db, [], drafts);
        count += drafts.length;
        return true;
      });
      if (!isMore) break;
      if (rest) await pause(rest);
    }
  return count;
}

export type SealCheck = { faults: string[]; lines: number; since: string | null; head: Head | null };

/**
 * Holds a whole database against its seals: the chain against itself, every row against the chain, each log against the seals of its
 * entries, and the chain against a head that was kept elsewhere.
 */
export async function checkSeals(
  db: Database,
  kept: readonly Head[] = [],
  { progress = () => {}, signal }: { progress?: (done: number, of: number) => void; signal?: AbortSignal } = {},
): Promise<SealCheck> {
  const since = await seals.sealedSince(db);
  const chain = await checkChain(db, kept);
  const faults = [
    ...(await triggerFaults(db)),
    ...(since
      ? []
      : [
          chain.lines
            ? 'seals: the sealing of what was there before is not finished. Start the application once, wait until it says so, then verify again.'
            : 'seals: nothing in this database is sealed. Start the application once, which seals what it finds, then verify again.',
        ]),
    ...chain.faults,
  ];
  if (since) {
    const of = await seals.countSealed(db);
    let done = 0;
    const step = (rows: number): void => {
      signal?.throwIfAborted();
      progress((done += rows), of);
    };
    for (const name of seals.sealedNames) faults.push(...(await checkRows(db, name, chain.head?.sequence ?? 0, step)));
  }
  return { faults, lines: chain.lines, since, head: chain.head };
}

/** The chain up to where it ends when it is begun to be read: whoever writes meanwhile does not lengthen the check. */
async function checkChain(db: Database, kept: readonly Head[]): Promise<{ faults: string[]; lines: number; head: Head | null }> {
  const faults: string[] = [];
  const wanted = new Map(kept.map((k) => [k.sequence, k]));
  const end = (await seals.headOfChain(db))?.sequence ?? 0;
  let lines = 0;
  let head: Head = { sequence: 0, hash: '' };
  while (head.sequence < end) {
    for (const line of await seals.linesAfter(db, head.sequence, Math.min(1000, end - head.sequence))) {
      lines++;
      if (faults.length === 0) {
        if (line.sequence !== head.sequence + 1)
          faults.push(`seals, ${head.sequence + 1}, of_row: this line of the chain is gone.`);
        else if (hashOfLine(head.hash, line, seals.sha256) !== line.hash)
          faults.push(
            `seals, ${line.sequence}, hash: this line of the chain is not what was written (${line.table}, ${line.row}).`,
          );
      }
      head = { sequence: line.sequence, hash: line.hash };
      const outside = wanted.get(line.sequence);
      if (outside && outside.hash !== line.hash)
        faults.push(
          `seals, ${line.sequence}, hash: it is not the head that was kept outside. What stands before it was made anew.`,
        );
    }
  }
  for (const { sequence } of kept)
    if (sequence > head.sequence)
      faults.push(`seals, ${sequence}, of_row: the chain ends at ${head.sequence}, before the head that was kept outside.`);
  return { faults, lines, head: lines ? head : null };
}

/** How often what seems to be a break is looked at: a row may be written between it and its lines being read. */
const mostLooks = 3;

/** What seems to be wrong at each look; a true break stays. */
async function thatStays(look: () => Promise<string[]>): Promise<string[]> {
  let faults = await look();
  for (let i = 1; i < mostLooks && faults.length > 0; i++) {
    const again = new Set(await look());
    faults = faults.filter((f) => again.has(f));
  }
  return faults;
}

/**
 * Rows of a table that are not what the chain says.
 * @param upTo the line of the chain up to which rows that are gone are missed: what comes later is made while this is read
 */
async function checkRows(db: Database, name: seals.SealedName, upTo: number, step: (rows: number) => void): Promise<string[]> {
  const faults: string[] = [];
  const there = new Set<string>();
  const last = await seals.lastRowNumber(db, name);
  for (let after = 0; after < last;) {
    const from = after;
    const rows = await seals.rowsAfter(db, name, from, atOnce);
    if (rows.length === 0) break;
    after = rows.at(-1)!.rowNumber;
    step(rows.length);
    for (const row of rows) there.add(seals.rowKey(name, row));
    faults.push(...(await thatStays(async () => pageFaults(db, name, await seals.rowsAfter(db, name, from, atOnce)))));
  }
  for await (const rows of seals.rowsInChain(db, name, upTo)) {
    const missing = rows.filter((row) => !there.has(row));
    const known = missing.length > 0 ? await seals.sealsOfRows(db, name, missing) : new Map<string, never>();
    // What the application itself took away meanwhile has a line that says so.
    for (const row of missing) if (known.get(row)?.isThere) faults.push(`${seals.tableName(name)}, ${row}: it is gone.`);
  }
  return faults;
}

/** Of some rows those that are not what the chain says. */
async function pageFaults(
  db: Database,
  name: seals.SealedName,
  rows: Awaited<ReturnType<typeof seals.rowsAfter>>,
): Promise<string[]> {
  const table = seals.tableName(name);
  const keys = rows.map((row) => seals.rowKey(name, row));
  const known = await seals.sealsOfRows(db, name, keys);
  const used = name === 'runs' ? await log.standardsOfRuns(db, keys) : null;
  const faults: string[] = [];
  for (const [i, row] of rows.entries()) {
    const key = keys[i]!;
    const line = known.get(key);
    if (!line?.isThere) {
      faults.push(`${table}, ${key}: it was put in behind the application's back.`);
      continue;
    }
    faults.push(...otherParts(table, key, seals.partsOfStored(name, row), line.parts));
    if (used) {
      if (logSeals.standardsPart(used.get(key) ?? []) !== line.parts['standards'])
        faults.push(`run_standards, ${key}, standard_id: these are not the standards that were recorded.`);
      faults.push(...(await logFaults(db, key, line)));
    }
  }
  return faults;
}

const otherParts = (table: string, key: string, now: Parts, sealed: Parts): string[] =>
  Object.keys(now)
    // A column that came with a later version is sealed when it is first written.
    .filter((column) => sealed[column] !== undefined && now[column] !== sealed[column])
    .map((column) => `${table}, ${key}, ${column}: it is not what was written.`);

/** Where the log of a run is not what was sealed. */
async function logFaults(db: Database, run: string, line: { isMade: boolean; parts: Parts }): Promise<string[]> {
  const entries = await logSeals.sealedEntries(db, run);
  const { head, break: found } = checkLog(run, entries, seals.sha256);
  if (found) return [`events, ${run} entry ${found.sequence}, ${found.member}: it is not what was recorded.`];
  if (line.isMade && entries[0]?.seal === null) return [`events, ${run} entry 1, seal: the seals of this log were taken away.`];
  if (head !== line.parts['log'])
    return [
      `events, ${run} entry ${entries.length + 1}, sequence: the log does not end where it was sealed: entries are gone, put in, or others.`,
    ];
  return [];
}

/** The end of the chain, and since when everything is in it. */
export async function sealNow(): Promise<{ since: string | null; head: string | null; lines: number }> {
  const db = await database();
  const head = await seals.headOfChain(db);
  return { since: await seals.sealedSince(db), head: head && headText(head), lines: head?.sequence ?? 0 };
}

/** Holds everything against the chain, and the chain against heads that stand in a text. @throws ServiceError 422 where a line has none */
export async function holdAgainst(
  text: string,
  progress: (done: number, of: number) => void,
  signal: AbortSignal,
): Promise<{ faults: string[]; lines: number; held: number }> {
  const lines = text.split('\n').filter((line) => line.trim() !== '');
  const heads = lines.map((line) => {
    const head = readHead(line);
    if (!head)
      throw new ServiceError(
        422,
        `This is no seal: “${line.slice(0, 60)}”. One reads Sealed, a number, and 43 characters. Copy the whole line.`,
        ['heads'],
      );
    return head;
  });
  const found = await checkSeals(await database(), heads, { progress, signal });
  return { faults: found.faults.slice(0, mostTold), lines: found.lines, held: heads.length };
}
/** Faults that are told at once: one is enough to begin with. */
const mostTold = 100;

/** The seal of a run in words, as it stands on one of its certificates; null where it has none yet. */
export async function sealText(run: string, certificate: string): Promise<string | null> {
  const seal = await seals.sealOfIssue(await database(), run, certificate);
  return seal && headText(seal);
}
