import { describe, expect, it } from 'vitest';
import { dueInWords, dueStanding } from './standing';

describe('standing of a due date', () => {
  it.each([
    ['2026-11-24', 'nearly-due', 'due today'],
    ['2026-11-23', 'expired', '1 day overdue'],
    ['2026-12-24', 'nearly-due', 'in 30 days'],
    ['2026-12-25', 'good', 'in 31 days'],
    ['2025-11-24', 'expired', '12 months overdue'],
    [null, 'none', 'no date'],
  ])('%s', (due, standing, words) => {
    const result = dueStanding(due, '2026-11-24');
    expect(result.standing).toBe(standing);
    expect(dueInWords(result)).toBe(words);
  });
});
