// npm run seed -- 20000: fills an empty DATABASE_URL with the demo and as many instruments like its own.
import { seedMany } from '../../demo/seed-many';
import { readConfiguration } from '../store/configuration';
import { checkpoint, database, databaseFile } from '../store/database';
import { countInstruments } from '../store/register';
import { takeDatabase } from '../store/serving-lock';
import { existsSync } from 'node:fs';
import { prepareData } from './prepare-data';

async function seed([wanted]: string[]): Promise<void> {
  const count = Number(wanted);
  if (!Number.isInteger(count) || count < 1 || count > 200_000)
    throw new Error('Say how many instruments, from 1 to 200000: npm run seed -- 20000');
  const configuration = readConfiguration(process.env);
  const file = databaseFile(configuration.DATABASE_URL);
  if (!file) throw new Error('DATABASE_URL names a remote database; only a local file is filled.');
  if (existsSync(file))
    throw new Error(`${file} is there already. Name one in DATABASE_URL that is not: nothing is overwritten.`);
  const release = await takeDatabase(file, 'a filling');
  try {
    await prepareData(configuration, { demo: true, fresh: false }, console.log);
    const db = await database();
    // Whoever stops it begins anew: nothing has to wait for the disk.
    await db.$client.execute('PRAGMA synchronous = OFF');
    let told = Date.now();
    await seedMany(db, count, (there) => {
      if (Date.now() - told < 5000) return;
      told = Date.now();
      console.log(`${there} of ${count} instruments are there.`);
    });
    await checkpoint(db);
    const { total } = await countInstruments(db, '2000-01-01');
    db.$client.close();
    console.log(`${file} holds ${total} instruments.`);
  } finally {
    release();
  }
}

seed(process.argv.slice(2)).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
