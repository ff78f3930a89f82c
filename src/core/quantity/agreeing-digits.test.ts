import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../bench/random';
import { agreeingDigits } from './agreeing-digits';
import { decimalsForSignificant, roundToDecimals } from './rounding';

describe('what is printed says what was decided', () => {
  it('for values and limits near one another, by either rule', () => {
    const random = seededRandom(12);
    let furthered = 0;
    for (let i = 0; i < 20_000; i++) {
      const U = 10 ** (2 * random() - 2);
      const limit = 4 + (i % 3 ? 0 : 0.3 * random());
      const factor = [0, 1, 1 / 1.65][i % 3]!;
      const accepted = limit - factor * U;
      const value = accepted + (random() - 0.5) * 0.02 * U;
      const decimals = decimalsForSignificant(U, 2)!;
      const further = agreeingDigits(value, U, { upper: limit }, { upper: accepted }, decimals);
      if (further > 0) furthered++;
      const printed = (n: number) => Number(roundToDecimals(n, decimals + further));
      if (further < 6) {
        expect(printed(value) <= printed(limit) + 1e-12).toBe(value <= limit);
        expect(printed(value) <= printed(limit) - factor * printed(U) + 1e-11).toBe(value <= accepted);
      }
    }
    // Most pairs need none, and so near the edge many do.
    expect(furthered).toBeGreaterThan(1000);
    expect(furthered).toBeLessThan(19_000);
  });
  it('needs none where nothing limits, or the value is far from what does', () => {
    expect(agreeingDigits(4.004, 0.5, undefined, undefined, 1)).toBe(0);
    expect(agreeingDigits(4.004, 0.5, { lower: null, upper: null }, undefined, 1)).toBe(0);
    expect(agreeingDigits(1.2, 0.5, { lower: -4, upper: 4 }, { lower: -3.5, upper: 3.5 }, 1)).toBe(0);
  });
  it('adds no more than six', () => expect(agreeingDigits(4 + 1e-11, null, { upper: 4 }, undefined, 2)).toBe(6));
  it('takes the limit itself for inside, on either side', () => {
    expect(agreeingDigits(-4, 0.5, { lower: -4, upper: 4 }, undefined, 1)).toBe(0);
    expect(agreeingDigits(0.1 + 0.2, null, { upper: 0.3 }, undefined, 2)).toBe(0);
  });
});
