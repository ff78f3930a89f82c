import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { DocumentError } from '../core/faults';
import { readDocument } from '../core/document/read-document';
import type { Database } from '../store/database';
import { addProcedure, procedureRevision } from '../store/register';

/**
 * Puts the procedure documents of a folder into the library, each revision once. A revision that runs may have pinned is never
 * replaced: a changed document needs a higher revision.
 * @throws Error naming the file and the place of the fault
 */
export async function takeInProcedures(db: Database, folder = 'procedures'): Promise<void> {
  for (const file of (await readdir(folder)).filter((f) => f.endsWith('.json')).sort()) {
    const raw = JSON.parse(await readFile(join(folder, file), 'utf8')) as { version: number };
    try {
      const { id, revision } = readDocument(raw);
      const shelved = await procedureRevision(db, id, revision);
      if (!shelved) await addProcedure(db, { id, revision, document: raw });
      else if (!isDeepStrictEqual(shelved.document, raw))
        throw new Error(`${file}: revision ${revision} is already in use with other content. Raise its revision number.`);
    } catch (error) {
      if (error instanceof DocumentError) throw new Error(`${file}: ${error.path.join('.')}: ${error.message}`);
      throw error;
    }
  }
}
