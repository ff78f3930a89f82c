import { actSchema } from '../core/acts/registry';
import { randomUUID } from 'node:crypto';
import jsQR from 'jsqr';
import { beforeAll, describe, expect, it } from 'vitest';
import { families } from '../bench/works/families';
import { laboratory } from '../../demo/works';
import { cautionsNow } from '../core/run/cautions';
import { nextItem } from '../core/run/next-step';
import { slotOf } from '../core/state/place-keys';
import { dayAfter, daysInMonth } from '../core/interval/visit';
import type { Database } from '../store/database';
import { instrumentById, saveLaboratory } from '../store/register';
import { runById } from '../store/run-log';
import { historyOf } from './history-service';
import { proposalsFor } from './interval-service';
import { today as laboratoryDay } from './laboratory-time';
import { labelAddress, qrCode } from './label-service';
import { policyBoard } from './policy-service';
import { checksOf, instrumentByCode, quickBoard, quickStart } from './quick-service';
import { appendAct, loadRun } from './run-service';
import { refusalOf } from './fixtures/refusal-of';
import { startRun } from './start-service';
import { ownCopy, person } from './fixtures/own-copy';
import { work } from './fixtures/work';

let db: Database;
let today: string;
ownCopy((opened) => (db = opened));
beforeAll(async () => void (today = await laboratoryDay()));

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
  it('after an alarm look for a cause, say whether it was that, and remember it', async () => {
    const before = await checksOf('qi-92');
    const { causes, id: procedure } = before.start.procedure!;
    expect(causes.every((c) => c.tried === 0 && c.minutes > 0)).toBe(true);
    const cause = causes.at(-1)!;
    const standards = Object.fromEntries(before.start.standards.map((s) => [s.role, [s.standard!.id]]));
    const begin = { instrument: 'qi-92', procedure, purpose: 'quick' as const, standards, choices: {}, person };
    expect((await refusalOf(startRun({ ...begin, run: randomUUID(), looksFor: 'nothing-like-it' }))).message).toContain(
      'causes that its procedure names',
    );
    const { purpose: _quick, ...calibration } = begin;
    expect((await refusalOf(startRun({ ...calibration, run: randomUUID(), looksFor: cause.id }))).path).toEqual(['looksFor']);
    const run = randomUUID();
    await startRun({ ...begin, run, looksFor: cause.id });
    await work(run, 'qi-92', (type) => type === 'reading');
    const { state } = await loadRun(run);
    expect(cautionsNow(state, new Date().toISOString()).join()).toContain(`Before it is read: ${cause.title}.`);
    // It reads as at a check that gave no alarm.
    const good = (await loadRun(before.charts[0]!.checks[12]!.run)).state.readings;
    for (const { text } of good) {
      const { state: now } = await loadRun(run);
      const item = nextItem(now)!;
      if (item.type !== 'reading') break;
      const act = actSchema.parse({ type: 'observed', ...slotOf(item), text, confirmed: true, reason: 'So it shows' });
      await appendAct(run, { expectedSequence: now.sequence, idempotencyKey: randomUUID(), person, act });
    }
    await work(run, 'qi-92', () => false);
    const after = await checksOf('qi-92');
    expect(after.standing.state).toBe('quiet');
    expect(after.lookedFor).toEqual({ title: cause.title, helped: true });
    // What it was once is looked for first.
    expect(after.start.procedure!.causes[0]).toMatchObject({ id: cause.id, tried: 1, helped: 1 });
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
