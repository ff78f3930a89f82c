import { sql } from 'drizzle-orm';
import { describe, expect, it } from 'vitest';
import type { Database } from '../store/database';
import { causesLookedFor } from '../store/run-log';
import { ownCopy } from './fixtures/own-copy';
import { knownBeside } from './known-service';
import { loadRun } from './run-service';

let db: Database;
ownCopy((opened) => (db = opened));

/** Runs of a procedure, as they come. */
const runsOf = async (procedure: string): Promise<string[]> =>
  (await db.$client.execute({ sql: 'SELECT id FROM runs WHERE procedure_id = ? LIMIT 4', args: [procedure] })).rows.map((r) =>
    String(r['id']),
  );

/** An act as `looked` is kept, in a log where only it matters. */
async function keepLook(run: string, sequence: number, id: string, helped: boolean | null): Promise<void> {
  const act = { type: 'looked', version: 2, set: 'as-found', series: 'error', point: 'p3', id, texts: { R: '7.7' } };
  await db.run(
    sql`INSERT INTO events (run_id, sequence, at, person, idempotency_key, act) VALUES (${run}, ${sequence}, '2026-11-24T08:00:00.000Z', 'Ada', ${`${run}-${sequence}`}, ${JSON.stringify(helped === null ? act : { ...act, helped })})`,
  );
}

describe('what looking for causes gave elsewhere', () => {
  it('is counted over the other runs of the procedure; what was not read again tells nothing', async () => {
    const [a, b, c] = await runsOf('outside-micrometer');
    const [other] = await runsOf('balance');
    await keepLook(a!, 9001, 'wipe', true);
    await keepLook(b!, 9001, 'wipe', false);
    await keepLook(b!, 9002, 'unit', false);
    await keepLook(b!, 9003, 'stack', null);
    await keepLook(c!, 9001, 'wipe', true);
    await keepLook(other!, 9001, 'wipe', true);
    expect(await causesLookedFor(db, 'outside-micrometer', c!)).toEqual({
      wipe: { tried: 2, helped: 1 },
      unit: { tried: 1, helped: 0 },
    });
    expect(await causesLookedFor(db, 'calliper', c!)).toEqual({});
  });
  it('is found by its own index, and stands beside a run with the card', async () => {
    const plan = await db.all<{ detail: string }>(
      sql`EXPLAIN QUERY PLAN SELECT json_extract(act, '$.id') FROM events WHERE json_extract(act, '$.type') = 'looked'`,
    );
    expect(plan.map((p) => p.detail).join()).toContain('events_looked');
    const [first] = await runsOf('calliper');
    const { state } = await loadRun(first!);
    const known = await knownBeside(first!, state);
    expect(known.causes).toEqual({});
    expect(known.card?.lines.length).toBeGreaterThan(0);
  });
});
