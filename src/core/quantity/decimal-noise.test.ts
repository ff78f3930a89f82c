import { describe, expect, it } from 'vitest';
import { atMost, withoutBinaryNoise } from './decimal-noise';

describe('equal magnitudes', () => {
  it.each([
    [1000.000_000_5, 1000, true],
    [1000.000_002, 1000, false],
    [0.001 + 1e-13, 0.001, true],
    [0.001 + 1e-9, 0.001, false],
    [-1000.000_000_5, -1000, true],
    [-999.999, -1000, false],
    [0, 0, true],
  ])('%d is at most %d: %s', (a, b, is) => expect(atMost(a, b)).toBe(is));
});

describe('binary noise', () => {
  it('is dropped by the magnitude of what took part, digits that were typed stay', () => {
    expect(withoutBinaryNoise(2.523 - 2.503, 2.523)).toBe(0.02);
    expect(withoutBinaryNoise(1e6 + 0.1 - 1e6, 1e6)).toBe(0.1);
    expect(withoutBinaryNoise(0.123456789012, 1)).toBe(0.123456789012);
    expect(withoutBinaryNoise(1e-17, 1)).toBe(1e-17);
  });
});
