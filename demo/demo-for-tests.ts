import { copyFileSync, existsSync, mkdirSync, renameSync, rmdirSync, rmSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';
import { takeInProcedures } from '../src/service/procedure-folder';
import { checkpoint, migrateDatabase, openDatabase } from '../src/store/database';
import { sealWhatIsThere } from '../src/service/seal-service';
import { saveFact } from '../src/store/register';
import { seedDemo } from './seed';

/** The demo works, made once for all tests of a run that want it, and copied. */
const made = 'test-results/demo-for-tests.db';
const making = 'test-results/demo-for-tests.making';

/** Before all tests: what an earlier run made is not what this one would make. */
export default function forgetDemo(): void {
  rmSync(made, { force: true });
  rmSync(making, { recursive: true, force: true });
}

/** A copy of the demo of a day in a file that is not there yet; whoever asks first makes it, the others wait. */
export async function demoCopy(file: string, today: string): Promise<void> {
  mkdirSync('test-results', { recursive: true });
  while (!existsSync(made)) {
    try {
      mkdirSync(making);
    } catch {
      await setTimeout(200);
      continue;
    }
    try {
      if (!existsSync(made)) await make(today);
    } finally {
      rmdirSync(making);
    }
  }
  copyFileSync(made, file);
}

async function make(today: string): Promise<void> {
  const part = `${made}.part`;
  for (const suffix of ['', '-wal', '-shm']) rmSync(part + suffix, { force: true });
  const db = await openDatabase({ DATABASE_URL: `file:${part}` });
  await db.$client.execute('PRAGMA synchronous = OFF');
  await migrateDatabase(db);
  await takeInProcedures(db);
  await seedDemo(db, today);
  await saveFact(db, 'demo', 'whole');
  await sealWhatIsThere(db);
  await checkpoint(db);
  db.$client.close();
  renameSync(part, made);
}
