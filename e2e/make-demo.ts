import { copyFileSync, mkdirSync, rmSync } from 'node:fs';
import { freePort, launch } from './launch';
import { makeTokens } from './tokens';

export const demoFile = 'test-results/demo.db';

/**
 * Makes the demo works once, or takes the one that was just made for the unit tests (DEMO_MADE names it); every test server starts
 * from a copy of the file that a stopped server leaves.
 */
export default async function makeDemo(): Promise<void> {
  mkdirSync('test-results', { recursive: true });
  for (const suffix of ['', '-wal', '-shm', '.lock', '.server']) rmSync(demoFile + suffix, { force: true });
  const made = process.env['DEMO_MADE'];
  if (made) copyFileSync(made, demoFile);
  const server = await launch({ DATABASE_URL: `file:${demoFile}`, PORT: String(await freePort()) }, ['--demo']);
  await server.stop('SIGTERM');
  await makeTokens(demoFile);
}
