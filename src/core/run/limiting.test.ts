import { describe, expect, it } from 'vitest';
import { certificateOf } from '../certificate/certificate';
import { labelWords } from '../register/label-words';
import { adjustmentAdvice } from './adjustment-advice';
import { TestBench } from './fixtures/bench';
import { limitedWords, notHeld, proposedLimits } from './limiting';
import { reviewPoints } from './review-points';
import { summarizeRun } from './run-summary';

const laboratory = { name: 'Measuring Room', address: 'Foundry Yard', conditionInstruments: '' };

/** A micrometer of 0 to 25 mm read as found and left as it is, whose error is told by the nominal value. */
function left(error: (nominal: number) => number): TestBench {
  const bench = TestBench.micrometer();
  bench.readAll(error);
  const { adjustment } = adjustmentAdvice(bench.state, 'as-found');
  return bench.do({
    type: 'adjustment-decided',
    set: 'as-found',
    adjustment: null,
    proposed: adjustment,
    reason: adjustment === null ? '' : 'The owner wants a check only',
  });
}

describe('an instrument that is outside is limited to what it holds', () => {
  const worn = () => left((nominal) => (nominal > 16 ? 0.0065 : 0.0002));

  it('proposes the longest stretch of points that are all inside', () => {
    const { state } = worn();
    const [held, ...others] = proposedLimits(state)!;
    expect(others).toEqual([]);
    expect(held).toMatchObject({ series: 'error' });
    expect(held!.lower).toBeLessThanOrEqual(2.5);
    expect(held!.upper).toBeGreaterThan(10);
    expect(held!.upper).toBeLessThanOrEqual(16);
    expect(limitedWords(state, [held!])).toBe(`${held!.lower} to ${held!.upper} mm`);
  });

  it('proposes nothing where it is inside, nor where it is outside everywhere', () => {
    expect(proposedLimits(left(() => 0.0001).state)).toBeNull();
    expect(proposedLimits(left((nominal) => (nominal < 12 ? 0.007 : -0.007)).state)).toBeNull();
  });

  it('takes the longer of two stretches, and none of a single point', () => {
    const [held] = proposedLimits(left((nominal) => (Math.abs(nominal - 7.7) < 0.1 ? 0.007 : 0)).state)!;
    expect(held!.lower).toBeGreaterThan(7.7);
    expect(held!.upper).toBe(25);
  });

  it('refuses what it does not hold, and what nobody judged', () => {
    const { state } = worn();
    expect(notHeld(state, [])).toMatch(/Say what/);
    expect(notHeld(state, [{ series: 'error' }])).toMatch(/mm is not inside its limits/);
    expect(notHeld(state, [{ series: 'error', lower: 0, upper: 25 }])).toMatch(/is not inside its limits/);
    expect(notHeld(state, [{ series: 'error', lower: 2.6, upper: 2.7 }])).toMatch(/nothing was read there/);
    expect(notHeld(state, [{ series: 'weights' }])).toMatch(/Nothing was judged/);
    expect(notHeld(state, proposedLimits(state)!)).toBeNull();
  });

  it('is recorded with what was agreed, taken back, and stands on certificate, label and review list', () => {
    const bench = worn();
    const to = proposedLimits(bench.state)!;
    expect(bench.try({ type: 'limited', to: [], agreed: 'Nothing at all' })).toMatch(/not limited/);
    expect(bench.try({ type: 'limited', to: [{ series: 'error' }], agreed: 'By telephone' })).toMatch(/not inside its limits/);
    bench.do({ type: 'limited', to, agreed: 'By telephone' });
    bench.do({ type: 'limited', to: [], agreed: 'Taken back' });
    expect(bench.state.limited).toBeNull();
    bench.do({ type: 'limited', to, agreed: 'By telephone' }).playTo('end');
    const words = limitedWords(bench.state, to);
    expect(certificateOf(bench.state, laboratory).remarks[0]).toBe(
      `Limited to ${words}: as left it is inside its limits there, and is not to be used for anything else. Agreed: By telephone.`,
    );
    expect(reviewPoints(bench.state, bench.events)).toContain(`Limited to ${words}. Agreed: By telephone`);
    const { limited } = summarizeRun(bench.state);
    expect(limited).toBe(words);
    const label = { state: 'in-use' as const, lastCalibrated: '2026-11-24', nextDue: '2027-11-24' };
    expect(labelWords({ ...label, latest: { isReviewed: true, verdictAsLeft: 'fail', limited } })).toEqual({
      calibrated: '2026-11-24',
      due: '2027-11-24',
      limited: words,
    });
    expect(labelWords({ ...label, latest: { isReviewed: false, verdictAsLeft: 'fail', limited } })).toHaveProperty(
      'notCalibrated',
    );
    expect(labelWords({ ...label, latest: { isReviewed: true, verdictAsLeft: 'fail' } })).toHaveProperty('notCalibrated');
  });

  it('is not said before the readings are judged, nor at a quick check', () => {
    const bench = TestBench.micrometer();
    bench.readAll(() => 0);
    expect(bench.try({ type: 'limited', to: [{ series: 'error' }], agreed: 'By telephone' })).toMatch(/after the readings/);
  });
});
