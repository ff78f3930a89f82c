import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { convert, convertDifference, findUnit, printedUnit, unitCodes } from './unit';

describe('converting units', () => {
  it.each([
    [1, '[in_i]', 'mm', 25.4],
    [1, 'u[in_i]', 'um', 0.0254],
    [1, '[mil_i]', 'um', 25.4],
    [0.004, 'mm', 'um', 4],
    [1, '[lb_av]', 'g', 453.59237],
    [20, 'Cel', 'K', 293.15],
    [0, 'K', 'Cel', -273.15],
    [68, '[degF]', 'Cel', 20],
    [-40, 'Cel', '[degF]', -40],
    [101.325, 'kPa', 'hPa', 1013.25],
    [50, '%', '1', 0.5],
    [1, 'B', 'dB', 10],
    [1, 'Np', 'dB', 8.685889638065037],
  ])('%d %s in %s is %d', (value, from, to, expected) => expect(convert(value, from, to)).toBeCloseTo(expected, 10));
  it('psi follows from the pound-force and the inch', () => expect(convert(1, '[psi]', 'Pa')).toBeCloseTo(6894.757293168, 8));
  it('a temperature difference is not a temperature', () => {
    expect(convertDifference(1, 'Cel', 'K')).toBe(1);
    expect(convertDifference(9, '[degF]', 'Cel')).toBeCloseTo(5, 12);
    expect(convert(1, 'Cel', 'K')).toBe(274.15);
  });
  it('refuses to turn one kind into another, naming both', () => {
    expect(() => convert(1, 'mm', 'g')).toThrow('length');
    expect(() => convert(1, 'mm', 'furlong')).toThrow('furlong');
  });
  it('there and back is where it began', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...unitCodes),
        fc.constantFrom(...unitCodes),
        fc.double({ min: -1e4, max: 1e4, noNaN: true }),
        (a, b, value) => {
          if (findUnit(a)!.kind !== findUnit(b)!.kind) return;
          expect(convert(convert(value, a, b), b, a)).toBeCloseTo(value, 7);
        },
      ),
    ));
  it('prints units as people write them', () => {
    expect(printedUnit('um')).toBe('µm');
    expect(printedUnit('Cel')).toBe('°C');
    expect(printedUnit('grain')).toBe('grain');
  });
});
