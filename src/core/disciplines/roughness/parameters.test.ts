import { describe, expect, it } from 'vitest';
import { analyse, longSine, profile, shortSine, transmission, wave } from './fixtures/profiles';

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

// Other periods of both are in the long tests.
describe('sums of sines through the transmission of the filter', () => {
  it('a sine of 0.8 mm keeps what the long-wave filter leaves of it', () => {
    const [measured, expected] = longSine(0.8);
    expect(measured).toBeCloseTo(expected, 2);
  });
  it('two sines add as squares, each by its own transmission', () => {
    const Rq = analyse(profile((x) => wave(0.04, 1)(x) + wave(0.8, 2)(x), 22_400))['Rq']!;
    const through = (period: number, amplitude: number) => (1 - transmission(period, 0.8)) * amplitude * Math.SQRT1_2;
    expect(Rq).toBeCloseTo(Math.hypot(through(0.04, 1), through(0.8, 2)), 2);
  });
  it('λs of 0.0025 mm leaves of a sine of 0.005 mm what its filter lets through', () => {
    const [measured, expected] = shortSine(0.005);
    expect(measured).toBeCloseTo(expected, 2);
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
