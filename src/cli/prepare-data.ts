import { rm } from 'node:fs/promises';
import { seedDemo } from '../../demo/seed';
import { shelveProcedures } from '../service/procedure-shelf';
import { countInstruments } from '../store/register';
import { migrateDatabase, openDatabase } from '../store/database';
import { readConfiguration } from '../store/configuration';

/** Migrates the database, shelves the procedures and, when asked, makes the demo works: run before the server starts. */
async function prepare(flags: string[]): Promise<void> {
  const configuration = readConfiguration(process.env);
  const file = configuration.DATABASE_URL.startsWith('file:') ? configuration.DATABASE_URL.slice('file:'.length) : null;
  if (flags.includes('--fresh')) {
    if (!file) throw new Error('--fresh makes a local database anew; DATABASE_URL names a remote one.');
    for (const suffix of ['', '-wal', '-shm']) await rm(file + suffix, { force: true });
  }
  const db = await openDatabase(configuration);
  await migrateDatabase(db);
  await shelveProcedures(db);
  const today = new Date().toISOString().slice(0, 10);
  if (flags.includes('--demo') && (await countInstruments(db, today)).total === 0) {
    await seedDemo(db, today);
    console.log('Made the demo: Quillmere Bell & Organ Works.');
  }
  db.$client.close();
}

prepare(process.argv.slice(2)).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
