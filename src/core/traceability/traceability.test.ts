import { describe, expect, it } from 'vitest';
import { parseBlockList } from './block-list';
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

describe('the table of a gauge-block certificate', () => {
  it('reads tabs, semicolons and spaces, commas and points, and passes over headings', () => {
    const { blocks, faults } = parseBlockList(
      'Nominal\tCertified\tU\n1.005\t1.00503\t0.06\n\n2,5; 2,50004; 0,05\r\n  25   25.00011   0.09',
    );
    expect(faults).toEqual([]);
    expect(blocks).toEqual([
      { marking: '1.005', nominal: 1.005, certified: 1.00503, expandedUncertainty: 0.00006 },
      { marking: '2.5', nominal: 2.5, certified: 2.50004, expandedUncertainty: 0.00005 },
      { marking: '25', nominal: 25, certified: 25.00011, expandedUncertainty: 0.00009 },
    ]);
  });
  it.each([
    ['5 5.0001', 'three are wanted'],
    ['5 5.0001 0.05 7', 'three are wanted'],
    ['5 five 0.05', 'not a number'],
    ['5 50.001 0.05', 'check the digits'],
    ['5 5.0001 50', 'µm'],
    ['-5 -5.0001 0.05', 'greater than 0'],
    ['5 5.0001 0.05\n5 5.0002 0.05', 'twice'],
  ])('faults %j by line', (text, message) => expect(parseBlockList(text).faults.at(-1)?.message).toContain(message));
});
