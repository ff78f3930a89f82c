import { retirementSchema, type RetirementRequest } from '../contract/requests';
import { caseSchema } from '../core/evaluate/case-schema';
import { DocumentError } from '../core/faults';
import { recomputeExamples, type ExampleOutcome } from '../core/document/example';
import { instrumentDeclarations, standardDeclarations } from '../core/document/declarations';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { readDocument } from '../core/document/read-document';
import { planRun, type RunPlan } from '../core/plan/run-plan';
import { log } from './log';
import * as z from 'zod';
import { database, writing, type Database } from '../store/database';
import { addProcedure, factsOf, listProcedures, procedureRevision, saveFact, type ProcedureRow } from '../store/register';
import { requirePerson } from './require-person';
import { ServiceError } from './service-error';

/** A revision of a procedure: read, and its source as it was written. */
export type Revision = { document: ProcedureDocument; source: string };
export type LibraryEntry = Revision & {
  plan: RunPlan;
  examples: ExampleOutcome[];
  /** Why it cannot be planned or computed; nothing else of it is shown then. */ fault?: string;
  /** Its revisions, newest first. */ revisions: number[];
};

/** A revision never changes, so what was read and recomputed once stays with it. */
const read = new WeakMap<ProcedureRow, Revision>();
const planned = new WeakMap<ProcedureRow, Pick<LibraryEntry, 'plan' | 'examples' | 'fault'>>();

const keyOf = (row: ProcedureRow): string => `${row.id}@${row.revision}`;

function remembered<T>(memo: WeakMap<ProcedureRow, T>, row: ProcedureRow, work: () => T): T {
  const known = memo.get(row);
  if (known) return known;
  const made = work();
  memo.set(row, made);
  return made;
}

const revisionOf = (row: ProcedureRow): Revision =>
  remembered(read, row, () => ({ document: readDocument(row.document), source: `${JSON.stringify(row.document, null, 2)}\n` }));

/**
 * The plan for the example's own instrument; without one, points stand open.
 * @throws DocumentError where what it says cannot be planned
 */
function planFor(document: ProcedureDocument): RunPlan {
  const example = Array.isArray(document.example) ? document.example[0] : document.example;
  const { instrument, standards, choices } = example?.input ?? {};
  const given = caseSchema.parse({
    ...(instrument ? { instrument } : {}),
    ...(standards ? { standards } : {}),
    ...(choices ? { choices } : {}),
  });
  return planRun(document, given);
}

const noPlan: RunPlan = { plan: [], waitingMinutes: 0, handsOnMinutes: 0, readings: 0 };

/** Its plan and its examples recomputed; one that cannot be planned says why, and keeps nobody from the others. */
const planOf = (row: ProcedureRow) =>
  remembered(planned, row, () => {
    const { document } = revisionOf(row);
    try {
      return { plan: planFor(document), examples: recomputeExamples(document) };
    } catch (error) {
      if (error instanceof DocumentError) return { plan: noPlan, examples: [], fault: error.message };
      throw error;
    }
  });

const unreadable = new WeakSet<ProcedureRow>();

/** The documents of these rows as far as they can be read: a bad one is logged, once, and breaks no list. */
const readable = (rows: readonly ProcedureRow[]): ProcedureRow[] =>
  rows.filter((row) => {
    if (unreadable.has(row)) return false;
    try {
      revisionOf(row);
      return true;
    } catch (error) {
      if (!(error instanceof DocumentError)) throw error;
      unreadable.add(row);
      log.warn({ procedure: keyOf(row), fault: error.message, path: error.path }, 'a procedure in the library cannot be read');
      return false;
    }
  });

const newest = (rows: readonly ProcedureRow[]): ProcedureRow[] => rows.filter((row, i) => i === 0 || rows[i - 1]!.id !== row.id);

const entryOf = (row: ProcedureRow, rows: readonly ProcedureRow[]): LibraryEntry => ({
  ...revisionOf(row),
  ...planOf(row),
  revisions: rows.filter((r) => r.id === row.id).map((r) => r.revision),
});

/** That a procedure is no longer begun, up to a revision: a newer one is. */
const retiredSchema = retirementSchema.extend({ id: z.string(), revision: z.number().int(), at: z.string() });
export type Retirement = z.infer<typeof retiredSchema>;

const retiredPrefix = 'procedure-retired:';

/** What was retired, by its id; what was taken up again is not among them. */
async function retirements(db: Database): Promise<Map<string, Retirement>> {
  const said = (await factsOf(db, retiredPrefix)).flatMap((value) => {
    const { success, data } = retiredSchema.safeParse(JSON.parse(value));
    return success ? [data] : [];
  });
  return new Map(said.map((r) => [r.id, r]));
}

/** The newest revision of every procedure that is in use. */
async function inUse(): Promise<{ rows: ProcedureRow[]; all: ProcedureRow[] }> {
  const db = await database();
  const [all, retired] = await Promise.all([listProcedures(db), retirements(db)]);
  return { rows: newest(all).filter((row) => row.revision > (retired.get(row.id)?.revision ?? -1)), all };
}

/** Those that are retired, with who said so and why. */
export async function retiredProcedures(): Promise<Retirement[]> {
  const db = await database();
  const [all, retired] = await Promise.all([listProcedures(db), retirements(db)]);
  return newest(all).flatMap((row) => {
    const said = retired.get(row.id);
    return said && said.revision >= row.revision ? [said] : [];
  });
}

/**
 * A procedure that is retired is not begun any more; runs that were begun by it go on, and its document stays. A newer revision that is
 * imported is in use again.
 * @throws ServiceError where there is none with this id
 */
export async function retireProcedure(id: string, said: RetirementRequest, now = new Date().toISOString()): Promise<Retirement> {
  const db = await database();
  return writing(db, async () => {
    await requirePerson(db, said.person);
    const row = newest(await listProcedures(db)).find((r) => r.id === id);
    if (!row) throw new ServiceError(404, 'There is no procedure with this id. Look in the list of procedures.');
    const retirement: Retirement = { ...said, id, revision: row.revision, at: now };
    await saveFact(db, retiredPrefix + id, JSON.stringify(retirement));
    return retirement;
  });
}

/** The newest revision of every procedure that is in use. */
export async function procedureLibrary(): Promise<LibraryEntry[]> {
  const { rows, all } = await inUse();
  return readable(rows).map((row) => entryOf(row, all));
}

/** A procedure, in its newest revision or another. @throws ServiceError when there is none */
export async function procedureOf(id: string, revision?: number): Promise<LibraryEntry> {
  const rows = await listProcedures(await database());
  const row = rows.find((r) => r.id === id && (revision === undefined || r.revision === revision));
  if (!row) throw new ServiceError(404, 'There is no procedure with this id. Look in the list of procedures.');
  return entryOf(row, rows);
}

/** The newest revision of every procedure that is in use, without its plan. */
export const revisionsInUse = async (): Promise<Revision[]> => readable((await inUse()).rows).map(revisionOf);

/** The newest revisions that serve a kind of instrument. */
export const proceduresFor = async (kind: string): Promise<Revision[]> =>
  (await revisionsInUse()).filter(({ document }) => document.instrument.kinds.includes(kind));

type Declarations = {
  instruments: ReturnType<typeof instrumentDeclarations>;
  standards: ReturnType<typeof standardDeclarations>;
};
let told: { rows: readonly ProcedureRow[]; declared: Declarations } | null = null;

/** What every procedure asks a register to state: of instruments by kind, of standards by kind. */
export async function declarations(): Promise<Declarations> {
  // What is retired still says what its instruments are.
  const rows = readable(newest(await listProcedures(await database())));
  const isAsBefore = told?.rows.length === rows.length && rows.every((row, i) => row === told!.rows[i]);
  if (!told || !isAsBefore) {
    const documents = rows.map((row) => revisionOf(row).document);
    told = {
      rows,
      declared: { instruments: instrumentDeclarations(documents), standards: standardDeclarations(documents) },
    };
  }
  return told.declared;
}

/**
 * Takes a procedure into the library: read, its faults said, planned, its example recomputed.
 * @throws ServiceError with the path and place of a fault, when an example does not agree, or when its revision is taken
 */
export async function importProcedure(source: unknown): Promise<{ id: string; revision: number }> {
  const document = readDocument(source);
  planFor(document);
  const disagreeing = recomputeExamples(document).flatMap((e) => e.lines.filter((l) => !l.agrees));
  if (disagreeing.length)
    throw new ServiceError(
      422,
      `Its example does not agree: ${disagreeing[0]!.path} is ${String(disagreeing[0]!.found)}, not ${String(disagreeing[0]!.expected)}.`,
      ['example'],
    );
  const db = await database();
  await writing(db, async () => {
    if (await procedureRevision(db, document.id, document.revision))
      throw new ServiceError(
        409,
        `Revision ${document.revision} of ${document.id} is in the library already, and runs may have pinned it. Raise the revision number.`,
        ['revision'],
      );
    await addProcedure(db, { id: document.id, revision: document.revision, document: source as ProcedureRow['document'] });
  });
  return { id: document.id, revision: document.revision };
}
