import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkPlausibility } from './plausibility';

const tolerance = { terms: [{ absolute: 0.004 }], combine: 'sum' as const };
const ask = (value: number, reference: number) => checkPlausibility(value, reference, 0.001, tolerance);

describe('whether a reading can be meant', () => {
  it.each([
    [20.201, 20.2],
    [20.25, 20.2],
    [20.101, 20.2],
  ])('%d at %d can', (value, reference) => expect(ask(value, reference).plausible).toBe(true));
  it.each([
    [202.01, '20.201', 'slipped decimal point'],
    [2.0201, '20.201', 'slipped decimal point'],
    [20201, '20.201', 'forgotten decimal point'],
    [0.7953, '20.201', 'inches'],
    [0.201, '20.201', 'only the digits after the point'],
  ])('%d is asked about as %s: %s', (value, suggestion, words) => {
    const answer = ask(value, 20.2);
    if (answer.plausible) throw new Error('It was taken.');
    expect(answer.suggestion).toBe(suggestion);
    expect(answer.message).toContain(words);
  });
  it('without a likely slip it says how far off the reading is', () =>
    expect(ask(17.6, 20.2)).toEqual({
      plausible: false,
      message: 'That is 2.600 mm away from the block. Check the stack and the digits.',
      suggestion: null,
    }));
  it('a negative length is offered without its sign', () =>
    expect(ask(-20.2, 20.2)).toMatchObject({ plausible: false, suggestion: '20.2' }));
  it('what it offers is always plausible itself', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 100, noNaN: true }),
        fc.constantFrom(0.001, 0.01, 0.1, 10, 100, 1000, 1 / 25.4),
        (reference, factor) => {
          const answer = ask(reference * factor, reference);
          if (!answer.plausible && answer.suggestion !== null)
            expect(ask(Number(answer.suggestion), reference).plausible).toBe(true);
        },
      ),
    ));
});
