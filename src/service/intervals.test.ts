import { actSchema } from '../core/acts/registry';
import { randomUUID } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import { plainPolicy, policySchema } from '../core/interval/policy';
import type { Database } from '../store/database';
import { currentPolicies } from '../store/intervals';
import { instrumentById } from '../store/register';
import { runById } from '../store/run-log';
import { dayIn } from '../core/quantity/day-in-zone';
import { familyPage, kinOfKind } from './family-service';
import { historyOf, historyTable } from './history-service';
import { Histories, proposalsAtFinish, proposalsFor, valuesOf } from './interval-service';
import { today as laboratoryDay } from './laboratory-time';
import { policyBoard, previewPolicy, setPolicy } from './policy-service';
import { appendAct, loadRun } from './run-service';
import { refusalOf } from './fixtures/refusal-of';
import { startRun } from './start-service';
import { ownCopy, person } from './fixtures/own-copy';
import { work } from './fixtures/work';

let db: Database;
let today: string;
ownCopy((opened) => (db = opened));
beforeAll(async () => void (today = await laboratoryDay()));

describe('next dates of the works', () => {
  it('are told by every school for an instrument of every family', async () => {
    const histories = await Histories.read();
    const proposals = await histories.proposals(histories.instruments, today);
    expect(proposals.size).toBe(118);
    const speaking = new Map<string, Set<string>>();
    for (const i of histories.instruments) {
      const { all, chosen } = proposals.get(i.id)!;
      expect(all.map((p) => p.school).sort()).toEqual(['drift', 'fixed', 'quick', 'react', 'reliability', 'use']);
      expect(chosen.date).toMatch(/^\d{4}-\d\d-\d\d$/);
      for (const p of all) {
        expect(`${p.reason} ${p.sure}`, i.id).not.toMatch(/NaN|undefined|Infinity/);
        if (p.date !== null && p.date < today) expect(p.reason).toContain('That day is past');
        if (p.date !== null) speaking.set(p.school, (speaking.get(p.school) ?? new Set()).add(i.kind));
      }
    }
    expect(speaking.get('fixed')!.size).toBe(37);
    expect(speaking.get('react')!.size).toBe(37);
    for (const school of ['drift', 'reliability', 'use', 'quick']) expect(speaking.get(school)?.size, school).toBeGreaterThan(0);
  });
  it('follow the policy of their family, or of their owner before it', async () => {
    expect((await proposalsFor('qm-0112')).policy).toEqual({ school: 'drift', scope: 'family' });
    expect((await proposalsFor('tr-112')).policy).toEqual({ school: 'fixed', scope: 'owner' });
    expect((await proposalsFor('tr-112')).chosen.school).toBe('fixed');
    expect((await refusalOf(proposalsFor('nothing'))).status).toBe(404);
  });
  it('rest on values that are worked out again where they were not kept', async () => {
    const run = (await Histories.read()).visitsOf('qm-0112')[0]!.run;
    const kept = (await valuesOf(db, [run])).get(run)!;
    expect(kept.pairs).toHaveLength(10);
    await db.$client.execute({ sql: 'UPDATE runs SET pairs = NULL WHERE id = ?', args: [run] });
    expect((await valuesOf(db, [run])).get(run)).toEqual(kept);
    expect((await runById(db, run))!.pairs).toEqual(kept);
  });
});

describe('the history of an instrument', () => {
  it('has each value over the years, the one that drifts worst first, and every school', async () => {
    const h = await historyOf('qm-0112');
    expect(h.points).toHaveLength(10);
    expect(h.points[0]!.visits).toHaveLength(5);
    expect(h.points[0]!.band.length).toBeGreaterThan(10);
    expect(h.points[0]!.visits.some((v) => v.hasNewStandards)).toBe(true);
    expect(h.proposals.all).toHaveLength(6);
  });
  it('goes out as a table whose texts are never formulas', async () => {
    const { csv } = await historyTable('qm-0112');
    const { data } = Papa.parse<Record<string, string>>(csv, { header: true });
    expect(data).toHaveLength(50);
    expect(Number(data[0]!['found'])).toBeCloseTo(-0.0007, 3);
    for (const row of data)
      for (const cell of [row['result'], row['point'], row['standards']]) expect(cell).not.toMatch(/^[=+\-@]/);
  });
});

describe('the finish of a run', () => {
  const start = async (instrument: string, procedure: string, standards: Record<string, string[]>) => {
    const run = randomUUID();
    await startRun({ run, instrument, procedure, standards, choices: {}, person });
    await work(run, instrument, (type) => type === 'interval');
    return run;
  };
  it('proposes by the policy, with its own readings as the latest visit; another date takes a reason, and all that was said is kept', async () => {
    const run = await start('qm-0113', 'outside-micrometer', { blocks: ['gb-47'] });
    const { state } = await loadRun(run);
    const { chosen, all } = await proposalsAtFinish(state, today);
    expect(chosen.school).toBe('drift');
    expect(chosen.sure).toContain('6 visits');
    const decide = (act: object, n = 0) =>
      appendAct(run, {
        expectedSequence: state.sequence + n,
        idempotencyKey: randomUUID(),
        person,
        act: actSchema.parse({
          type: 'interval-decided',
          school: chosen.school,
          proposed: chosen.date,
          next: chosen.date,
          reason: chosen.reason,
          ...act,
        }),
      });
    expect((await refusalOf(decide({ proposed: '2031-01-01', next: '2031-01-01' }))).message).toContain('has changed');
    expect((await refusalOf(decide({ school: 'fixed' }))).message).toContain('has changed');
    expect((await refusalOf(decide({ next: '2027-12-24', reason: '' }))).message).toContain('give the reason');
    const { event } = await decide({ next: '2027-12-24', reason: 'Goes with the others of the room' });
    expect(event.act).toMatchObject({ next: '2027-12-24', proposed: chosen.date, reason: 'Goes with the others of the room' });
    // What the server says is the server's: nothing of it is taken from the request.
    expect(event.act).toMatchObject({ advice: all });
    await work(run, 'qm-0113', () => false);
    expect(await instrumentById(db, 'qm-0113')).toMatchObject({ nextDue: '2027-12-24', lastCalibrated: today });
    expect((await runById(db, run))!.pairs!.pairs).toHaveLength(10);
  });
});

describe('policies', () => {
  const drift = policySchema.parse({ school: 'drift', ceiling: 24 });
  it('are looked at before they are set: what would move, and how many come in a year', async () => {
    const preview = await previewPolicy({
      scope: 'family',
      subject: 'calliper',
      policy: policySchema.parse({ school: 'fixed', months: 3 }),
    });
    expect(preview.concerned).toBe(2);
    expect(preview.moved).toHaveLength(2);
    for (const m of preview.moved) expect(m.then < m.now!).toBe(true);
    expect(await currentPolicies(db)).not.toContainEqual(expect.objectContaining({ subject: 'calliper' }));
  });
  it('are given up when whoever asked has gone, and tell how far they are', async () => {
    const all = policySchema.parse({ school: 'drift', months: 7 });
    const told: number[] = [];
    const ask = { scope: 'laboratory' as const, subject: '', policy: all };
    await previewPolicy(ask, (done, of) => told.push(done / of));
    expect(told.every((share, i) => share > 0 && share <= 1 && share >= (told[i - 1] ?? 0))).toBe(true);
    const given = new AbortController();
    given.abort();
    await expect(previewPolicy(ask, () => {}, given.signal)).rejects.toThrow();
  });
  it('hold once they are set, and no more once they are taken back; who set what stays', async () => {
    await setPolicy({ scope: 'family', subject: 'calliper', policy: drift, person });
    expect((await proposalsFor('qc-34')).policy).toEqual({ school: 'drift', scope: 'family' });
    await setPolicy({ scope: 'family', subject: 'calliper', policy: null, person });
    expect((await proposalsFor('qc-34')).policy).toEqual({ school: 'fixed', scope: 'none' });
    const { history, subjects } = await policyBoard();
    expect(history.slice(0, 2).map((l) => [l.subject, l.policy?.school ?? null])).toEqual([
      ['calliper', null],
      ['calliper', 'drift'],
    ]);
    expect(subjects.find((s) => s.scope === 'family' && s.subject === 'calliper')).toMatchObject({
      policy: null,
      instruments: 2,
    });
    await expect(db.$client.execute("UPDATE policies SET person = 'x'")).rejects.toThrow('never changed');
    await expect(db.$client.execute('DELETE FROM policies')).rejects.toThrow('never removed');
  });
  it('can be set for one instrument, which goes before its owner and family', async () => {
    expect((await policyBoard()).subjects.some((s) => s.scope === 'instrument')).toBe(false);
    expect((await policyBoard('tr-112')).subjects.at(-1)).toMatchObject({ scope: 'instrument', title: 'TR-112', policy: null });
    expect((await policyBoard('moon')).subjects.some((s) => s.scope === 'instrument')).toBe(false);
    await setPolicy({ scope: 'instrument', subject: 'tr-112', policy: drift, person });
    expect((await proposalsFor('tr-112')).policy).toEqual({ school: 'drift', scope: 'instrument' });
    await setPolicy({ scope: 'instrument', subject: 'tr-112', policy: null, person });
  });
  it('of the laboratory have no subject, and are set by people of the laboratory', async () => {
    expect((await refusalOf(setPolicy({ scope: 'laboratory', subject: '', policy: plainPolicy, person: 'Nobody' }))).status).toBe(
      422,
    );
    await setPolicy({ scope: 'laboratory', subject: 'ignored', policy: plainPolicy, person });
    expect(await currentPolicies(db)).toContainEqual({ scope: 'laboratory', subject: '', policy: plainPolicy });
  });
});

describe('a family', () => {
  it('of many has its curve by likelihood, and names who is unlike the others', async () => {
    const page = await familyPage('pressure-transmitter', ['wind chest']);
    expect(page.members).toHaveLength(20);
    expect(page.way).toBe('likelihood');
    expect(page.outside).toBeGreaterThanOrEqual(20);
    expect(page.months.low).toBeLessThan(page.months.middle);
    expect(page.goodness).not.toBeNull();
    const worst = page.members.find((m) => m.identification === 'QP-45')!;
    expect(worst.outside).toBeGreaterThanOrEqual(3);
  });
  it('of few has what was assumed, and is told apart by use as the policy says', async () => {
    const page = await familyPage('pressure-transmitter', ['']);
    expect(page.way).toBe('few');
    expect(page.members.map((m) => m.identification).sort()).toEqual(['QP-21', 'QP-22', 'QP-25']);
    expect((await refusalOf(familyPage('pressure-transmitter', ['moon']))).status).toBe(404);
  });
  it('that is told apart has all its kin to choose from, the largest first', async () => {
    expect(await kinOfKind('pressure-transmitter')).toEqual([
      { kin: '["pressure-transmitter","wind chest"]', members: 20 },
      { kin: '["pressure-transmitter",""]', members: 3 },
    ]);
    expect(await kinOfKind('outside-micrometer')).toEqual([{ kin: '["outside-micrometer"]', members: 20 }]);
    expect(await kinOfKind('nothing')).toEqual([]);
  });
});

describe('a certificate that is taken back', () => {
  it('takes its dates with it; those of the calibration before stand again until it is issued anew', async () => {
    const before = (await instrumentById(db, 'qm-0152'))!;
    const run = randomUUID();
    const blocks = { blocks: ['gb-47'] };
    await startRun({ run, instrument: 'qm-0152', procedure: 'outside-micrometer', standards: blocks, choices: {}, person });
    await work(run, 'qm-0152', () => false);
    const finished = (await instrumentById(db, 'qm-0152'))!;
    expect(finished.lastCalibrated).toBe(dayIn(new Date().toISOString(), 'Europe/London'));
    const send = async (act: object, by: string) =>
      appendAct(run, {
        expectedSequence: (await loadRun(run)).state.sequence,
        idempotencyKey: randomUUID(),
        person: by,
        act: actSchema.parse(act),
      });
    await send({ type: 'run-returned', remark: 'Read 25 mm again' }, 'Ines Calderstone');
    expect(await instrumentById(db, 'qm-0152')).toMatchObject({
      lastCalibrated: before.lastCalibrated,
      nextDue: before.nextDue,
      stored: finished.stored,
    });
    await send({ type: 'run-broken-off', reason: 'Dropped on the floor' }, person);
    expect(await instrumentById(db, 'qm-0152')).toMatchObject({ lastCalibrated: before.lastCalibrated, nextDue: before.nextDue });
    expect(await runById(db, run)).toMatchObject({ status: 'abandoned' });
    expect((await instrumentById(db, 'qm-0152'))!.state).toBe('in-use');
  });
  it('is not to be had while what is to be measured is damaged: it goes out of use with the run', async () => {
    const run = randomUUID();
    const start = {
      instrument: 'qm-0152',
      procedure: 'outside-micrometer',
      standards: { blocks: ['gb-47'] },
      choices: {},
      person,
    };
    await startRun({ run, ...start });
    await appendAct(run, {
      expectedSequence: 1,
      idempotencyKey: randomUUID(),
      person,
      act: actSchema.parse({ type: 'run-broken-off', reason: 'Damaged: repair first', outOfUse: true }),
    });
    expect((await instrumentById(db, 'qm-0152'))!.state).toBe('out-of-use');
    expect((await refusalOf(startRun({ run: randomUUID(), ...start }))).message).toContain('out of use');
    await db.$client.execute("UPDATE instruments SET state = 'in-use' WHERE id = 'qm-0152'");
  });
});
