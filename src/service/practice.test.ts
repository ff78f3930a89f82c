import { randomUUID } from 'node:crypto';
import { sql } from 'drizzle-orm';
import { describe, expect, it } from 'vitest';
import { isBenchWorkOver, nextItem } from '../core/run/next-step';
import type { NewAct } from '../core/acts/registry';
import { asAct } from '../core/acts/registry';
import { adjustmentAdvice } from '../core/run/adjustment-advice';
import { database } from '../store/database';
import { events, runs } from '../store/schema';
import { ownCopy, person } from './fixtures/own-copy';
import {
  appendToPractice,
  assistInPractice,
  beginPractice,
  endPractice,
  loadPractice,
  practiceOverview,
  shownInPractice,
} from './practice-service';

const counted = async (): Promise<unknown> => {
  const db = await database();
  return [
    (await db.select({ n: sql<number>`count(*)` }).from(events))[0],
    (await db.select({ n: sql<number>`count(*)` }).from(runs))[0],
  ];
};
const sent = async (id: string, act: NewAct, expectedSequence?: number, idempotencyKey: string = randomUUID()) =>
  appendToPractice(id, {
    expectedSequence: expectedSequence ?? (await loadPractice(id)).state.sequence,
    idempotencyKey,
    person,
    act: asAct(act),
  });
const refused = (message: RegExp, status: number) =>
  expect.objectContaining({ status, message: expect.stringMatching(message) as string });

ownCopy(() => {});

describe('the practice bench', () => {
  it('puts nothing into the records, from its beginning to the end', async () => {
    const before = await counted();
    const id = await beginPractice({ case: 'dropped-micrometer', person, seed: 3 });
    const { events: made } = await assistInPractice(id, { person, expectedSequence: 1, until: 'decision' });
    expect(made.filter((e) => e.act.type === 'observed')).toHaveLength(30);
    const { state } = await loadPractice(id);
    expect(nextItem(state)?.type).toBe('judge');
    const { adjustment } = adjustmentAdvice(state, 'as-found');
    expect(adjustment).toBe('zero');
    await sent(id, { type: 'adjustment-decided', set: 'as-found', adjustment, proposed: adjustment, reason: '' });
    const { state: adjusting } = await loadPractice(id);
    await assistInPractice(id, { person, expectedSequence: adjusting.sequence, until: 'decision' });
    const { state: left } = await loadPractice(id);
    const set = left.sets.at(-1)!.id;
    await sent(id, { type: 'adjustment-decided', set, adjustment: null, proposed: null, reason: '' });
    const over = (await loadPractice(id)).state;
    expect(isBenchWorkOver(over)).toBe(true);
    const told = await endPractice(id, { named: ['offset'] });
    expect(told.isSolved).toBe(true);
    // What was told once stays told, whatever is said later.
    expect(await endPractice(id, { named: [] })).toEqual(told);
    await expect(sent(id, { type: 'note-added', text: 'Later on' })).rejects.toEqual(refused(/is over/, 409));
    expect(await counted()).toEqual(before);
    const overview = await practiceOverview(person);
    expect(overview.progress).toContainEqual({ person, kind: 'offset', met: 1, found: 1 });
    expect(overview.cases.find((c) => c.id === 'dropped-micrometer')).toMatchObject({ tried: 1, solved: 1 });
  });

  it('shows what is to be seen, types nothing twice, and tells a window that is behind what it missed', async () => {
    const id = await beginPractice({ case: 'borrowed-blocks', person, seed: 2 });
    expect((await shownInPractice(id)).lines).toEqual([expect.objectContaining({ title: 'It says' })]);
    const { lines } = await shownInPractice(id);
    const item = nextItem((await loadPractice(id)).state)!;
    if (item.type !== 'step') throw new Error('A step comes first.');
    const act: NewAct = {
      type: 'step-done',
      set: 'as-found',
      id: item.id,
      value: lines[0]!.text,
    };
    const key = randomUUID();
    const first = await sent(id, act, 1, key);
    expect(await sent(id, act, 1, key)).toEqual({ event: first.event, repeated: true });
    await expect(sent(id, act, 1)).rejects.toMatchObject({ status: 409, details: { missed: [{ sequence: 2 }] } });
    await expect(assistInPractice(id, { person, expectedSequence: 1, until: 'next' })).rejects.toMatchObject({ status: 409 });
    await expect(
      sent(id, { type: 'interval-decided', next: '2027-01-01', proposed: '2027-01-01', reason: '' }),
    ).rejects.toMatchObject({ status: 422 });
    expect((await practiceOverview(person)).open.map((p) => p.id)).toContain(id);
  });

  it('says what to do where there is no such case, practice or person', async () => {
    await expect(beginPractice({ case: 'nothing-like-it', person })).rejects.toEqual(refused(/no such case/, 404));
    await expect(loadPractice('nowhere')).rejects.toEqual(refused(/no practice with this id/, 404));
    await expect(beginPractice({ case: 'pipette', person: 'Nobody Known' })).rejects.toMatchObject({ status: 422 });
  });
});
