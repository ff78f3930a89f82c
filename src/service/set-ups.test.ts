import { actSchema, type NewAct } from '../core/acts/registry';
import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import type { Database } from '../store/database';
import * as schema from '../store/schema';
import { benchBoard } from './bench-service';
import { appendAct, loadSetUp } from './run-service';
import { benchOptions, companionsOf, startRun } from './start-service';
import { refusalOf } from './fixtures/refusal-of';
import { ownCopy, person } from './fixtures/own-copy';

let db: Database;
ownCopy((opened) => (db = opened));
const today = new Date().toISOString().slice(0, 10);

describe('several instruments in one set-up', () => {
  const request = (more: object = {}) => ({
    run: randomUUID(),
    instrument: 'qt-12',
    procedure: 'thermometer-in-bath',
    standards: { reference: ['prt-3'], bath: ['bath-1'] },
    choices: { liquid: 'water' },
    person,
    setUp: { id: randomUUID(), with: [{ run: randomUUID(), instrument: 'qt-14' }] },
    ...more,
  });
  const openRunsOf = async (instrument: string) =>
    (await db.select().from(schema.runs).where(eq(schema.runs.instrumentId, instrument))).filter((r) => r.status === 'open');

  it('begins all of them or none', async () => {
    const busy = request({ setUp: { id: randomUUID(), with: [{ run: randomUUID(), instrument: 'qt-11' }] } });
    expect(await refusalOf(startRun(busy))).toMatchObject({ status: 409, message: expect.stringContaining('QT-11 is already') });
    expect(await openRunsOf('qt-12')).toEqual([]);
    const another = request({ setUp: { id: randomUUID(), with: [{ run: randomUUID(), instrument: 'qb-03' }] } });
    expect((await refusalOf(startRun(another))).message).toBe('This procedure is not one for this kind of instrument.');
    const twice = request({ setUp: { id: randomUUID(), with: [{ run: randomUUID(), instrument: 'qt-12' }] } });
    expect(await refusalOf(startRun(twice))).toMatchObject({ status: 422, path: ['setUp', 'with'] });
    expect(await openRunsOf('qt-12')).toEqual([]);
  });
  it('is offered to those of its kind that are not on the bench', async () => {
    expect((await companionsOf('qt-12')).map((c) => c.id)).toEqual(['qt-14']);
    const [bath] = await benchOptions('qt-12', today);
    expect(bath!.most).toBe(8);
    const [balance] = await benchOptions('qb-03', today);
    expect(balance!.most).toBe(1);
  });
  it('takes one standard for one role: a dry salt is no damp one, and last time’s is proposed', async () => {
    const [salts] = await benchOptions('qh-09', today);
    const first = (role: string) => salts!.roles.find((r) => r.role === role)!.standards[0]!;
    expect(first('dry').id).not.toBe(first('damp').id);
    expect(first('dry').wasUsed && first('damp').wasUsed).toBe(true);
    const standards = Object.fromEntries(salts!.roles.map((r) => [r.role, [r.standards[0]!.id]]));
    const both = { ...standards, damp: standards['dry']! };
    const refusal = await refusalOf(
      startRun({ run: randomUUID(), instrument: 'qh-09', procedure: salts!.id, standards: both, choices: {}, person }),
    );
    expect(refusal).toMatchObject({ path: ['standards', 'damp'], message: expect.stringContaining('already') });
  });
  it('starts once however often it is asked; each has its own log, and they are found together', async () => {
    const asked = request();
    expect(await startRun(asked)).toBe(asked.run);
    expect(await startRun(asked)).toBe(asked.run);
    const members = await loadSetUp(asked.setUp.id);
    expect(members.map((m) => [m.row.id, m.state.instrument.identification, m.state.setUp!.place])).toEqual([
      [asked.run, 'QT-12', 1],
      [asked.setUp.with[0]!.run, 'QT-14', 2],
    ]);
    const other = members[1]!;
    const out: NewAct = { type: 'left-set-up', reason: 'Its cable is broken' };
    const { event } = await appendAct(other.row.id, {
      expectedSequence: 1,
      idempotencyKey: randomUUID(),
      person,
      act: actSchema.parse(out),
    });
    expect(event.act).toMatchObject(out);
    expect((await loadSetUp(asked.setUp.id))[1]!.state.setUp!.left).toMatchObject({ reason: 'Its cable is broken', person });
    // Each stands on the bench for itself now.
    const names = (await benchBoard()).runs.map((r) => [r.identification, r.address]);
    expect(names).toContainEqual(['QT-14', `/runs/${other.row.id}`]);
    expect(names).toContainEqual(['QT-12', `/set-ups/${asked.setUp.id}`]);
    await expect(loadSetUp(randomUUID())).rejects.toMatchObject({ status: 404 });
  });
});
