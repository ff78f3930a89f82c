import { describe, expect, it } from 'vitest';
import { roughnessParameters } from './parameters';

const spacing = 0.0005;
/** A profile of seven cut-offs of 0.8 mm from a height at a place, mm to µm. */
const profile = (height: (x: number) => number, length = 11_200): string =>
  Array.from({ length }, (_, i) => height(i * spacing).toFixed(9)).join('\n');
const analyse = (file: string, more: Record<string, number> = {}) =>
  roughnessParameters.analyse([file], { cutOff: 0.8, spacing, ...more });
/** What the Gaussian filter of ISO 16610-21 lets through of a wave into the mean line. */
const transmission = (wave: number, cutOff: number) => Math.exp((-Math.PI * Math.LN2 * (cutOff / wave) ** 2) / Math.PI);
const wave =
  (period: number, amplitude = 1) =>
  (x: number) =>
    amplitude * Math.sin((2 * Math.PI * x) / period);
const period = 0.04;

describe('profiles whose parameters are known exactly', () => {
  it('a triangle of amplitude 2 µm: Ra is half, Rq the amplitude over √3, RSm its period', () => {
    const triangle = (x: number) => {
      const t = (x / period) % 1;
      return 2 * (t < 0.25 ? 4 * t : t < 0.75 ? 2 - 4 * t : 4 * t - 4);
    };
    const p = analyse(profile(triangle));
    expect(p['Ra']).toBeCloseTo(1, 2);
    expect(p['Rq']).toBeCloseTo(2 / Math.sqrt(3), 2);
    expect(p['Rz']).toBeCloseTo(4, 1);
    expect(p['Rt']).toBeCloseTo(4, 1);
    expect(p['RSm']).toBeCloseTo(period, 4);
  });
  it('a square of amplitude 1 µm: Ra and Rq are the amplitude, Rz and Rt twice that', () => {
    const p = analyse(profile((x) => ((x / period) % 1 < 0.5 ? 1 : -1)));
    expect(p['Ra']).toBeCloseTo(1, 2);
    expect(p['Rq']).toBeCloseTo(1, 2);
    // The line taken off tilts a square that ends within a period by a few thousandths.
    expect(p['Rz']).toBeCloseTo(2, 1);
    expect(p['Rt']).toBeCloseTo(2, 1);
    expect(p['RSm']).toBeCloseTo(period, 3);
  });
  it('a slope under a sine is form, and changes nothing', () => {
    const flat = analyse(profile(wave(period)));
    const tilted = analyse(profile((x) => wave(period)(x) + 3 * x - 7));
    for (const key of ['Ra', 'Rq', 'Rz', 'Rt', 'RSm']) expect(tilted[key], key).toBeCloseTo(flat[key]!, 6);
  });
});

describe('sums of sines through the transmission of the filter', () => {
  it.each([0.2, 0.4, 0.8, 1.6])('a sine of %d mm keeps what the long-wave filter leaves of it', (long) => {
    const Rq = analyse(profile(wave(long), 22_400))['Rq']!;
    expect(Rq).toBeCloseTo((1 - transmission(long, 0.8)) * Math.SQRT1_2, 2);
  });
  it('two sines add as squares, each by its own transmission', () => {
    const Rq = analyse(profile((x) => wave(0.04, 1)(x) + wave(0.8, 2)(x), 22_400))['Rq']!;
    const through = (period: number, amplitude: number) => (1 - transmission(period, 0.8)) * amplitude * Math.SQRT1_2;
    expect(Rq).toBeCloseTo(Math.hypot(through(0.04, 1), through(0.8, 2)), 2);
  });
  it.each([0.0025, 0.005, 0.01])('λs of 0.0025 mm leaves of a sine of %d mm what its filter lets through', (short) => {
    const fine = roughnessParameters.analyse(
      [Array.from({ length: 28_000 }, (_, i) => wave(short)(i * 0.0002).toFixed(9)).join('\n')],
      { cutOff: 0.8, spacing: 0.0002, shortCutOff: 0.0025 },
    );
    expect(fine['Rq']).toBeCloseTo(transmission(short, 0.0025) * Math.SQRT1_2, 2);
  });
});

describe('how much profile is enough', () => {
  // Of 0.8 mm at 0.5 µm, 1600 heights are a sampling length, and half of it stands at either end.
  it('one sampling length with half of it at either end, and no height less', () => {
    expect(analyse(profile(wave(period), 3200))['Ra']).toBeCloseTo(2 / Math.PI, 2);
    expect(() => analyse(profile(wave(period), 3199))).toThrow('too short');
  });
  it('the width of elements is told to a fraction of the spacing of the heights', () =>
    expect(analyse(profile(wave(0.0373)))['RSm']).toBeCloseTo(0.0373, 6));
});

describe('what it cannot work with is said', () => {
  it.each([
    ['a profile shorter than the evaluation', profile(wave(period), 2000), {}, 'too short'],
    ['λs above λc', profile(wave(period)), { shortCutOff: 0.9 }, 'less than λc'],
    ['λs finer than the heights', profile(wave(period)), { shortCutOff: 0.0006 }, 'at least two heights'],
    ['a cut-off of 0', profile(wave(period)), { cutOff: 0 }, 'greater than 0'],
    ['words', '0.1\nrough\n0.2', {}, 'Line 2'],
    ['a profile that crosses nothing', profile(() => 0), {}, 'crosses its mean line too seldom'],
  ] as const)('%s', (_, file, more, words) => expect(() => analyse(file, more)).toThrow(words));
});
