import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { setImmediate } from 'node:timers/promises';
import { laboratory } from '../../demo/works';
import { seedDemo } from '../../demo/seed';
import { today } from '../service/laboratory-time';
import { takeInProcedures } from '../service/procedure-folder';
import type { Configuration } from '../store/configuration';
import { database, databaseFile, forgetDatabase, migrateDatabase, openDatabase, type Database } from '../store/database';
import { sealWhatIsThere } from '../service/seal-service';
import { countInstruments, readFact, readLaboratory, saveFact } from '../store/register';
import { countRuns } from '../store/run-log';

/** Runs that are sealed at once where they were not. */
const fewRuns = 2000;

export type Wishes = { demo: boolean; fresh: boolean };

/** What the database says of the demo: nothing, that it is being made, or that it is whole. */
type DemoState = 'none' | 'being-made' | 'whole';

async function demoState(db: Database): Promise<DemoState> {
  const said = await readFact(db, 'demo');
  if (said === 'whole' || said === 'being-made') return said;
  // Made before databases said so: by the name of the works.
  return (await readLaboratory(db))?.name === laboratory.name ? 'whole' : 'none';
}

async function removeFile(file: string): Promise<void> {
  for (const suffix of ['', '-wal', '-shm']) await rm(file + suffix, { force: true });
}

/** Looks into a database that may be of any age, and closes it again. */
async function stateOf(configuration: Configuration): Promise<{ demo: DemoState; isEmpty: boolean }> {
  const db = await openDatabase(configuration);
  try {
    await migrateDatabase(db);
    return { demo: await demoState(db), isEmpty: (await countInstruments(db, '2000-01-01')).total === 0 };
  } finally {
    db.$client.close();
  }
}

/**
 * Migrates the database, takes in the procedures and, when asked, makes the demo works. Only the demo is ever made anew: what a
 * laboratory has entered is not removed by any command.
 * @param say told how far it has come @throws Error saying what stands in the way; then nothing was changed
 */
export async function prepareData(
  configuration: Configuration,
  { demo, fresh }: Wishes,
  say: (words: string) => void,
): Promise<void> {
  const file = databaseFile(configuration.DATABASE_URL);
  if (fresh && !demo)
    throw new Error(
      'Only the demo can be made anew (npm run demo -- --fresh). To begin with nothing, name another file in DATABASE_URL; your data stays where it is.',
    );
  if (demo && file && existsSync(file)) {
    const state = await stateOf(configuration);
    const isOwn = state.demo === 'none' && !state.isEmpty;
    if (isOwn)
      throw new Error(
        `${file} holds a laboratory's own data, not the demo: it is left alone. Name another file in DATABASE_URL for the demo.`,
      );
    // Half a demo is none: whoever killed it meant to have one.
    if (fresh || state.demo === 'being-made') await removeFile(file);
  } else if (fresh && !file) throw new Error('The demo is made anew in a local file; DATABASE_URL names a remote database.');
  forgetDatabase();
  const db = await database();
  await migrateDatabase(db);
  await takeInProcedures(db);
  if (demo && (await demoState(db)) === 'none') {
    await saveFact(db, 'demo', 'being-made');
    // Half a demo is made anew, so that no commit of it has to wait for the disk.
    if (file) await db.$client.execute('PRAGMA synchronous = NORMAL');
    await seedDemo(db, await today(), async (done, of) => {
      if (done % 100 === 1) say(`Making the demo: ${done - 1} of ${of} calibrations are done.`);
      // Whoever loads a page meanwhile is answered.
      await setImmediate();
    });
    if (file) await db.$client.execute('PRAGMA synchronous = FULL');
    await saveFact(db, 'demo', 'whole');
    say(`Made the demo: ${laboratory.name}.`);
  }
  // What is much is sealed while people work.
  if ((await countRuns(db)) <= fewRuns) await sealWhatIsThere(db);
}
