import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { caseSchema } from '../core/evaluate/case-schema';
import { recomputeExamples, type ExampleOutcome } from '../core/procedure/example';
import type { ProcedureDocument } from '../core/procedure/document-schema';
import { readDocument } from '../core/procedure/read-document';
import { planRun, type RunPlan } from '../core/plan/run-plan';
import { ServiceError } from './service-error';

/** A procedure of version 2 that ships: read, planned for its example's instrument, its examples recomputed. */
export type LibraryEntry = { document: ProcedureDocument; source: string; plan: RunPlan; examples: ExampleOutcome[] };

let library: Promise<LibraryEntry[]> | undefined;

async function readLibrary(folder: string): Promise<LibraryEntry[]> {
  const files = (await readdir(folder)).filter((f) => f.endsWith('.json')).sort();
  return Promise.all(
    files.map(async (file): Promise<LibraryEntry> => {
      const source = await readFile(join(folder, file), 'utf8');
      const document = readDocument(JSON.parse(source));
      const example = Array.isArray(document.example) ? document.example[0] : document.example;
      // The plan of the example's own instrument: without one, points stand open.
      const { instrument, standards, choices } = example?.input ?? {};
      const given = caseSchema.parse({
        ...(instrument ? { instrument } : {}),
        ...(standards ? { standards } : {}),
        ...(choices ? { choices } : {}),
      });
      return { document, source, plan: planRun(document, given), examples: recomputeExamples(document) };
    }),
  );
}

/** The procedures that ship, read once: they do not change while the server runs. */
export function procedureLibrary(folder = 'procedures/v2'): Promise<LibraryEntry[]> {
  library ??= readLibrary(folder);
  return library;
}

export async function procedureOf(id: string): Promise<LibraryEntry> {
  const found = (await procedureLibrary()).find((e) => e.document.id === id);
  if (!found) throw new ServiceError(404, 'There is no procedure with this id. Look in the list of procedures.');
  return found;
}
