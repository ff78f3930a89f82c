// npm run backup -- <folder> · npm run restore -- <backup> · npm run verify [-- --head "<text>" | -- --heads <file> | -- --record <file>]
// npm run export -- <folder> · npm run import -- <folder>
import { headText, readHead, type Head } from '../core/seal/seal';
import { backUp, restore } from '../store/backup';
import { checkDatabaseFile, DatabaseUnusableError } from '../store/check';
import { readConfiguration } from '../store/configuration';
import { database, databaseFile, migrateDatabase } from '../store/database';
import { takeDatabase } from '../store/serving-lock';
import { exportLaboratory } from '../service/export-service';
import { importLaboratory } from '../service/import-service';
import { checkRecord } from '../service/record-service';
import { verifyDatabase } from '../service/verify-service';
import { existsSync, readFileSync } from 'node:fs';

/** Heads of the chain that were kept outside: one on the command line, or all that stand in a file. */
function keptHeads([how, given]: readonly string[]): Head[] {
  if (how === undefined) return [];
  if (!['--head', '--heads'].includes(how) || !given)
    throw new Error(
      'Hold it against a head: npm run verify -- --head "Sealed 123 …", or against those in a file: -- --heads <file>',
    );
  const lines = (how === '--head' ? given : readFileSync(given, 'utf8')).split('\n').filter((line) => line.includes('Sealed'));
  return lines.map((line) => {
    const head = readHead(line);
    if (!head) throw new Error(`This is no head of a chain: ${line.slice(0, 80)}`);
    return head;
  });
}

/** Checks one exported record with nothing but its file. */
function verifyRecord(file: string | undefined): void {
  if (!file) throw new Error('Name the file: npm run verify -- --record <file>');
  const { faults, words } = checkRecord(readFileSync(file, 'utf8'));
  for (const fault of faults) console.error(fault);
  console.log(`${words}: ${faults.length ? `${faults.length} faults` : 'all as it was exported'}.`);
  if (faults.length) process.exitCode = 1;
}

/** Says now and then how far it is. */
const told = (done: number, of: number): void => {
  if (done % 500 === 0) console.log(`${done} of ${of} runs`);
};

async function keepData([what, ...more]: string[]): Promise<void> {
  const [argument] = more;
  if (what === 'verify' && argument === '--record') return verifyRecord(more[1]);
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
  if (what === 'import') {
    if (!argument) throw new Error('Name the folder that was exported: npm run import -- <folder>');
    const release = await takeDatabase(file, 'an import');
    try {
      const found = await importLaboratory(argument, file, now, told);
      console.log(
        `Taken in from ${argument} to ${file}: ${found.runs} runs, ${found.certificates} certificates, all as it should be.`,
      );
      if (found.head) console.log(headText(found.head));
      console.log(
        'Passwords stay where they were: the first who signs in makes an administrator, by a name that is known or a new one.',
      );
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
  } else if (what === 'export') {
    if (!argument) throw new Error('Name a folder that is not there yet: npm run export -- <folder>');
    await migrateDatabase(db);
    const { files, head } = await exportLaboratory(db, argument, now, told);
    console.log(`Wrote ${files.length} files to ${argument}.`);
    if (head) console.log(headText(head));
  } else {
    await migrateDatabase(db);
    const found = await verifyDatabase(db, () => {}, keptHeads(more));
    for (const fault of found.faults) console.error(fault);
    console.log(
      `${found.runs} runs with ${found.events} entries, ${found.certificates} certificates: ${found.faults.length ? `${found.faults.length} faults` : 'all as it should be'}.`,
    );
    if (found.since) console.log(`Sealed since ${found.since}; ${found.lines} lines.`);
    if (found.head) console.log(headText(found.head));
    if (found.faults.length) process.exitCode = 1;
  }
  db.$client.close();
}

keepData(process.argv.slice(2)).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
