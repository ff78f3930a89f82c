import { describe, expect, it } from 'vitest';
import { limitWords, shortRange, shownPair, significant, signed, withPrintedUnit } from './shown-value';

describe('numbers as a sheet shows them', () => {
  it.each([
    [0.0001234, 2, '0.00012'],
    [1234.5, 3, '1230'],
    [0, 3, '0'],
    [3e-15, 3, '0'],
    [-0.05678, 2, '-0.057'],
    [9.996, 3, '10.0'],
  ])('%d to %d digits is %s', (value, digits, text) => expect(significant(value, digits)).toBe(text));
  it.each([
    ['0.5', '+0.5'],
    ['-0.5', '−0.5'],
    ['0.00', '0.00'],
  ])('%s has the sign %s', (text, shown) => expect(signed(text)).toBe(shown));
  it.each([
    [0, 25, 'mm', '0 to 25 mm'],
    [-30, 150, 'Cel', '−30 to 150 °C'],
    [94, 94, 'dB', '94 dB'],
    [0, 1, '1', '0 to 1'],
  ])('%d to %d %s is %s', (lower, upper, unit, text) => expect(shortRange(lower, upper, unit)).toBe(text));
  it('a pair has the digits of its uncertainty, in the unit in which it is shown', () => {
    expect(shownPair(-0.0045143, 0.00086, 'mm', 'um')).toEqual({ value: '−4.51', U: '0.86', decimals: 2 });
    expect(shownPair(0.25, null, '%', '%')).toEqual({ value: '+0.250', U: '', decimals: 3 });
    // To one place beyond the display where there is no uncertainty.
    expect(shownPair(-0.0000166, null, 'mm', 'mm', { lower: -1, upper: 1 }, undefined, 0.001).value).toBe('0.0000');
  });
  it('a pair has further digits where it would say otherwise than was decided', () => {
    const limits = { lower: -4, upper: 4 };
    expect(shownPair(4.0004, 0.92, 'um', 'um', limits).value).toBe('+4.0004');
    // 3.08 + 0.92 is the limit itself as printed; the numbers are beyond it.
    expect(shownPair(3.084, 0.918, 'um', 'um', limits, { lower: -3.082, upper: 3.082 })).toMatchObject({
      value: '+3.084',
      U: '0.918',
    });
    expect(shownPair(3.08, 0.918, 'um', 'um', limits, { lower: -3.082, upper: 3.082 }).value).toBe('+3.08');
    expect(limitWords({ lower: -0.075015, upper: 0.075015 }, 'mm', 'mm', { decimals: 3 })).toBe('±0.075 mm');
  });
  it.each([
    [{ lower: -0.004, upper: 0.004 }, 'mm', 'um', '±4 µm'],
    [{ lower: 90, upper: 110 }, 'Hz', 'Hz', '90 to 110 Hz'],
    [{ upper: 0.05 }, 'K', 'K', 'at most 0.05 K'],
    [{ lower: -1 }, '1', '1', 'at least −1'],
    [{ lower: null, upper: null }, 'K', 'K', ''],
  ])('limits %j in %s shown in %s are %s', (limits, unit, shownIn, words) =>
    expect(limitWords(limits, unit, shownIn)).toBe(words),
  );
  it('acceptance takes fewer digits', () =>
    expect(limitWords({ lower: -3.16281, upper: 3.16281 }, 'um', 'um', { digits: 3 })).toBe('±3.16 µm'));
  it('a number without a unit stands alone', () => expect(withPrintedUnit('5', '1')).toBe('5'));
});
