import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkPlausibility, undoubted } from './plausibility';

const ask = (value: number, near: number) =>
  checkPlausibility(value, { value: near, of: 'the point', width: undoubted(0.004, 0.001, near), resolution: 0.001, unit: 'mm' });

describe('whether a reading can be meant', () => {
  it.each([
    [20.201, 20.2],
    [20.25, 20.2],
    [20.101, 20.2],
  ])('%d at %d can', (value, reference) => expect(ask(value, reference).plausible).toBe(true));
  it.each([
    [202.01, '20.201', 'slipped decimal point'],
    [2.0201, '20.201', 'slipped decimal point'],
    [2020.1, '20.201', 'slipped decimal point'],
    [0.20201, '20.201', 'slipped decimal point'],
    [20201, '20.201', 'forgotten decimal point'],
    [0.020201, '20.201', 'forgotten decimal point'],
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
      message: 'That is 2.6 mm away from the point. Look at the standard and the digits again.',
      suggestion: null,
    }));
  it('a negative value is offered without its sign', () =>
    expect(ask(-20.2, 20.2)).toMatchObject({ plausible: false, suggestion: '20.200' }));
  it('asks about another unit only where it is one: degrees Fahrenheit', () =>
    expect(checkPlausibility(122, { value: 50, of: 'the point', width: 5, resolution: 0.1, unit: '°C' })).toMatchObject({
      suggestion: '50.0',
      message: expect.stringContaining('Fahrenheit'),
    }));
  it('where no limit is known, a tenth of what is read is not doubted, nor fifty steps of the display', () => {
    expect(undoubted(null, 0.01, 100)).toBe(10);
    expect(undoubted(null, 1, 10)).toBe(50);
    expect(undoubted(0.5, 1, 100)).toBe(25);
  });
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
