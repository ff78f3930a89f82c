import { describe, expect, it } from 'vitest';
import type { Visit } from '../interval/visit';
import { adjustingGains } from './adjusting-gains';
import { TestBench } from './fixtures/bench';
import { visitNow } from './run-pairs';
import { summarizeRun } from './run-summary';

/** A micrometer read as found with one error at all points. */
const read = (error: number): TestBench => {
  const bench = TestBench.micrometer();
  return bench.readAll(() => error);
};
const visit = (day: string, error: number): Visit => {
  const { state } = read(error);
  return { ...visitNow(state, day, summarizeRun(state)), run: day };
};
const yearly = (errors: readonly number[]): Visit[] => errors.map((e, i) => visit(`202${i + 1}-11-24`, e));
const gain = (errors: readonly number[], now: number, months = 12) =>
  adjustingGains(read(now).state, 'as-found', yearly(errors), '2026-11-24', months)[0]!;

describe('what adjusting gains', () => {
  it('is much where an error that moves steadily comes near its limit', () => {
    const told = gain([0, 0.0007, 0.0014, 0.0021, 0.0028], 0.0034);
    expect(told).toMatchObject({ adjustment: 'zero', each: null, months: 12, visits: 6 });
    expect(told.without).toBeLessThan(0.3);
    expect(told.with).toBeGreaterThan(0.9);
  });

  it('is next to nothing where it stays where it is, far inside', () => {
    const told = gain([0.0004, 0.0005, 0.0003, 0.0004, 0.0005], 0.0004);
    expect(told.without).toBeGreaterThan(0.95);
    expect(Math.abs(told.with - told.without)).toBeLessThan(0.05);
  });

  it('is less for a later date', () => {
    const soon = gain([0, 0.0007, 0.0014, 0.0021, 0.0028], 0.0034, 3);
    const late = gain([0, 0.0007, 0.0014, 0.0021, 0.0028], 0.0034, 36);
    expect(soon.without).toBeGreaterThan(late.without);
    expect(soon.with).toBeGreaterThan(late.with);
  });

  it('is not told of an instrument that comes for the first time', () => {
    expect(adjustingGains(read(0.0034).state, 'as-found', [], '2026-11-24', 12)).toEqual([]);
  });
});
