import { describe, expect, it } from 'vitest';
import { normalDeviate, seededRandom } from '../../bench/random';
import { judged } from '../run/fixtures/judged';
import { errAlike, referenceIsOff } from './err-alike';

describe('instruments of one set-up that err alike', () => {
  it('point at the reference, the more the more they are', () => {
    const two = referenceIsOff([0.6, 0.62]);
    const three = referenceIsOff([0.6, 0.62, 0.58]);
    expect(two).toBeGreaterThan(0.5);
    expect(three).toBeGreaterThan(two);
    expect(three).toBeGreaterThan(0.99);
  });
  it('that err each its own way do not, nor sound ones, nor one alone', () => {
    expect(referenceIsOff([0.6, -0.6])).toBeLessThan(1e-6);
    expect(referenceIsOff([0.6, 0.02, 0.05])).toBeLessThan(0.01);
    expect(referenceIsOff([0.05, 0.04, -0.02])).toBeLessThan(0.01);
    expect(referenceIsOff([2])).toBe(0);
  });
  it('is right as often as it says', () => {
    const random = seededRandom(5);
    const fault = () => (random() < 0.5 ? -1 : 1) * 0.3 * 10 ** random();
    const cases = Array.from({ length: 4000 }, () => {
      // As often as not, so that there is something to count; the prior is taken off again.
      const isOff = random() < 0.5;
      const common = isOff ? fault() : 0;
      const errors = [0, 1, 2].map(() => common + (!isOff && random() < 0.2 ? fault() : 0) + 0.1 * normalDeviate(random));
      const odds = referenceIsOff(errors) / (1 - referenceIsOff(errors)) / (0.02 / 0.98);
      return { isOff, said: odds / (1 + odds) };
    });
    for (const [from, to] of [
      [0, 0.1],
      [0.9, 1.01],
    ] as const) {
      const here = cases.filter((c) => c.said >= from && c.said < to);
      const share = here.filter((c) => c.isOff).length / here.length;
      const mean = here.reduce((sum, c) => sum + c.said, 0) / here.length;
      expect(here.length).toBeGreaterThan(400);
      expect(Math.abs(share - mean)).toBeLessThan(0.02);
    }
  });
  it('is said of their runs in words, with how much', () => {
    const off = [3, 4, 5].map((seed) => judged(() => 0.9, 0.05, seed).state);
    const told = errAlike(off, 'as-found')!;
    expect(told.probability).toBeGreaterThan(0.99);
    expect(told.sentence).toMatch(/^All 3 err alike, by \+3\.\d µm on the average: with 99 % probability/);
    const apart = [judged(() => 0.9, 0.05, 3).state, judged(() => -0.8, 0.05, 4).state];
    expect(errAlike(apart, 'as-found')).toBeNull();
  });
});
