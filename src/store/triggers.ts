import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Database } from './database';

const plain = (sql: string): string => sql.replace(/[`";]/g, '').replace(/\s+/g, ' ').trim();

/** What keeps tables from being changed, as the migrations made it: statement by name. */
async function madeTriggers(folder: string): Promise<Map<string, string>> {
  const files = (await readdir(folder)).filter((f) => f.endsWith('.sql')).sort();
  const all = new Map<string, string>();
  for (const file of files)
    for (const statement of (await readFile(join(folder, file), 'utf8')).split('--> statement-breakpoint')) {
      const [, name] = /^\s*CREATE TRIGGER `(\w+)`/.exec(statement) ?? [];
      if (name) all.set(name, plain(statement));
    }
  return all;
}

/** Triggers that are gone, or are others than they were made; and such as nobody made. */
export async function triggerFaults(db: Database, folder = 'src/store/migrations'): Promise<string[]> {
  const { rows } = await db.$client.execute(`SELECT name, sql FROM sqlite_master WHERE type = 'trigger'`);
  const there = new Map(rows.map((r) => [String(r[0]), plain(String(r[1]))]));
  const wanted = await madeTriggers(folder);
  return [
    ...[...wanted].flatMap(([name, sql]) =>
      there.get(name) === sql
        ? []
        : [
            `sqlite_master, ${name}: the trigger that keeps this table from being changed is ${there.has(name) ? 'another' : 'gone'}.`,
          ],
    ),
    ...[...there.keys()].filter((n) => !wanted.has(n)).map((n) => `sqlite_master, ${n}: a trigger that nobody made here.`),
  ];
}
