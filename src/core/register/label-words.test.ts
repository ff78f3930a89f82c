import { describe, expect, it } from 'vitest';
import { labelWords, type LabelFacts } from './label-words';

const signed: LabelFacts = {
  state: 'in-use',
  lastCalibrated: '2026-05-04',
  nextDue: '2027-05-04',
  latest: { isReviewed: true, verdictAsLeft: 'pass' },
};
const latest = (verdictAsLeft: NonNullable<LabelFacts['latest']>['verdictAsLeft'], isReviewed = true): LabelFacts => ({
  ...signed,
  latest: { isReviewed, verdictAsLeft },
});

describe('a label', () => {
  it('says calibrated of what is inside and signed, and of what only the record knows', () => {
    const words = { calibrated: '2026-05-04', due: '2027-05-04' };
    expect(labelWords(signed)).toEqual(words);
    expect(labelWords(latest('conditional-pass'))).toEqual(words);
    expect(labelWords({ ...signed, latest: null })).toEqual(words);
  });
  it.each([
    [latest('pass', false), 'not signed'],
    [latest('fail'), 'not to be used'],
    [latest('conditional-fail'), 'not to be used'],
    [latest('not-determined'), 'Not determined'],
    [latest(null), 'Not determined'],
    [{ ...signed, state: 'out-of-use' as const }, 'Out of use'],
    [{ ...signed, lastCalibrated: null, latest: null }, 'Not calibrated yet'],
  ])('%j never says calibrated', (facts, words) =>
    expect(labelWords(facts)).toEqual({ notCalibrated: expect.stringContaining(words) as unknown }),
  );
});
