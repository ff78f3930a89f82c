import { database } from '../store/database';
import { latestEventTime } from '../store/run-log';
import { schemaVersion } from '../store/check';
import packageFile from '../../package.json';

export type Health = { status: 'ok'; version: string; schema: number; lastWrite: string | null };

/** What a watcher asks for: that the database answers, what version runs on what schema, and when something was last recorded. */
export async function health(): Promise<Health> {
  const db = await database();
  const [schema, lastWrite] = await Promise.all([schemaVersion(db), latestEventTime(db)]);
  return { status: 'ok', version: packageFile.version, schema, lastWrite };
}
