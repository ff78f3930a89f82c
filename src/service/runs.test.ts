import { actSchema, type Act, type NewAct } from '../core/acts/registry';
import { doneAt } from '../core/state/logged';
import { withPlan } from '../core/acts/plan';
import { admit } from '../core/acts/admit';
import { withEvent } from '../core/acts/fold';
import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { plainAct } from '../bench/technician';
import { nextItem } from '../core/run/next-step';
import { placedPoint } from '../core/state/run-state';
import type { Database } from '../store/database';
import { formerRuns } from '../store/run-log';
import { clockRights, putClockRight, timeAhead } from './clock-service';
import { appendAct, loadRun, nextCertificateNumber } from './run-service';
import { benchOptions, startRun } from './start-service';
import { refusalOf } from './fixtures/refusal-of';
import { ownCopy, person } from './fixtures/own-copy';

let db: Database;
ownCopy((opened) => (db = opened));
const today = new Date().toISOString().slice(0, 10);

describe('a run on the server', () => {
  const start = (more = {}) =>
    startRun({
      run: randomUUID(),
      instrument: 'qm-0126',
      procedure: 'outside-micrometer',
      standards: { blocks: ['gb-47'] },
      choices: {},
      person,
      ...more,
    });
  const append = (run: string, expectedSequence: number, act: NewAct, idempotencyKey: string = randomUUID()) =>
    appendAct(run, { expectedSequence, idempotencyKey, person, act: actSchema.parse(act) });
  const named = (value: string): NewAct => ({ type: 'step-done', set: 'as-found', id: 'number', value });
  const note = (text: string): NewAct => ({ type: 'note-added', text });
  const check = note('On the bench');

  it('starts once however often it is asked, and once per instrument', async () => {
    const run = randomUUID();
    expect(await start({ run })).toBe(run);
    expect(await start({ run })).toBe(run);
    expect(await refusalOf(start())).toMatchObject({ status: 409, details: { run } });
  });
  it('begins with how its repeats scattered before, or those of one like it', async () => {
    const run = randomUUID();
    await start({ run, instrument: 'qm-0113' });
    const { state } = await loadRun(run);
    const { standardDeviation, dof } = state.formerScatter['error|E|']!;
    expect(dof).toBeGreaterThan(20);
    expect(standardDeviation).toBeGreaterThan(0.0001);
    expect(standardDeviation).toBeLessThan(0.001);
    // One that was never here goes by its make and type; one of a make that nobody knows by nothing.
    const own = { id: 'new', kind: 'outside-micrometer', designation: state.instrument.designation };
    expect(await formerRuns(db, own, 'outside-micrometer', 3)).toHaveLength(3);
    expect(await formerRuns(db, { ...own, designation: 'Nobody 25' }, 'outside-micrometer', 3)).toEqual([]);
  });
  it('refuses an expired standard with the reason, and says what is nearly due', async () => {
    const refusal = await refusalOf(start({ instrument: 'qm-0147', standards: { blocks: ['gb-old'] } }));
    expect(refusal.status).toBe(409);
    expect(refusal.message).toContain('ran out on');
    const [option] = await benchOptions('qm-0147', today);
    expect(option!.roles[0]!.standards.map((c) => [c.id, c.standing, c.refusal === null])).toEqual([
      ['gb-47', 'good', true],
      ['gb-m10', 'nearly-due', true],
      ['gb-old', 'expired', false],
    ]);
    const [larger] = await benchOptions('qm-0140', today);
    expect(larger!.roles[0]!.standards.find((c) => c.id === 'gb-m10')!.refusal).toContain('No items of Gauge blocks add to');
  });
  it('refuses blocks that do not reach the points', async () =>
    expect((await refusalOf(start({ instrument: 'qm-0140', standards: { blocks: ['gb-m10'] } }))).message).toContain(
      'No items of Gauge blocks add to',
    ));
  it('refuses an unknown instrument, standard and person', async () => {
    expect(await refusalOf(start({ instrument: 'nothing' }))).toMatchObject({ status: 404, path: ['instrument'] });
    expect(await refusalOf(start({ instrument: 'qm-0147', standards: { blocks: ['nothing'] } }))).toMatchObject({
      status: 404,
      path: ['standards', 'blocks'],
    });
    expect(await refusalOf(start({ instrument: 'qm-0147', person: 'Nobody' }))).toMatchObject({ status: 422, path: ['person'] });
  });
  it('records a repeated request once, and answers a client that is behind with what it missed', async () => {
    const run = await start({ instrument: 'qm-0147' });
    const key = randomUUID();
    const first = await append(run, 1, check, key);
    expect(first).toMatchObject({ repeated: false, event: { sequence: 2, person } });
    expect(await append(run, 1, check, key)).toEqual({ event: first.event, repeated: true });
    const behind = await refusalOf(append(run, 1, note('Behind')));
    expect(behind.status).toBe(409);
    expect(behind.details['missed']).toEqual([first.event]);
    expect((await loadRun(run)).events).toHaveLength(2);
  });
  it('refuses another act under the same key, and another instrument under the same run id', async () => {
    const run = await start({ instrument: 'qm-0132' });
    const key = randomUUID();
    await append(run, 1, check, key);
    const refused = await refusalOf(append(run, 1, note('Something else'), key));
    expect(refused).toMatchObject({ status: 409, path: ['idempotencyKey'] });
    expect(await refusalOf(start({ instrument: 'qm-0133', procedure: 'balance' }))).toMatchObject({
      status: 409,
      path: ['procedure'],
    });
    expect(await refusalOf(start({ instrument: 'qm-0133', standards: {} }))).toMatchObject({
      status: 409,
      path: ['standards', 'blocks'],
    });
    expect(await refusalOf(start({ run, instrument: 'qm-0133' }))).toMatchObject({ status: 409, path: ['run'] });
    expect((await loadRun(run)).events).toHaveLength(2);
  });
  it('marks what a clock set back records, and issues no certificate with it', async () => {
    const run = await start({ instrument: 'qm-0134' });
    const earlier = new Date(Date.now() - 7_200_000).toISOString();
    const { event } = await appendAct(
      run,
      { expectedSequence: 1, idempotencyKey: randomUUID(), person, act: actSchema.parse(check) },
      earlier,
    );
    expect(event.clock!.earlierBy).toBeGreaterThan(7000);
    expect((await loadRun(run)).events[1]!.clock).toEqual(event.clock);
    expect(await nextCertificateNumber(db, '2031-12-31T23:30:00Z', 'Europe/Berlin')).toBe('C32-0001');
    expect(await nextCertificateNumber(db, '2031-12-31T23:30:00Z', 'UTC')).toBe('C31-0001');
  });
  it('issues certificates again once a person has said that a later time was wrong', async () => {
    const run = await start({ instrument: 'qm-0121' });
    const later = '2099-05-01T08:00:00.000Z';
    await appendAct(run, { expectedSequence: 1, idempotencyKey: randomUUID(), person, act: actSchema.parse(check) }, later);
    const now = new Date().toISOString();
    expect(await timeAhead(db, now)).toBe(later);
    expect((await refusalOf(putClockRight({ person: 'Nobody', reason: 'A new battery' }))).status).toBe(422);
    await putClockRight({ person, reason: 'The battery of the clock was empty' });
    expect(await timeAhead(db, new Date().toISOString())).toBeNull();
    expect(await clockRights(db)).toMatchObject([{ person, until: later }]);
    expect((await refusalOf(putClockRight({ person, reason: 'Once more' }))).status).toBe(409);
    // Another jump is seen again.
    await appendAct(
      run,
      { expectedSequence: 2, idempotencyKey: randomUUID(), person, act: actSchema.parse(note('Later still')) },
      '2100-01-01T00:00:00.000Z',
    );
    expect(await timeAhead(db, now)).toBe('2100-01-01T00:00:00.000Z');
    await putClockRight({ person, reason: 'Set by hand, wrongly' });
    expect(await timeAhead(db, new Date().toISOString())).toBeNull();
  });
  it('of two requests at the same moment one is recorded and one is told', async () => {
    const run = await start({ instrument: 'qm-0152' });
    const outcomes = await Promise.allSettled([append(run, 1, check), append(run, 1, note('Something else'))]);
    expect(outcomes.map((o) => o.status).sort()).toEqual(['fulfilled', 'rejected']);
    expect((await loadRun(run)).events).toHaveLength(2);
  });
  it('writes nothing when an act is not admitted', async () => {
    const run = await start({ instrument: 'sh-mic-1' });
    expect(
      await refusalOf(
        append(run, 1, {
          type: 'observed',
          set: 'as-found',
          series: 'error',
          point: 'p1',
          repeat: 1,
          observation: 'R',
          text: '2.5',
        }),
      ),
    ).toMatchObject({
      status: 422,
      path: ['act', 'point'],
    });
    expect((await loadRun(run)).events).toHaveLength(1);
  });
  it('keeps when an act was done beside when it came, and admits it by the former', async () => {
    const run = await start({ instrument: 'fw-03' });
    const { state } = await loadRun(run);
    const number = await append(run, state.sequence, named(state.instrument.identification));
    expect(number.event.act).toMatchObject({ type: 'step-done', version: 2 });
    const late = new Date(Date.now() + 3 * 3_600_000).toISOString();
    const done = { at: new Date().toISOString(), ahead: 0 };
    const { event } = await appendAct(
      run,
      { expectedSequence: 2, idempotencyKey: randomUUID(), person, done, act: actSchema.parse(note('Done before')) },
      late,
    );
    expect(event).toMatchObject({ at: late, done });
    // What says that it was done after it came here is not believed.
    const ahead = { at: '2099-01-01T00:00:00.000Z', ahead: 0 };
    const future = await appendAct(
      run,
      { expectedSequence: 3, idempotencyKey: randomUUID(), person, done: ahead, act: actSchema.parse(note('Done later')) },
      late,
    );
    // What the device said stays readable; it counts as done when it came.
    expect(doneAt(future.event)).toBe(late);
    expect(future.event.done).toMatchObject({ at: ahead.at });
  });
  it('takes in a soak and thirty readings that were done while it was away, each with its own time', async () => {
    const begun = Date.now();
    const run = await startRun(
      {
        run: randomUUID(),
        instrument: 'qm-0140',
        procedure: 'outside-micrometer',
        standards: { blocks: ['gb-47'] },
        choices: {},
        person,
      },
      new Date(begun).toISOString(),
    );
    // The bench goes on alone, its clock 40 s ahead; nothing arrives before four hours have gone by.
    const ahead = 40;
    let { state } = await loadRun(run);
    let clock = begun + 1000 * 60;
    const shown = {
      reading: (s: typeof state, slot: Parameters<typeof placedPoint>[1]) => placedPoint(s, slot)!.nominal!.toFixed(3),
      condition: () => '20.0',
      measured: () => 0,
      stored: () => ({ after: '0' }),
    };
    const kept: { act: Act; done: { at: string; ahead: number } }[] = [];
    while (nextItem(state)?.type !== 'judge') {
      const at = new Date(clock).toISOString();
      const act = withPlan(state, actSchema.parse(plainAct(state, shown, at)));
      expect(admit(state, act, person, at)).toBeNull();
      kept.push({ act, done: { at: new Date(clock + 1000 * ahead).toISOString(), ahead } });
      state = withEvent(state, { sequence: state.sequence + 1, at, person, act });
      const next = nextItem(state);
      clock += next?.type === 'step' && next.id === 'soak' ? 61 * 60_000 : 15_000;
    }
    const arrived = new Date(begun + 4 * 3_600_000).toISOString();
    for (const [i, { act, done }] of kept.entries())
      await appendAct(run, { expectedSequence: i + 1, idempotencyKey: randomUUID(), person, done, act }, arrived);
    const log = await loadRun(run);
    expect(log.state.readings).toHaveLength(30);
    expect(log.events.slice(1).map((e) => e.done)).toEqual(kept.map((k) => k.done));
    expect(new Set(log.events.slice(1).map((e) => e.at))).toEqual(new Set([arrived]));
    expect(log.state.readings[0]!.at).toBe(
      new Date(Date.parse(kept.find((k) => k.act.type === 'observed')!.done.at) - 1000 * ahead).toISOString(),
    );
  });
  it('the log cannot be changed or shortened, not even by the database', async () => {
    const why = async (statement: string) =>
      db.$client.execute(statement).then(
        () => 'done',
        (e: Error) => e.message,
      );
    expect(await why("UPDATE events SET person = 'Other' WHERE sequence = 1")).toContain('never changed');
    expect(await why('DELETE FROM events')).toContain('never removed');
  });
  it('is not found under another id', async () => expect(await refusalOf(loadRun('nothing'))).toMatchObject({ status: 404 }));
});
