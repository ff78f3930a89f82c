import { runState } from '../acts/fold';
import { actSchema } from './version-2/acts';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { certificateOf, type Certificate, type Laboratory } from '../certificate/certificate';
import { sameResults, saysTheSame } from '../certificate/same-results';
import { nextItem } from '../run/next-step';
import { verdictAsFound, verdictAsLeft } from '../run/run-results';
import { summarizeRun, type RunSummary } from '../run/run-summary';
import { itemKey } from '../state/place-keys';
import { readLog, type StoredEvent } from './read-log';

/*
 * Logs of version 2 as they were written on 2026-11-30, with what they led to then: however acts, steps and documents grow, they are
 * read as they were. They are never written anew.
 */

type Golden = {
  laboratory: Laboratory;
  events: StoredEvent[];
  expected: {
    next: string | null;
    plan: string[];
    done: number;
    live: [string, string][];
    sets: string[];
    asFound: string | null;
    asLeft: string | null;
    summary: RunSummary;
    certificate: Certificate | null;
  };
};

const folder = join(import.meta.dirname, 'golden-2');
const logs = readdirSync(folder).map((file): [string, Golden] => [
  file,
  JSON.parse(readFileSync(join(folder, file), 'utf8')) as Golden,
]);

/** What is printed and computed of the results of a certificate, without how it is worded. */
const rowsOf = (c: Certificate) => c.tables.map((t) => t.rows.map(({ found, left, limits }) => ({ found, left, limits })));

/** Statistics and answers: a later program prints them to another place. */
const linesOf = (c: Certificate) => c.tables.map((t) => t.lines.map(({ found, left }) => ({ found, left })));

describe('a log of version 2', () => {
  it('holds every act whose shape is kept', () => {
    const seen = new Set(logs.flatMap(([, { events }]) => events.map((e) => e.act.type)));
    for (const option of actSchema.options) expect([...seen]).toContain(option.shape.type.value);
  });
  it.each(logs)('%s leads to where it led', (_file, { events, expected }) => {
    const state = runState(readLog(events));
    const next = nextItem(state);
    expect(next && itemKey(next)).toBe(expected.next);
    expect(state.plan.map(itemKey)).toEqual(expected.plan);
    expect(state.done.size).toBe(expected.done);
    expect([...state.live].map(([key, r]) => [key, r.text])).toEqual(expected.live);
    expect(state.sets.map((s) => s.id)).toEqual(expected.sets);
    expect(verdictAsFound(state)).toBe(expected.asFound);
    if (state.sets.length > 1) expect(verdictAsLeft(state)).toBe(expected.asLeft);
    const { found, left, adjusted } = summarizeRun(state);
    expect(adjusted).toBe(expected.summary.adjusted);
    expect(found?.value ?? null).toBe(expected.summary.found?.value ?? null);
    expect(left?.value ?? null).toBe(expected.summary.left?.value ?? null);
  });
  it.each(logs.filter(([, g]) => g.expected.certificate))(
    '%s has the results that were certified',
    (_file, { laboratory, events, expected }) => {
      const made = certificateOf(runState(readLog(events)), laboratory);
      const old = expected.certificate!;
      expect(rowsOf(made)).toEqual(rowsOf(old));
      expect(saysTheSame(linesOf(made), linesOf(old))).toBe(true);
      expect(sameResults(made, old)).toBe(true);
      for (const member of ['number', 'instrument', 'issued', 'measured', 'standards', 'persons', 'adjustments'] as const)
        expect(made[member]).toEqual(old[member]);
      expect(made.next.date).toBe(old.next.date);
      expect([made.asFound.verdict, made.asLeft?.verdict]).toEqual([old.asFound.verdict, old.asLeft?.verdict]);
    },
  );
});
