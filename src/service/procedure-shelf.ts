import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { procedureSchema } from '../core/procedure/procedure-schema';
import type { Database } from '../store/database';
import { addProcedure, procedureRevision } from '../store/register';

/**
 * Puts the procedure documents of a folder on the shelf, each revision once. A revision that runs may have pinned is never
 * replaced: a changed document needs a higher revision.
 * @throws Error naming the file and the place of the fault
 */
export async function shelveProcedures(db: Database, folder = 'procedures'): Promise<void> {
  for (const file of (await readdir(folder)).filter((f) => f.endsWith('.json')).sort()) {
    const parsed = procedureSchema.safeParse(JSON.parse(await readFile(join(folder, file), 'utf8')));
    if (!parsed.success)
      throw new Error(`${file}: ${parsed.error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('; ')}`);
    const document = parsed.data;
    const shelved = await procedureRevision(db, document.id, document.revision);
    if (!shelved) await addProcedure(db, { id: document.id, revision: document.revision, document });
    else if (!isDeepStrictEqual(shelved.document, JSON.parse(JSON.stringify(document))))
      throw new Error(`${file}: revision ${document.revision} is already in use with other content. Raise its revision number.`);
  }
}
