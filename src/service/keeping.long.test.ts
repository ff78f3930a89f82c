import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { demoCopy } from '../../demo/demo-for-tests';
import { backUp, restore } from '../store/backup';
import { openDatabase } from '../store/database';
import { verifyDatabase } from './verify-service';

const folder = mkdtempSync(join(tmpdir(), 'just-twice-kept-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('the drill: back up, lose, restore', () => {
  it('puts back a database that is true from end to end', { timeout: 600_000 }, async () => {
    const file = join(folder, 'lab.db');
    await demoCopy(file, new Date().toISOString().slice(0, 10));
    const db = await openDatabase({ DATABASE_URL: `file:${file}` });
    const made = await backUp(db, join(folder, 'backups'), '2026-11-25T08:00:00.000Z');
    db.$client.close();
    const lost = join(folder, 'lost.db');
    copyFileSync(file, lost);
    await restore(made.file, lost, '2026-11-25T09:00:00.000Z');
    const again = await openDatabase({ DATABASE_URL: `file:${lost}` });
    const verified = await verifyDatabase(again);
    expect(verified.faults).toEqual([]);
    expect(verified.runs).toBeGreaterThan(90);
    expect(verified.events).toBeGreaterThan(3000);
    again.$client.close();
  });
});
