// npm run backup -- <folder> · npm run restore -- <backup> · npm run verify
import { backUp, restore } from '../store/backup';
import { checkDatabaseFile, DatabaseUnusableError } from '../store/check';
import { readConfiguration } from '../store/configuration';
import { database, databaseFile, migrateDatabase } from '../store/database';
import { takeDatabase } from '../store/serving-lock';
import { verifyDatabase } from '../service/verify-service';
import { existsSync } from 'node:fs';

async function keepData([what, argument]: string[]): Promise<void> {
  const configuration = readConfiguration(process.env);
  const file = databaseFile(configuration.DATABASE_URL);
  if (!file) throw new Error('DATABASE_URL names a remote database: back it up and restore it where it is kept.');
  const now = new Date().toISOString();
  if (what === 'restore') {
    if (!argument) throw new Error('Name the backup: npm run restore -- backups/just-twice-….db');
    const release = await takeDatabase(file, 'a restore');
    try {
      const aside = await restore(argument, file, now);
      console.log(`Restored ${argument} to ${file}.${aside ? ` The former database lies at ${aside}.` : ''}`);
    } finally {
      release();
    }
    return;
  }
  if (!existsSync(file)) throw new DatabaseUnusableError(`There is no database at ${file}. Name it in DATABASE_URL.`);
  await checkDatabaseFile(file);
  const db = await database();
  if (what === 'backup') {
    if (!argument) throw new Error('Name a folder for the backup: npm run backup -- backups');
    const made = await backUp(db, argument, now);
    console.log(`Backed up ${file} to ${made.file}\nSHA-256 ${made.digest}`);
  } else {
    await migrateDatabase(db);
    const found = await verifyDatabase(db);
    for (const fault of found.faults) console.error(fault);
    console.log(
      `${found.runs} runs with ${found.events} entries, ${found.certificates} certificates: ${found.faults.length ? `${found.faults.length} faults` : 'all as it should be'}.`,
    );
    if (found.faults.length) process.exitCode = 1;
  }
  db.$client.close();
}

keepData(process.argv.slice(2)).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
