import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkPlausibility, likelySlip, undoubted } from './plausibility';

const nothingMore = { limit: null, spread: null, nominal: null, elsewhere: [] };

const ask = (value: number, near: number) =>
  checkPlausibility(value, {
    value: near,
    of: 'the point',
    width: undoubted(0.004, 0.001, near),
    resolution: 0.001,
    unit: 'mm',
    ...nothingMore,
  });

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
    expect(
      checkPlausibility(122, { value: 50, of: 'the point', width: 5, resolution: 0.1, unit: '°C', ...nothingMore }),
    ).toMatchObject({
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

describe('slips that explain a reading a hundred times better than a fault would', () => {
  const at = { of: 'the point', width: 0.5, resolution: 0.001, limit: 0.004, spread: 0.0008, unit: 'mm' };
  const near = (value: number, nominal = value) => ({ ...at, value, nominal, elsewhere: [{ value: 27.501, title: '27.5 mm' }] });

  it.each([
    [25.071, 25.017, '25.017', 'two digits exchanged'],
    [52.001, 25.002, '25.001', 'two digits exchanged'],
    [250.02, 25.002, '25.002', 'a slipped decimal point'],
    [25.31, 25.013, null, ''],
  ])('%d where %d is expected: %s', (typed, expected, suggestion, words) => {
    const slip = likelySlip(typed, near(expected));
    expect(slip?.suggestion ?? null).toBe(suggestion);
    expect(slip?.message ?? '').toContain(words);
  });

  it('a true fault of a few limits is none, whatever its digits could be turned into', () => {
    // 25.021 might be 25.012, and is 2 limits away as well as 0.3.
    expect(likelySlip(25.021, near(25.013))).toBeNull();
    for (let e = -0.012; e <= 0.012; e += 0.001) expect(likelySlip(Number((25.013 + e).toFixed(3)), near(25.013))).toBeNull();
  });

  it('a sign that was lost near zero', () => {
    const slip = likelySlip(0.041, { ...at, value: -0.0412, nominal: -0.04, elsewhere: [] });
    expect(slip).toMatchObject({ suggestion: '-0.041', message: expect.stringContaining('a lost sign') as string });
  });

  it('says so where what it offers is the point itself to the last digit', () => {
    expect(likelySlip(25.071, near(25.017))?.message).toContain('the point itself');
    expect(likelySlip(25.071, near(25.017, 25.01))?.message).not.toContain('the point itself');
  });

  it('the reading of another point is asked about, and nothing is offered for it', () => {
    const slip = likelySlip(27.501, near(25.013));
    expect(slip).toMatchObject({
      suggestion: null,
      message: expect.stringContaining('what 27.5 mm is expected to show') as string,
    });
  });

  it('is silent where nothing says what is allowed, or how sound readings lie', () => {
    expect(likelySlip(25.031, { ...near(25.013), limit: null })).toBeNull();
    expect(likelySlip(25.031, { ...near(25.013), spread: null })).toBeNull();
  });

  it('is explained at least a hundred times better, told by hand', () => {
    // s = √(0.8² + 1) = 1.281 µm: what is meant lies at 0.3115 a µm. A fault of 18 µm lies at 1/(36 ln 1000) = 0.00402, 77 times as
    // rare; one of 27 µm at 0.00268, 116 times.
    expect(likelySlip(25.031, near(25.013))).toBeNull();
    expect(likelySlip(25.041, near(25.014))).toMatchObject({ suggestion: '25.014' });
  });
});
