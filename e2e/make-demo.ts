import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';

export const demoFile = 'test-results/demo.db';

/** Makes the demo works once; every test server starts from a copy. */
export default function makeDemo(): void {
  for (const suffix of ['', '-wal', '-shm']) rmSync(demoFile + suffix, { force: true });
  const made = spawnSync('npx', ['--no-install', 'tsx', 'src/cli/prepare-data.ts', '--demo'], {
    env: { ...process.env, DATABASE_URL: `file:${demoFile}` },
    stdio: 'inherit',
  });
  if (made.status !== 0) throw new Error('The demo data could not be made.');
}
