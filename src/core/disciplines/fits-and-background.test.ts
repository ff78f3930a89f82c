import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../bench/random';
import { disciplineAnalyses } from './registry';

const analyse = (name: string, files: string[], given: Record<string, number> = {}) =>
  disciplineAnalyses.get(name)!.analyse(files, given);

describe('Callendar–Van Dusen coefficients through calibrated points', () => {
  const [R0, A, B, C] = [100.037, 3.9083e-3, -5.775e-7, -4.183e-12];
  const resistance = (t: number, c = C) => R0 * (1 + A * t + B * t * t + (t < 0 ? c * (t - 100) * t ** 3 : 0));
  const file = (temperatures: number[], off: (i: number) => number = () => 0, c = C) =>
    temperatures.map((t, i) => `${t} ${resistance(t, c) + off(i)}`).join('\n');

  it('are those that the points were made with, with C and without', () => {
    const withC = analyse('temperature/callendar-van-dusen-fit', [file([-180, -80, -40, 0, 100, 300, 600])], { withC: 1 });
    expect(withC['R0']).toBeCloseTo(R0, 9);
    expect(withC['A']! / A).toBeCloseTo(1, 9);
    expect(withC['B']! / B).toBeCloseTo(1, 7);
    expect(withC['C']! / C).toBeCloseTo(1, 6);
    expect(withC['greatestResidual']).toBeLessThan(1e-9);
    const without = analyse('temperature/callendar-van-dusen-fit', [file([0, 100]), file([200, 300])], { withC: 0 });
    expect([without['A']! / A, without['B']! / B].map((v) => v.toFixed(6))).toEqual(['1.000000', '1.000000']);
    expect(without['C']).toBe(0);
  });
  it('spread the errors of the points by least squares: no other set of coefficients lies nearer', () => {
    const random = seededRandom(11);
    const errors = Array.from({ length: 7 }, () => 0.02 * (random() - 0.5));
    const temperatures = [0, 50, 100, 150, 200, 250, 300];
    const fitted = analyse('temperature/callendar-van-dusen-fit', [file(temperatures, (i) => errors[i]!)], { withC: 0 });
    const squares = (r0: number, a: number, b: number) =>
      temperatures.reduce((sum, t, i) => sum + (resistance(t) + errors[i]! - r0 * (1 + a * t + b * t * t)) ** 2, 0);
    const least = squares(fitted['R0']!, fitted['A']!, fitted['B']!);
    for (const [dR, dA, dB] of [
      [1e-4, 0, 0],
      [-1e-4, 0, 0],
      [0, 1e-7, 0],
      [0, -1e-7, 0],
      [0, 0, 1e-10],
      [0, 0, -1e-10],
    ])
      expect(squares(fitted['R0']! + dR!, fitted['A']! + dA!, fitted['B']! + dB!)).toBeGreaterThan(least);
  });
  it.each([
    ['0 100\n100 138.5', {}, 'needs at least 3 temperatures; there are 2'],
    ['0 100\n50 119\n100 138\n150 157', { withC: 1 }, 'below 0 °C only'],
    ['0 100\n50 119\n900 400', {}, 'outside the equation'],
    ['0 100\n50 -119\n100 138', {}, 'outside the equation'],
    ['0 100 1\n50 119 1\n100 138 1', {}, 'Each line holds a temperature'],
  ] as [string, Record<string, number>, string][])('refuse %j', (text, given, words) =>
    expect(() => analyse('temperature/callendar-van-dusen-fit', [text], given)).toThrow(words),
  );
});

describe('a level without its background', () => {
  it('of equal sources is 3 dB less than both together', () => {
    const both = 10 * Math.log10(2 * 10 ** 7);
    const { corrected, correction } = analyse('acoustic/background', [`${both} 70`], { least: 3 }) as Record<string, number>;
    expect(corrected).toBeCloseTo(70, 9);
    expect(correction).toBeCloseTo(10 * Math.log10(2), 9);
  });
  it('takes away next to nothing where the background is far below, and states what the uncertainty of both counts for', () => {
    const at = (on: number, off: number) => analyse('acoustic/background', [`${on} ${off}`]) as Record<string, number>;
    expect(at(94, 44)['correction']).toBeCloseTo(4.34e-5, 6);
    const h = 1e-5;
    for (const [on, off] of [
      [80, 76],
      [80, 70],
      [94, 60],
    ] as const) {
      const found = at(on, off);
      expect(found['sensitivity']).toBeCloseTo((at(on + h, off)['corrected']! - at(on - h, off)['corrected']!) / (2 * h), 5);
      expect(found['backgroundSensitivity']).toBeCloseTo(
        (at(on, off + h)['corrected']! - at(on, off - h)['corrected']!) / (2 * h),
        5,
      );
    }
  });
  it('averages repeats by their mean squares', () =>
    expect(analyse('acoustic/background', ['80 60\n86 60'])['difference']).toBeCloseTo(
      10 * Math.log10((1e8 + 10 ** 8.6) / 2) - 60,
      9,
    ));
  it.each([
    ['80 78.5', {}, 'stands 1.5 dB above the background, less than 3 dB'],
    ['80 82', {}, 'less than 3 dB'],
    ['80', {}, 'Each line holds two levels'],
    ['', {}, 'no line'],
    ['80 70', { least: 0 }, 'greater than 0 dB'],
  ] as [string, Record<string, number>, string][])('refuses %j', (text, given, words) =>
    expect(() => analyse('acoustic/background', [text], given)).toThrow(words),
  );
});
