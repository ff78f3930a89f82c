import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decimalsForSignificant, plainDecimal, printedPair, reportedPair, roundToDecimals } from './rounding';

describe('rounding to a decimal place', () => {
  it.each([
    [1.005, 2, '1.01'],
    [0.0145, 3, '0.015'],
    [2 * 0.00725, 3, '0.015'],
    [-1.25, 1, '-1.3'],
    [1234.5, -2, '1200'],
    [1250, -2, '1300'],
    [49, -2, '0'],
    [50, -2, '100'],
    [0.4, 0, '0'],
    [0.5, 0, '1'],
    [9.996, 2, '10.00'],
    [-0.0004, 2, '0.00'],
    [0, 3, '0.000'],
    [1e-9, 12, '0.000000001000'],
    [123456789, 1, '123456789.0'],
  ])('%d at %d places is %s', (value, decimals, text) => expect(roundToDecimals(value, decimals)).toBe(text));
  it('refuses what is not finite', () => {
    expect(() => roundToDecimals(NaN, 2)).toThrow(RangeError);
    expect(() => roundToDecimals(Infinity, 2)).toThrow(RangeError);
  });
  it('never moves a value by more than half a step', () =>
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.integer({ min: -3, max: 8 }), (value, decimals) => {
        const rounded = Number(roundToDecimals(value, decimals));
        expect(Math.abs(rounded - value)).toBeLessThanOrEqual(0.5 * 10 ** -decimals * (1 + 1e-9) + Math.abs(value) * 1e-14);
      }),
    ));
  it('rounding twice at the same place changes nothing', () =>
    fc.assert(
      fc.property(fc.double({ min: -1e5, max: 1e5, noNaN: true }), fc.integer({ min: 0, max: 6 }), (value, decimals) => {
        const once = roundToDecimals(value, decimals);
        expect(roundToDecimals(Number(once), decimals)).toBe(once);
      }),
    ));
});

describe('an estimate and its uncertainty', () => {
  it.each([
    [10.01234, 0.00456, '10.0123', '0.0046'],
    [10000.025, 0.0585, '10000.025', '0.059'],
    [1.23456, 0.0996, '1.23', '0.10'],
    [1.23456, 0.00995, '1.235', '0.010'],
    [56789, 1234, '56800', '1200'],
    [0.00001234, 0.000001, '0.0000123', '0.0000010'],
    [-0.0001, 0.12, '0.00', '0.12'],
    [5.25, 0, '5.25', '0'],
  ])('%d with U %d reads %s ± %s', (estimate, U, estimateText, uncertaintyText) =>
    expect(reportedPair(estimate, U)).toMatchObject({ estimate: estimateText, expandedUncertainty: uncertaintyText }),
  );
  it('the uncertainty always has two significant digits and both the same last place', () =>
    fc.assert(
      fc.property(
        fc.double({ min: -1e4, max: 1e4, noNaN: true }),
        fc.double({ min: 1e-6, max: 9, noNaN: true }),
        (estimate, U) => {
          const { estimate: e, expandedUncertainty: u } = reportedPair(estimate, U);
          expect(u.replace('.', '').replace(/^0+/, '')).toHaveLength(2);
          const places = (text: string) => text.split('.')[1]?.length ?? 0;
          expect(places(e)).toBe(places(u));
        },
      ),
    ));
  it('has no digits to speak of at zero', () => expect(decimalsForSignificant(0, 2)).toBeNull());
  it('plain text never uses an exponent', () => {
    expect(plainDecimal(1e-7)).toBe('0.0000001');
    expect(plainDecimal(0.1 + 0.2)).toBe('0.3');
    expect(plainDecimal(-0)).toBe('0');
  });
  it.each([
    [5123456, 123456, '51.2 × 10⁵', '1.2 × 10⁵'],
    [-56789, 1234, '−56.8 × 10³', '1.2 × 10³'],
    [1e12, 99.6, '10000000000.0 × 10²', '1.0 × 10²'],
    [-1.25, 0.123, '−1.25', '0.12'],
    [0, 0, '0', '0'],
    [1234, 99.4, '1234', '99'],
  ])('%d with U %d is printed %s ± %s: two digits count', (estimate, U, estimateText, uncertaintyText) =>
    expect(printedPair(reportedPair(estimate, U))).toEqual({ estimate: estimateText, expandedUncertainty: uncertaintyText }),
  );
});
