import { describe, expect, it } from 'vitest';
import { longSine, shortSine } from './fixtures/profiles';

describe('sums of sines through the transmission of the filter', () => {
  it.each([0.2, 0.4, 1.6])('a sine of %d mm keeps what the long-wave filter leaves of it', (period) => {
    const [measured, expected] = longSine(period);
    expect(measured).toBeCloseTo(expected, 2);
  });
  it.each([0.0025, 0.01])('λs of 0.0025 mm leaves of a sine of %d mm what its filter lets through', (period) => {
    const [measured, expected] = shortSine(period);
    expect(measured).toBeCloseTo(expected, 2);
  });
});
