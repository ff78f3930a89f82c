import { caseSchema } from '../core/evaluate/case-schema';
import { DocumentError } from '../core/evaluate/faults';
import { recomputeExamples, type ExampleOutcome } from '../core/procedure/example';
import { instrumentDeclarations, standardDeclarations } from '../core/procedure/declarations';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { readDocument } from '../core/procedure/read-document';
import { planRun, type RunPlan } from '../core/plan/run-plan';
import { log } from './log';
import { database, writing } from '../store/database';
import { addProcedure, listProcedures, procedureRevision, type ProcedureRow } from '../store/register';
import { ServiceError } from './service-error';

/** A revision of a procedure: read, and its source as it was written. */
export type Revision = { document: ProcedureDocument; source: string };
export type LibraryEntry = Revision & {
  plan: RunPlan;
  examples: ExampleOutcome[];
  /** Why it cannot be planned or computed; nothing else of it is shown then. */ fault?: string;
  /** Its revisions, newest first. */ revisions: number[];
};

/** A revision never changes, so what was read and recomputed once stays. */
const read = new Map<string, Revision>();
const planned = new Map<string, Pick<LibraryEntry, 'plan' | 'examples' | 'fault'>>();
const most = 200;

const keyOf = (row: ProcedureRow): string => `${row.id}@${row.revision}`;

function remembered<T>(memo: Map<string, T>, row: ProcedureRow, work: () => T): T {
  const source = JSON.stringify(row.document);
  const key = `${keyOf(row)}${source.length}`;
  const known = memo.get(key);
  if (known) return known;
  const made = work();
  if (memo.size >= most) memo.delete(memo.keys().next().value!);
  memo.set(key, made);
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

/** The documents of these rows as far as they can be read: a bad one is logged, and breaks no list. */
const readable = (rows: readonly ProcedureRow[]): ProcedureRow[] =>
  rows.filter((row) => {
    try {
      revisionOf(row);
      return true;
    } catch (error) {
      if (!(error instanceof DocumentError)) throw error;
      log.warn({ procedure: keyOf(row), fault: error.message, path: error.path }, 'a procedure on the shelf cannot be read');
      return false;
    }
  });

const newest = (rows: readonly ProcedureRow[]): ProcedureRow[] => rows.filter((row, i) => i === 0 || rows[i - 1]!.id !== row.id);

const entryOf = (row: ProcedureRow, rows: readonly ProcedureRow[]): LibraryEntry => ({
  ...revisionOf(row),
  ...planOf(row),
  revisions: rows.filter((r) => r.id === row.id).map((r) => r.revision),
});

/** The newest revision of every procedure. */
export async function procedureLibrary(): Promise<LibraryEntry[]> {
  const rows = await listProcedures(await database());
  return readable(newest(rows)).map((row) => entryOf(row, rows));
}

/** A procedure, in its newest revision or another. @throws ServiceError when there is none */
export async function procedureOf(id: string, revision?: number): Promise<LibraryEntry> {
  const rows = await listProcedures(await database());
  const row = rows.find((r) => r.id === id && (revision === undefined || r.revision === revision));
  if (!row) throw new ServiceError(404, 'There is no procedure with this id. Look in the list of procedures.');
  return entryOf(row, rows);
}

/** The newest revisions that serve a kind of instrument. */
export async function proceduresFor(kind: string): Promise<Revision[]> {
  const rows = readable(newest(await listProcedures(await database())));
  return rows.map(revisionOf).filter(({ document }) => document.instrument.kinds.includes(kind));
}

/** What every procedure asks a register to state: of instruments by kind, of standards by kind. */
export async function declarations() {
  const documents = readable(newest(await listProcedures(await database()))).map((row) => revisionOf(row).document);
  return { instruments: instrumentDeclarations(documents), standards: standardDeclarations(documents) };
}

/**
 * Puts a procedure on the shelf: read, its faults said, planned, its example recomputed.
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
        `Revision ${document.revision} of ${document.id} is on the shelf already, and runs may have pinned it. Raise the revision number.`,
        ['revision'],
      );
    await addProcedure(db, { id: document.id, revision: document.revision, document: source as ProcedureRow['document'] });
  });
  return { id: document.id, revision: document.revision };
}
