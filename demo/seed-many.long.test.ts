import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { verifyDatabase } from '../src/service/verify-service';
import { openDatabase } from '../src/store/database';
import { demoCopy } from './demo-for-tests';
import { seedMany } from './seed-many';

const folder = mkdtempSync(join(tmpdir(), 'just-twice-many-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it('makes more of the demo’s instruments, whose logs and certificates verify finds true', { timeout: 300_000 }, async () => {
  const file = join(folder, 'many.db');
  await demoCopy(file, new Date().toISOString().slice(0, 10));
  const db = await openDatabase({ DATABASE_URL: `file:${file}`, DATABASE_TOKEN: '' });
  const before = await verifyDatabase(db);
  const there: number[] = [];
  await seedMany(db, 130, (n) => there.push(n));
  expect(there.at(-1)).toBe(130);
  const after = await verifyDatabase(db);
  expect(after.faults).toEqual([]);
  expect(after.runs).toBeGreaterThan(before.runs + 80);
  expect(after.certificates).toBeGreaterThan(before.certificates + 30);
  db.$client.close();
});
