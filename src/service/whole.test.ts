import { createHash } from 'node:crypto';
import { copyFileSync, cpSync, existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { canonicalText } from '../core/seal/seal';
import { database, forgetDatabase, migrateDatabase, openDatabase, type Database } from '../store/database';
import { sha256 } from '../store/seals';
import { certificateFor } from './certificate-service';
import { certificatePdf } from './certificate-pdf/certificate-pdf';
import { exportLaboratory, manifestSchema, type Manifest } from './export-service';
import { smallLaboratory } from './fixtures/small-laboratory';
import { ownCopy } from './fixtures/own-copy';
import { importLaboratory } from './import-service';
import { sealText } from './seal-service';

let demo: Database;
ownCopy((opened) => (demo = opened));
const folder = mkdtempSync(join(tmpdir(), 'just-twice-whole-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = '2026-11-25T08:00:00.000Z';
const original = join(folder, 'original.db');
const out = join(folder, 'out');
let manifest: Manifest;

const inFile = async <T>(file: string, work: (db: Database) => Promise<T>): Promise<T> => {
  const db = await openDatabase({ DATABASE_URL: `file:${file}` });
  try {
    return await work(db);
  } finally {
    db.$client.close();
  }
};

beforeAll(async () => {
  await smallLaboratory(demo, original);
  manifest = await inFile(original, (db) => exportLaboratory(db, out, at));
}, 300_000);

/** Everything in a database that was recorded, column by column as it lies there. */
const contents = (db: Database) =>
  Promise.all(
    [
      'people',
      'instruments',
      'standards',
      'former_certificates',
      'procedures',
      'runs',
      'run_standards',
      'events',
      'policies',
      'seals',
    ]
      .concat([
        'use_counts',
        'outings',
        'moved_dates',
        'findings',
        'model_cards',
        'budgets',
        'competences',
        'deeds',
        'facts',
        'laboratory',
      ])
      .map(async (table) => {
        const { rows, columns } = await db.$client.execute(`SELECT * FROM ${table} ORDER BY rowid`);
        // Worked out in the background from the log.
        const kept = columns.filter((c) => c !== 'pairs');
        return [table, rows.map((row) => kept.map((c) => row[c] as unknown))] as const;
      }),
  );

describe('a whole laboratory in a folder', () => {
  it('lies there as open files of which each has its digest', () => {
    expect(manifestSchema.parse(JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8')))).toEqual(manifest);
    expect(manifest.files.filter((f) => f.name.startsWith('records/'))).toHaveLength(4);
    const sheet = Papa.parse<Record<string, string>>(readFileSync(join(out, 'instruments.csv'), 'utf8'), {
      header: true,
      skipEmptyLines: true,
    });
    expect(sheet.data.map((row) => row['identification'])).toEqual(['QI-92', 'SH-22']);
    // Nothing by which anybody could sign in.
    expect(readdirSync(join(out, 'tables')).join()).not.toMatch(/account|session|credential|keys/);
  });
  it('is read back into an empty laboratory, as it was: rows, seals, certificates byte for byte', async () => {
    const target = join(folder, 'target.db');
    const found = await importLaboratory(out, target, at);
    expect([found.faults, found.runs, found.head]).toEqual([[], 4, manifest.head]);
    expect(await inFile(target, contents)).toEqual(await inFile(original, contents));
    const printed = async (file: string) => {
      const [url, of] = [process.env['DATABASE_URL'], `file:${file}`];
      forgetDatabase();
      process.env['DATABASE_URL'] = of;
      const { rows } = await (
        await database()
      ).$client.execute('SELECT id, certificate FROM runs WHERE certificate IS NOT NULL ORDER BY id');
      const pdfs = [];
      for (const [id, number] of rows.map((row) => [String(row['id']), String(row['certificate'])] as const))
        pdfs.push(await certificatePdf(await certificateFor(id), (await sealText(id, number))!));
      forgetDatabase();
      process.env['DATABASE_URL'] = url;
      return pdfs;
    };
    const [before, after] = [await printed(original), await printed(target)];
    expect(before.length).toBe(2);
    expect(after.map((pdf, i) => pdf.equals(before[i]!))).toEqual([true, true]);
    // What comes out of it again is the same.
    const again = await inFile(target, (db) => exportLaboratory(db, join(folder, 'again'), at));
    expect(again).toEqual(manifest);
  }, 120_000);
  it('goes into no laboratory that holds something, and out into no folder that does', async () => {
    const full = join(folder, 'full.db');
    copyFileSync(original, full);
    await expect(importLaboratory(out, full, at)).rejects.toThrow('holds a laboratory already');
    expect(readFileSync(full).equals(readFileSync(original))).toBe(true);
    const foreign = join(folder, 'foreign.db');
    await inFile(foreign, (db) => db.$client.execute('CREATE TABLE runs (id TEXT)'));
    await expect(importLaboratory(out, foreign, at)).rejects.toThrow('another program');
    const { rows } = await inFile(foreign, (db) => db.$client.execute('SELECT name FROM sqlite_master'));
    expect(rows.map((row) => row['name'])).toEqual(['runs']);
    // One that was only started is set aside.
    const started = join(folder, 'started.db');
    await inFile(started, (db) => migrateDatabase(db));
    expect((await importLaboratory(out, started, at)).runs).toBe(4);
    expect(readdirSync(folder)).toContain('started.db.before-20261125-080000');
    await expect(inFile(original, (db) => exportLaboratory(db, out, at))).rejects.toThrow('holds something already');
    await expect(importLaboratory(join(folder, 'nowhere'), join(folder, 'new.db'), at)).rejects.toThrow('no manifest.json');
  });

  /** A folder in which somebody changed a file, and made its digest anew where he knew how. */
  const changed = (name: string, change: (text: string) => string, knowsHow: boolean): string => {
    const copy = mkdtempSync(join(folder, 'changed-'));
    cpSync(out, copy, { recursive: true });
    const text = change(readFileSync(join(copy, name), 'utf8'));
    writeFileSync(join(copy, name), text);
    const files = manifest.files.map((f) =>
      f.name === name && knowsHow ? { name, sha256: createHash('sha256').update(text).digest('hex') } : f,
    );
    writeFileSync(join(copy, 'manifest.json'), JSON.stringify({ ...manifest, files }));
    return copy;
  };
  const aRecord = () => manifest.files.findLast((f) => f.name.startsWith('records/'))!.name;
  /** A record with its digest made anew. */
  const forged = (text: string, change: (record: { entries: Record<string, unknown>[] }) => void): string => {
    const { digest: _, ...record } = JSON.parse(text);
    change(record);
    return `${JSON.stringify({ ...record, digest: sha256(canonicalText(record)) })}\n`;
  };
  it.each<[string, () => string, string]>([
    [
      'a letter',
      () => changed('tables/people.jsonl', (t) => t.replace('Maud', 'Mawd'), false),
      'tables/people.jsonl is not what was exported',
    ],
    ['a letter, with the digest', () => changed('tables/people.jsonl', (t) => t.replace('Maud', 'Mawd'), true), 'people,'],
    [
      'a row taken out, with the digest',
      () => changed('tables/standards.jsonl', (t) => t.slice(t.indexOf('\n') + 1), true),
      'refers to something that is not there',
    ],
    ['a line of the chain taken out', () => changed('tables/seals.jsonl', (t) => t.slice(t.indexOf('\n') + 1), true), 'seals'],
    [
      'the last lines of the chain taken out',
      () => changed('tables/seals.jsonl', (t) => `${t.split('\n').slice(0, -3).join('\n')}\n`, true),
      'seals',
    ],
    ['a name in a log', () => changed(aRecord(), (t) => forged(t, (r) => (r.entries[1]!['person'] = 'Odo')), true), 'events'],
    ['entries exchanged', () => changed(aRecord(), (t) => forged(t, (r) => r.entries.reverse()), true), 'begins with its start'],
    ['no JSON', () => changed('tables/facts.jsonl', () => '{"key":\n', true), 'tables/facts.jsonl, line 1 is not JSON'],
    [
      'a column too many',
      () => changed('tables/facts.jsonl', (t) => t.replace('{', '{"more":1,'), true),
      'tables/facts.jsonl, line 1',
    ],
  ])(
    'is refused, and leaves nothing, where it was changed: %s',
    async (_, make, said) => {
      const target = join(folder, 'refused.db');
      await expect(importLaboratory(make(), target, at)).rejects.toThrow(said);
      expect(readdirSync(folder).filter((f) => f.startsWith('refused'))).toEqual([]);
    },
    60_000,
  );
  it('is refused where a file is missing, or named where none should be', async () => {
    const copy = mkdtempSync(join(folder, 'missing-'));
    cpSync(out, copy, { recursive: true });
    rmSync(join(copy, aRecord()));
    await expect(importLaboratory(copy, join(folder, 'refused.db'), at)).rejects.toThrow('is missing');
    const files = [...manifest.files, { name: '../../etc/passwd.json', sha256: '' }];
    writeFileSync(join(copy, 'manifest.json'), JSON.stringify({ ...manifest, files }));
    await expect(importLaboratory(copy, join(folder, 'refused.db'), at)).rejects.toThrow('manifest.json: files.');
    expect(existsSync(join(folder, 'refused.db'))).toBe(false);
  });
});
