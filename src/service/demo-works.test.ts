import { admit } from '../core/acts/admit';
import { runState, withEvent } from '../core/acts/fold';
import { families } from '../bench/works/families';
import { describe, expect, it } from 'vitest';
import { eq, sql } from 'drizzle-orm';
import { summarizeRun } from '../core/run/run-summary';
import type { Database } from '../store/database';
import * as schema from '../store/schema';
import { benchBoard } from './bench-service';
import { getInstrument } from './register-service';
import { loadRun } from './run-service';
import { benchOptions } from './start-service';
import { heldAgainstTheDoor } from './fixtures/held-against-the-door';
import { ownCopy } from './fixtures/own-copy';

let db: Database;
ownCopy((opened) => (db = opened));
const today = new Date().toISOString().slice(0, 10);

describe('the demo works', () => {
  it('has instruments of thirty-seven kinds, each with two to six finished runs, and some of each kind on the bench', async () => {
    const rows = await db
      .select({ run: schema.runs, instrument: schema.instruments })
      .from(schema.runs)
      .innerJoin(schema.instruments, eq(schema.runs.instrumentId, schema.instruments.id));
    const finished = new Map<string, number>();
    for (const { run } of rows)
      if (run.status === 'finished' && run.purpose === 'calibration')
        finished.set(run.instrumentId, (finished.get(run.instrumentId) ?? 0) + 1);
    expect(finished.size).toBe(48 + 2 * 25 + 20);
    for (const count of finished.values()) {
      expect(count).toBeGreaterThanOrEqual(2);
      expect(count).toBeLessThanOrEqual(6);
    }
    const open = rows.filter(({ run }) => run.status === 'open').map(({ instrument }) => instrument.kind);
    expect(new Set(open)).toEqual(new Set(rows.map(({ instrument }) => instrument.kind)));
    expect(new Set(open).size).toBe(12 + 25);
    const adjusted = rows.filter(({ run }) => run.summary?.adjusted).map(({ instrument }) => instrument.kind);
    // Weights, blocks, bars and glass are judged and not adjusted; this machine's owner has its map made by the service.
    const neverAdjusted = ['weight', 'gauge-blocks', 'length-bar', 'liquid-in-glass-thermometer', 'coordinate-measuring-machine'];
    expect(adjusted.filter((kind) => neverAdjusted.includes(kind))).toEqual([]);
    expect([...new Set(rows.map((r) => r.instrument.kind))].filter((k) => !adjusted.includes(k)).sort()).toEqual(
      neverAdjusted.sort(),
    );
  });
  it('holds nothing that lies in the future', async () => {
    const [{ latest }] = (await db.all(sql`SELECT max(at) AS latest FROM events`)) as [{ latest: string }];
    expect(Date.parse(latest)).toBeLessThanOrEqual(Date.now());
  });
  it('holds only logs that the rules of a run admit, with summaries that follow from them', async () => {
    const runs = (await db.select().from(schema.runs)).filter((r, i) => i % 11 === 0 || r.status === 'open');
    for (const run of runs) {
      const { events } = await loadRun(run.id);
      let state = runState(events.slice(0, 1));
      for (const event of events.slice(1)) {
        expect(admit(state, event.act, event.person, event.at)).toBeNull();
        state = withEvent(state, event);
      }
      if (run.status === 'finished') expect(JSON.parse(JSON.stringify(summarizeRun(state)))).toEqual(run.summary);
    }
  });
  it('gives at the door, for a run of each procedure, what the screen shows', async () => {
    const all = await db.select({ id: schema.runs.id, procedure: schema.runs.procedureId }).from(schema.runs);
    const first = new Map(all.reverse().map((r) => [r.procedure, r.id]));
    expect(await heldAgainstTheDoor([...first.values()])).toBeGreaterThan(60);
  }, 60_000);
  it('what an instrument is left at is what it is found at next, but for drift of some micrometres', async () => {
    const { history } = await getInstrument('qm-0113');
    const ordered = history.filter((r) => r.status === 'finished').reverse();
    for (let i = 1; i < ordered.length; i++)
      expect(Math.abs(ordered[i]!.summary!.found!.value - ordered[i - 1]!.summary!.left!.value)).toBeLessThan(0.006);
  });
  it('has for every instrument a standard for each role that is wanted', async () => {
    const barred: string[] = [];
    const coarse: string[] = [];
    for (const instrument of await db.select().from(schema.instruments))
      for (const option of await benchOptions(instrument.id, today))
        for (const role of option.roles)
          if (!role.optional && !role.standards.some((s) => s.refusal === null))
            barred.push(`${instrument.id}: ${role.role}, ${role.standards.map((s) => s.refusal).join(' ')}`);
          else coarse.push(...role.standards.slice(0, 1).flatMap((s) => (s.caution ? `${instrument.id}: ${s.caution}` : [])));
    expect(barred).toEqual([]);
    expect(coarse).toEqual([]);
  }, 60_000);
  it('offers what serves a part of the points where several may fill a role together', async () => {
    const [weights] = await benchOptions('qw-02', today);
    const { standards } = weights!.roles.find((r) => r.role === 'comparator')!;
    expect(Object.fromEntries(standards.map((s) => [s.identification, s.refusal]))).toEqual({
      'QM-CMP-1': null,
      'QM-CMP-2': null,
    });
    const [blocks] = await benchOptions('qm-0140', today);
    const single = blocks!.roles.flatMap((r) => (r.several ? [] : r.standards.filter((s) => s.refusal !== null)));
    expect(single.length).toBeGreaterThan(0);
  });
  it('shows overdue instruments first on the bench', async () => {
    const board = await benchBoard();
    const ofFamilies = families.map((f) => f.open.instrument.toUpperCase());
    expect(
      board.runs
        .map((r) => r.identification)
        .filter((i) => /^Q[BMPT]/.test(i) && !ofFamilies.includes(i))
        .sort(),
    ).toEqual(['QB-02', 'QM-0118', 'QM-0131', 'QP-21', 'QT-11', 'QT-21 QT-22 QT-23']);
    expect(board.runs.map((r) => r.identification)).toEqual(expect.arrayContaining(ofFamilies));
    expect(board.runs).toHaveLength(13 + ofFamilies.length + 1);
    const together = board.runs.find((r) => r.identification === 'QT-21 QT-22 QT-23')!;
    expect(together).toMatchObject({ address: '/set-ups/00000000-0000-4000-8002-000000000001', stage: 'As found' });
    expect(together.sentence).toBe('QT-22: Middle, 50 °C: thermometer, second, 1 of 3.');
    expect(board.runs.find((r) => r.identification === 'QM-0131')!.waitEndsAt).not.toBeNull();
    expect(board.runs.find((r) => r.identification === 'QP-21')).toMatchObject({ range: '0 to 600 kPa', taken: 13, wanted: 20 });
    expect(board.due[0]).toMatchObject({ identification: 'QM-0112', standing: 'expired', days: -9 });
    expect(board.standards.map((s) => s.standing)).toEqual(['expired', 'nearly-due']);
  });
});
