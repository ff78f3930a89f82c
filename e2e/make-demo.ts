import { mkdirSync, rmSync } from 'node:fs';
import { freePort, launch } from './launch';

export const demoFile = 'test-results/demo.db';

/** Makes the demo works once; every test server starts from a copy of the file that a stopped server leaves. */
export default async function makeDemo(): Promise<void> {
  mkdirSync('test-results', { recursive: true });
  for (const suffix of ['', '-wal', '-shm', '.lock', '.server']) rmSync(demoFile + suffix, { force: true });
  const server = await launch({ DATABASE_URL: `file:${demoFile}`, PORT: String(await freePort()) }, ['--demo']);
  await server.stop('SIGTERM');
}
