import { copyFileSync, existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoCopy } from '../../demo/demo-for-tests';
import { backUp, restore } from '../store/backup';
import { checkDatabaseFile } from '../store/check';
import { checkpoint, database, openDatabase, type Database } from '../store/database';
import { DatabaseInUseError, takeDatabase } from '../store/serving-lock';
import { certificateFor } from './certificate-service';
import { changeLaboratory } from './register-service';
import { sealWhatIsThere } from './seal-service';
import { verifyDatabase } from './verify-service';

const folder = mkdtempSync(join(tmpdir(), 'just-twice-keep-'));
const file = join(folder, 'lab.db');
let db: Database;
beforeAll(async () => {
  await demoCopy(file, new Date().toISOString().slice(0, 10));
  process.env['DATABASE_URL'] = `file:${file}`;
  db = await database();
}, 240_000);
afterAll(() => {
  db.$client.close();
  rmSync(folder, { recursive: true, force: true });
});

const firstFinished = async (): Promise<string> =>
  String((await db.$client.execute("SELECT id FROM runs WHERE status = 'finished' ORDER BY started_at LIMIT 1")).rows[0]![0]);

describe('the drill: back up, lose, restore', () => {
  it('copies a database in use, verified and with its checksum, and puts it back', async () => {
    const backups = join(folder, 'backups');
    const made = await backUp(db, backups, '2026-11-25T08:00:00.000Z');
    expect(readdirSync(backups).sort()).toEqual(['just-twice-20261125-080000.db', 'just-twice-20261125-080000.db.sha256']);
    expect(readFileSync(`${made.file}.sha256`, 'utf8')).toBe(`${made.digest}  just-twice-20261125-080000.db\n`);
    await expect(backUp(db, backups, '2026-11-25T08:00:00.000Z')).rejects.toThrow('already');

    // Another database is lost, and restored from it; what stood there is set aside.
    const lost = join(folder, 'lost.db');
    writeFileSync(lost, 'ruined');
    const aside = await restore(made.file, lost, '2026-11-25T09:00:00.000Z');
    expect(readFileSync(aside!, 'utf8')).toBe('ruined');
    const again = await openDatabase({ DATABASE_URL: `file:${lost}` });
    const count = async (of: Database) => (await of.$client.execute('SELECT count(*), sum(sequence) FROM events')).rows[0];
    expect(await count(again)).toEqual(await count(db));
    again.$client.close();
  }, 120_000);
  it('refuses a backup that has changed, or is none, and changes nothing', async () => {
    const made = await backUp(db, join(folder, 'more'), '2026-11-25T10:00:00.000Z');
    const target = join(folder, 'kept.db');
    writeFileSync(target, 'kept');
    const bytes = readFileSync(made.file);
    bytes[5000]! ^= 1;
    writeFileSync(made.file, bytes);
    await expect(restore(made.file, target, '2026-11-25T10:00:01.000Z')).rejects.toThrow('checksum differs');
    rmSync(`${made.file}.sha256`);
    writeFileSync(made.file, 'no database at all, but long enough to look at'.repeat(50));
    await expect(restore(made.file, target, '2026-11-25T10:00:01.000Z')).rejects.toThrow('damaged');
    await expect(restore(join(folder, 'none.db'), target, '2026-11-25T10:00:01.000Z')).rejects.toThrow('no file');
    expect(readFileSync(target, 'utf8')).toBe('kept');
    expect(existsSync(`${target}.restoring`)).toBe(false);
  });
  it('refuses what is empty, of another program, or of a newer one: to be restored, and to be served', async () => {
    const target = join(folder, 'standing.db');
    writeFileSync(target, 'kept');
    const into = (name: string) => restore(join(folder, name), target, '2026-11-25T11:00:00.000Z');
    writeFileSync(join(folder, 'empty.db'), '');
    await expect(into('empty.db')).rejects.toThrow('is empty');
    const foreign = await openDatabase({ DATABASE_URL: `file:${join(folder, 'foreign.db')}` });
    await foreign.$client.execute('CREATE TABLE runs (id TEXT)');
    await checkpoint(foreign);
    foreign.$client.close();
    await expect(into('foreign.db')).rejects.toThrow('another program');
    await expect(checkDatabaseFile(join(folder, 'foreign.db'))).rejects.toThrow('another program');
    await checkpoint(db);
    copyFileSync(file, join(folder, 'newer.db'));
    await expect(checkDatabaseFile(join(folder, 'newer.db'))).resolves.toBeUndefined();
    const newer = await openDatabase({ DATABASE_URL: `file:${join(folder, 'newer.db')}` });
    for (let i = 0; i < 3; i++)
      await newer.$client.execute(`INSERT INTO __drizzle_migrations (hash, created_at) VALUES ('later ${i}', ${Date.now() + i})`);
    await checkpoint(newer);
    newer.$client.close();
    await expect(checkDatabaseFile(join(folder, 'newer.db'))).rejects.toThrow('a newer Just Twice');
    await expect(into('newer.db')).rejects.toThrow('a newer Just Twice');
    expect(readFileSync(target, 'utf8')).toBe('kept');
    expect(existsSync(`${target}.restoring`)).toBe(false);
  });
  it('leaves no half of a backup where there is no room', async () => {
    const cramped = join(folder, 'cramped');
    const full = {
      $client: {
        execute: ({ args }: { args: string[] }) => {
          writeFileSync(args[0]!, 'half of it');
          return Promise.reject(new Error('SQLITE_FULL: database or disk is full'));
        },
      },
    } as unknown as Database;
    await expect(backUp(full, cramped, '2026-11-25T12:00:00.000Z')).rejects.toThrow('no room');
    expect(readdirSync(cramped)).toEqual([]);
  });
});

describe('one at a time', () => {
  it('a database that is taken says by whom, and is free once it is given up', async () => {
    const taken = join(folder, 'taken.db');
    const release = await takeDatabase(taken, 'http://127.0.0.1:4600/');
    const refused = await takeDatabase(taken, 'a restore').catch((e: unknown) => e);
    expect(refused).toBeInstanceOf(DatabaseInUseError);
    expect((refused as Error).message).toContain(`http://127.0.0.1:4600/ (process ${process.pid}`);
    release();
    const other = join(folder, 'other.db');
    (await takeDatabase(other, 'a restore'))();
    (await takeDatabase(other, 'a restore'))();
  });
});

describe('verification', () => {
  /** One instrument of the works with all that hangs on it: what is looked for is found there as well, and sooner. */
  const oneOfMany = join(folder, 'one-instrument.db');
  beforeAll(async () => {
    await checkpoint(db);
    copyFileSync(file, oneOfMany);
    const one = await openDatabase({ DATABASE_URL: `file:${oneOfMany}` });
    const run = await firstFinished();
    const kept = `(SELECT instrument_id FROM runs WHERE id = '${run}')`;
    const having = async (column: string) =>
      (
        await one.$client.execute(
          `SELECT m.name FROM sqlite_master m JOIN pragma_table_info(m.name) c WHERE m.type = 'table' AND c.name = '${column}'`,
        )
      ).rows.map((r) => String(r[0]));
    await one.$client.execute('PRAGMA foreign_keys = OFF');
    const triggers = (await one.$client.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'")).rows;
    for (const { name } of triggers) await one.$client.execute(`DROP TRIGGER ${String(name)}`);
    // Sealed anew as it stands then.
    await one.$client.execute('DELETE FROM seals');
    for (const table of await having('run_id'))
      await one.$client.execute(`DELETE FROM ${table} WHERE run_id NOT IN (SELECT id FROM runs WHERE instrument_id = ${kept})`);
    await one.$client.execute(`DELETE FROM instruments WHERE id <> ${kept}`);
    for (const table of await having('instrument_id'))
      await one.$client.execute(`DELETE FROM ${table} WHERE instrument_id NOT IN (SELECT id FROM instruments)`);
    await sealWhatIsThere(one);
    for (const { sql } of triggers) await one.$client.execute(String(sql));
    await checkpoint(one);
    const { faults, runs } = await verifyDatabase(one);
    one.$client.close();
    expect(faults).toEqual([]);
    expect(runs).toBeGreaterThan(0);
  }, 60_000);
  /** A copy of it to spoil. */
  async function spoiled(...statements: string[]): Promise<string[]> {
    const copy = join(folder, `spoiled-${Math.abs(statements.join().length)}-${statements.length}.db`);
    copyFileSync(oneOfMany, copy);
    const other = await openDatabase({ DATABASE_URL: `file:${copy}` });
    for (const { name } of (await other.$client.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'")).rows)
      await other.$client.execute(`DROP TRIGGER ${String(name)}`);
    for (const statement of statements) await other.$client.execute(statement);
    const { faults } = await verifyDatabase(other);
    other.$client.close();
    return faults;
  }
  it('finds orphans, readings that were exchanged, dates that no run explains, and an issue that is gone', async () => {
    const run = await firstFinished();
    // The demo's certificates were issued with the digest of their logs.
    const where = `run_id = '${run}'`;
    const texts = (
      await db.$client.execute(
        `SELECT sequence, json_extract(act, '$.text') AS text FROM events WHERE ${where} AND json_extract(act, '$.type') = 'observed' ORDER BY sequence`,
      )
    ).rows;
    // Two repeats of one point, exchanged: no mean, no result and no sentence of the certificate is another.
    const other = texts.findIndex((row, i) => i > 0 && row['text'] !== texts[i - 1]!['text']);
    const [a, b] = [texts[other - 1]!, texts[other]!];
    const put = (sequence: unknown, text: unknown) =>
      `UPDATE events SET act = json_set(act, '$.text', '${String(text)}') WHERE ${where} AND sequence = ${String(sequence)}`;
    const exchanged = await spoiled(put(a['sequence'], b['text']), put(b['sequence'], a['text']));
    expect(exchanged.join()).toContain('is not what it was when the certificate was issued');
    expect((await spoiled(`UPDATE events SET person = 'Nobody' WHERE ${where} AND sequence = 3`)).join()).toContain(
      'is not what it was',
    );
    const gone = await spoiled(
      `UPDATE events SET act = json_remove(act, '$.issued') WHERE ${where} AND json_extract(act, '$.type') = 'run-completed'`,
    );
    expect(gone.join()).toContain('what was issued is gone');
    const instrument = `id = (SELECT instrument_id FROM runs WHERE id = '${run}')`;
    const dated = await spoiled(
      `UPDATE instruments SET last_calibrated = '2031-01-01', next_due = '2032-01-01' WHERE ${instrument}`,
    );
    expect(dated.join()).toMatch(/was calibrated on .* by its last run, on 2031-01-01 by the list/);
    expect(dated.join()).toMatch(/is due on .* by its last run, on 2032-01-01 by the list/);
    const orphaned = await spoiled('PRAGMA foreign_keys = OFF', `DELETE FROM runs WHERE id = '${run}'`);
    expect(orphaned.join()).toContain(`Entries of a run ${run} that is not there`);
  });
  it('finds a gap, a changed reading, a changed certificate, a wrong summary and a budget that cannot be computed', async () => {
    const run = await firstFinished();
    const where = `run_id = '${run}'`;
    expect((await spoiled(`DELETE FROM events WHERE ${where} AND sequence = 9`)).join()).toContain('a gap before entry 10');
    const reading = `(SELECT min(sequence) FROM events WHERE ${where} AND json_extract(act, '$.type') = 'observed')`;
    const changed = await spoiled(
      `UPDATE events SET act = json_set(act, '$.text', '2.507') WHERE ${where} AND sequence = ${reading}`,
    );
    expect(changed.join()).toContain('its log gives other results than the certificate');
    expect(
      (
        await spoiled(
          `UPDATE events SET act = json_set(act, '$.issued.content.owner', 'Other') WHERE ${where} AND json_extract(act, '$.type') = 'run-completed'`,
        )
      ).join(),
    ).toContain('its digest differs');
    expect((await spoiled(`UPDATE runs SET summary = json_set(summary, '$.adjusted', 7) WHERE id = '${run}'`)).join()).toContain(
      'its summary',
    );
    expect((await spoiled(`UPDATE runs SET status = 'abandoned' WHERE id = '${run}'`, 'SELECT 1')).join()).toContain(
      'is finished by its log',
    );
    expect((await spoiled(`UPDATE budgets SET document = json_set(document, '$.model', '1/0*a')`)).join()).toContain(
      'cannot be computed',
    );
  });
});

describe('a certificate', () => {
  it('stays as it was issued when the laboratory moves', async () => {
    const run = await firstFinished();
    const before = await certificateFor(run);
    await changeLaboratory({
      name: 'Another name',
      address: 'Elsewhere',
      conditionInstruments: 'Hygrometer H-2',
      timeZone: 'Europe/London',
    });
    expect(await certificateFor(run)).toEqual(before);
    expect(before.laboratory.name).not.toBe('Another name');
    expect(before.version).toBe(2);
  });
});
