import { actSchema } from '../core/acts/registry';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ICAL from 'ical.js';
import jsQR from 'jsqr';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import { demoCopy } from '../../demo/demo-for-tests';
import { families } from '../../demo/families';
import { instruments as demoInstruments } from '../../demo/instruments';
import { seededRandom } from '../../demo/random';
import { asShown } from '../../demo/simulated-run';
import { plainAct } from '../../demo/technician';
import { laboratory } from '../../demo/works';
import { plainPolicy, policySchema } from '../core/interval/policy';
import { dayAfter, daysInMonth } from '../core/interval/visit';
import { nextItem } from '../core/run/next-step';
import { database, type Database } from '../store/database';
import { countsOf, currentPolicies } from '../store/intervals';
import { instrumentById, saveLaboratory } from '../store/register';
import { runById } from '../store/run-log';
import { dayIn } from '../core/quantity/day-in-zone';
import { dueBoard, dueCalendar, dueLines, moveDue } from './due-service';
import { familyPage, kinOfKind } from './family-service';
import { historyOf, historyTable } from './history-service';
import { Histories, proposalsAtFinish, proposalsFor, valuesOf } from './interval-service';
import { today as laboratoryDay } from './laboratory-time';
import { labelAddress, qrCode } from './label-service';
import { policyBoard, previewPolicy, setPolicy } from './policy-service';
import { checksOf, instrumentByCode, quickBoard, quickStart } from './quick-service';
import { appendAct, loadRun } from './run-service';
import { refusalOf } from './fixtures/refusal-of';
import { startRun } from './start-service';
import { noteCount, takeBack, takeOut } from './use-service';

const folder = mkdtempSync(join(tmpdir(), 'just-twice-intervals-'));
const person = 'Maud Ellery';
let db: Database;
let today: string;

beforeAll(async () => {
  const file = join(folder, 'test.db');
  await demoCopy(file, new Date().toISOString().slice(0, 10));
  process.env['DATABASE_URL'] = `file:${file}`;
  db = await database();
  today = await laboratoryDay();
}, 300_000);
afterAll(() => {
  db.$client.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Does what a run asks for until something comes that is not to be done by it. */
async function work(run: string, instrument: string, until: (type: string) => boolean): Promise<void> {
  const demo = demoInstruments.find((d) => d.row.identification.toLowerCase() === instrument)!;
  const random = seededRandom(99);
  const truth = demo.truth(random);
  for (let i = 0; i < 400; i++) {
    const { state } = await loadRun(run);
    const item = nextItem(state);
    if (!item || until(item.type)) return;
    const shown = {
      reading: (s: typeof state, slot: Parameters<typeof truth.shows>[1]) => asShown(truth.shows(s, slot, random)),
      condition: (id: string) => truth.condition(id, random),
      measured: truth.measured,
      stored: truth.stored,
    };
    const now = new Date().toISOString();
    const act = plainAct(state, shown, now)!;
    const given = act.type === 'wait-ended' ? { ...act, reason: 'Stood for longer already' } : act;
    const request = { expectedSequence: state.sequence, idempotencyKey: randomUUID(), person, act: actSchema.parse(given) };
    await appendAct(run, request);
  }
  throw new Error('The run did not come to what was waited for.');
}

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

describe('quick checks', () => {
  it('are wanted each day, but not of what lies on the bench; one that gives an alarm is said to', async () => {
    const { wanted, alarms } = await quickBoard();
    expect(alarms.map((l) => l.identification)).toEqual(['QI-92']);
    expect(wanted.map((l) => l.identification)).toContain('SH-22');
    expect(wanted.map((l) => l.identification)).not.toContain('QH-21');
    // Checked yesterday, and wanted each week only.
    expect(wanted.map((l) => l.identification)).not.toContain('QI-02');
  });
  it('are found by what stands on the label, typed or scanned', async () => {
    expect((await instrumentByCode('QI-92')).id).toBe('qi-92');
    expect((await instrumentByCode(' qi-92')).id).toBe('qi-92');
    expect((await instrumentByCode('http://bench.example/quick?code=QI-92')).id).toBe('qi-92');
    expect((await refusalOf(instrumentByCode('QI-9'))).message).toContain('No instrument is called “QI-9”');
  });
  it('give an alarm, say since when all is in doubt, and change the date that is proposed', async () => {
    const checks = await checksOf('qi-92');
    // On the history they stand between what the same standard read like at each calibration.
    const point = (await historyOf('qi-92')).points.find((p) => p.checks.length > 0)!;
    expect(point).toMatchObject({ what: 'Check standard, shown less stated', band: [] });
    expect(point.checks).toHaveLength(24);
    expect(point.visits).toHaveLength(2);
    expect(checks.standing).toMatchObject({ state: 'alarm', words: 'more than three standard deviations from the middle' });
    const { chosen, isAlarm } = await proposalsFor('qi-92');
    expect(isAlarm).toBe(true);
    expect((await proposalsFor('sh-22')).isAlarm).toBe(false);
    expect(chosen).toMatchObject({ school: 'quick', date: today });
    expect(chosen.reason).toContain('in doubt');
  });
  it('that are quiet make the date later, where the policy asks them', async () => {
    const { chosen, all } = await proposalsFor('sh-22');
    expect(chosen.school).toBe('quick');
    // Two visits told that it moved: that, and not the step by its last result, is what the checks lengthen.
    const drift = all.find((p) => p.school === 'drift')!;
    expect(chosen.months).toBeCloseTo(1.5 * drift.months!, 9);
    expect(chosen.date! > drift.date!).toBe(true);
  });
  it('and what was decided, stand on the days of the laboratory', async () => {
    const days = async () => {
      const { checks } = (await checksOf('sh-22')).charts[0]!;
      const alarm = (await checksOf('qi-92')).standing as { lastGood: { day: string } };
      const { wanted } = await quickBoard();
      return [checks[0]!.day, alarm.lastGood.day, wanted.find((l) => l.id === 'sh-22')?.last];
    };
    const here = await days();
    // Twenty to seven in the morning here is the evening before by the Pacific.
    await saveLaboratory(db, { ...laboratory, timeZone: 'America/Los_Angeles' });
    expect(await days()).toEqual(here.map((day) => dayAfter(day!, -1 / daysInMonth)));
    expect((await policyBoard()).history.at(-1)!.day).toBe(dayAfter(today, -1 / daysInMonth));
    await saveLaboratory(db, { ...laboratory, timeZone: null });
    expect(await days()).toEqual(here);
  }, 120_000);
  it('are worked out again where their values were not kept', async () => {
    const kept = (await checksOf('sh-22')).charts;
    await db.$client.execute("UPDATE runs SET pairs = NULL WHERE purpose = 'quick'");
    expect((await checksOf('sh-22')).charts).toEqual(kept);
  });
  it('are held against the limits that their procedure states, from the first on', async () => {
    const { charts } = await checksOf('qs-12');
    expect(charts).toHaveLength(1);
    expect(charts[0]).toMatchObject({ origin: 'stated', limits: { centre: 0, sigma: 0.1 }, alarms: [] });
    expect(charts[0]!.checks).toHaveLength(12);
    expect(charts[0]!.checks.at(-1)).toMatchObject({ lower: -0.3, upper: 0.3 });
  });
  it('do what names them and identify; they have no certificate and set no date', async () => {
    const instrument = (await instrumentById(db, 'qv-12'))!;
    const begun = await quickStart(instrument);
    const run = randomUUID();
    const standards = Object.fromEntries(begun.standards.map((s) => [s.role, [s.standard!.id]]));
    expect(Object.keys(standards)).toEqual(['checker']);
    await startRun({
      run,
      instrument: 'qv-12',
      procedure: begun.procedure!.id,
      purpose: 'quick',
      standards,
      choices: {},
      person,
    });
    const { state } = await loadRun(run);
    expect(new Set(state.plan.map((i) => i.type))).toEqual(new Set(['step', 'reading', 'complete']));
    expect((await quickBoard()).wanted.map((l) => l.id)).not.toContain('qv-12');
    await work(run, 'qv-12', () => false);
    expect(await runById(db, run)).toMatchObject({ status: 'finished', certificate: null, isReviewed: true, purpose: 'quick' });
    expect(await instrumentById(db, 'qv-12')).toMatchObject({
      nextDue: instrument.nextDue,
      lastCalibrated: instrument.lastCalibrated,
    });
    const again = {
      expectedSequence: (await loadRun(run)).state.sequence,
      idempotencyKey: randomUUID(),
      person: 'Ines Calderstone',
    };
    const signed = appendAct(run, { ...again, act: actSchema.parse({ type: 'run-reviewed', remark: '' }) });
    expect((await refusalOf(signed)).message).toContain('This quick check is finished');
    expect((await checksOf('qv-12')).charts[0]!.checks).toHaveLength(1);
    expect((await quickBoard()).wanted.map((l) => l.id)).not.toContain('qv-12');
  });
  it('are not to be had of a procedure that names none', async () => {
    const start = {
      run: randomUUID(),
      instrument: 'qm-0140',
      procedure: 'outside-micrometer',
      purpose: 'quick' as const,
      standards: {},
      choices: {},
      person,
    };
    expect((await refusalOf(startRun(start))).message).toContain('names nothing for a quick check');
  });
  it('can be begun for every family that has a quick set', async () => {
    for (const family of families) {
      const id = family.instruments[0]!.row.identification.toLowerCase();
      const { procedure, standards } = await quickStart((await instrumentById(db, id))!);
      expect(procedure, id).not.toBeNull();
      for (const s of standards) expect(s.refusal, `${id} ${s.role}`).toBeNull();
    }
  });
});

describe('a label', () => {
  it('has a code that a camera reads as the address of the quick check', () => {
    const address = labelAddress('https://bench.example:4321', 'QM 0118/B & C');
    const { size, path } = qrCode(address);
    const [scale, quiet] = [6, 4];
    const width = (size + 2 * quiet) * scale;
    const pixels = new Uint8ClampedArray(4 * width * width).fill(255);
    for (const [, x, y] of path.matchAll(/M(\d+) (\d+)h1v1h-1z/g))
      for (let dy = 0; dy < scale; dy++)
        for (let dx = 0; dx < scale; dx++) {
          const at = 4 * (((Number(y) + quiet) * scale + dy) * width + (Number(x) + quiet) * scale + dx);
          pixels.fill(0, at, at + 3);
        }
    expect(jsQR(pixels, width, width)!.data).toBe(address);
  });
});

describe('counters of use', () => {
  it('are noted with their day, and tell the date', async () => {
    const before = (await proposalsFor('hv-22')).all.find((p) => p.school === 'use')!;
    expect(before.date).not.toBeNull();
    await noteCount('hv-22', { day: today, count: 60_000, person });
    const after = (await proposalsFor('hv-22')).chosen;
    expect(after).toMatchObject({ school: 'use', date: today });
    expect(after.reason).toContain('it is due now');
  });
  it('are counted while it is out: taken back with what it was used', async () => {
    const { hours, ...out } = (await historyOf('hv-22')).out!;
    expect(out).toMatchObject({ person: 'Tobias Wrenfield', place: 'Varnish room' });
    expect(hours).toBeCloseTo(5.5, 0);
    expect((await refusalOf(takeOut('hv-22', { place: 'Shop', person }))).message).toContain('Tobias Wrenfield took it');
    const last = (await historyOf('hv-22')).counts.at(-1)!;
    await takeBack('hv-22', { used: 150, person });
    const after = await historyOf('hv-22');
    expect(after.out).toBeNull();
    expect(after.counts.at(-1)).toEqual({ day: today, count: last.count + 150 });
    expect((await refusalOf(takeBack('hv-22', { used: 1, person }))).status).toBe(409);
    // One that was never counted begins at nothing; hours go by the clock.
    const taken = new Date(Date.now() - 2 * 3_600_000);
    await takeOut('qm-0112', { place: '', person }, taken.toISOString());
    expect((await historyOf('qm-0112', new Date(taken.getTime() + 4_500_000).toISOString())).out).toMatchObject({ hours: 1.3 });
    await takeBack('qm-0112', { used: 1.3, person });
    expect((await historyOf('qm-0112')).counts).toEqual([{ day: today, count: 1.3 }]);
    expect((await refusalOf(takeOut('moon', { place: '', person }))).status).toBe(404);
    expect((await refusalOf(takeOut('qm-0112', { place: '', person: 'Nobody' }))).status).toBe(422);
    await expect(db.$client.execute("UPDATE outings SET person = 'Other'")).rejects.toThrow('never changed');
    await expect(db.$client.execute('DELETE FROM outings')).rejects.toThrow('never removed');
  });
  it('are refused for a day to come, an unknown instrument or person', async () => {
    // A counter only rises, unless somebody says that it was set back; then it counts from there.
    const less = { day: today, count: 100, person };
    expect(await refusalOf(noteCount('hv-22', less))).toMatchObject({ status: 409, details: { fallen: true }, path: ['count'] });
    await noteCount('hv-22', { ...less, isSetBack: true });
    expect((await countsOf(db, ['hv-22'])).at(-1)).toMatchObject({ day: today, count: 100 });
    expect((await refusalOf(noteCount('hv-22', { day: '2190-01-01', count: 1, person }))).path).toEqual(['day']);
    expect((await refusalOf(noteCount('moon', { day: today, count: 1, person }))).status).toBe(404);
    expect((await refusalOf(noteCount('hv-22', { day: today, count: 1, person: 'Nobody' }))).status).toBe(422);
  });
});

describe('what comes due', () => {
  it('is counted by week over a year, of all or of one owner or place', async () => {
    const board = await dueBoard({});
    const inWeeks = board.weeks.reduce((n, w) => n + w.count, 0);
    const late = board.lines.filter((l) => l.days === null || l.days < 0).length;
    expect(inWeeks + late).toBe(board.listed);
    expect(board.lines).toHaveLength(board.listed);
    expect(board.listed + board.later).toBe(118);
    expect(board.overdue).toBe(board.lines.filter((l) => l.days !== null && l.days < 0).length);
    for (const { monday, count } of board.weeks.filter((w) => w.count > 0).slice(0, 5)) {
      const { lines } = await dueLines({ week: monday, after: 0 });
      // What is late is none of this week's.
      expect(lines.filter((l) => l.days! >= 0)).toHaveLength(count);
    }
    const further = await dueLines({ after: 5 });
    expect(further.lines).toEqual(board.lines.slice(5));
    const one = await dueBoard({ owner: 'Fenwater Clock Repairs' });
    expect(new Set(one.lines.map((l) => l.owner))).toEqual(new Set(['Fenwater Clock Repairs']));
  });
  it('is a calendar that another program reads: a whole day each, on the day, with the same name each time', async () => {
    const text = await dueCalendar({ owner: 'Fenwater Clock Repairs' }, 'http://bench.example');
    const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
    const events = calendar.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));
    const board = await dueBoard({ owner: 'Fenwater Clock Repairs' });
    expect(events.map((e) => [e.summary, e.startDate.toString(), e.startDate.isDate]).sort()).toEqual(
      board.lines.map((l) => [`Calibrate ${l.identification}`, l.nextDue, true]).sort(),
    );
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
    expect(text).toContain('URL;VALUE=URI:http://bench.example/instruments/fw-03');
  });
  it('has a name that cannot begin lines of its own', async () => {
    const text = await dueCalendar({ owner: 'Nobody\r\nBEGIN:VEVENT\rX:1' }, 'http://bench.example');
    expect(text.split(/\r\n|\r|\n/).filter((line) => /^(BEGIN:VEVENT|X:1)/.test(line))).toEqual([]);
    expect(text).toContain('Nobody BEGIN:VEVENT X:1');
  });
  it('is moved together to one day, with a reason that is kept, or not at all', async () => {
    const ask = { instruments: ['qm-0131', 'qm-0132'], to: '2027-02-01', reason: 'Together with the tuning shop', person };
    expect((await refusalOf(moveDue({ ...ask, instruments: ['qm-0131', 'moon'] }))).status).toBe(404);
    expect((await refusalOf(moveDue({ ...ask, to: '2020-01-01' }))).message).toContain('is past');
    expect((await refusalOf(moveDue({ ...ask, to: '2090-01-01' }))).path).toEqual(['to']);
    const before = (await instrumentById(db, 'qm-0131'))!.nextDue;
    expect(await moveDue(ask)).toBe(2);
    expect((await instrumentById(db, 'qm-0132'))!.nextDue).toBe('2027-02-01');
    expect((await historyOf('qm-0131')).moves[0]).toMatchObject({ before, after: '2027-02-01', reason: ask.reason, person });
    // Once more is nothing more.
    expect(await moveDue(ask)).toBe(0);
  });
});
