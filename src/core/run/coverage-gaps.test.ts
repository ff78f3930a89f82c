import { describe, expect, it } from 'vitest';
import { nextItem } from './next-step';
import { setups, TestBench } from './fixtures/bench';
import { startAct, startCaution } from './start-run';
import { reviewPoints } from './review-points';
import { placedPoint } from '../state/run-state';

const day = '2026-11-24';
const thermometer = () => ({ ...setups['thermometer-in-bath']!(), timeZone: 'UTC' });

/** The same with another certificate of its reference. */
function withReference(change: (document: Record<string, unknown>) => Record<string, unknown>) {
  const setup = thermometer();
  const reference = setup.standards['reference']!.map((s) => ({
    ...s,
    document: change(s.document as unknown as Record<string, unknown>) as unknown as typeof s.document,
  }));
  return { ...setup, standards: { ...setup.standards, reference } };
}

type Correction = { at: number; correction: number; expandedUncertainty: number };
const corrections = (document: Record<string, unknown>, change: (all: Correction[]) => Correction[]) => ({
  ...document,
  corrections: change(document['corrections'] as Correction[]),
});

describe('a standard that does not reach', () => {
  it('is refused before the run begins, with the points it leaves out and the ways on', () => {
    expect(() => startAct(thermometer(), day)).not.toThrow();
    const short = withReference((d) => corrections(d, (all) => all.slice(0, 2)));
    expect(() => startAct(short, day)).toThrow(/Not covered: .*°C.*Choose a standard that reaches/);
  });
});

describe('a standard that is too uncertain', () => {
  const coarse = () => withReference((d) => corrections(d, (all) => all.map((c) => ({ ...c, expandedUncertainty: 0.6 }))));
  it('is said at the start, at the place where it is chosen, and only there', () => {
    expect(startCaution(thermometer(), 'reference', day)).toBeNull();
    expect(startCaution(coarse(), 'reference', day)).toMatch(/its U of 0\.6 K is more than the limit of 0\.2 K/);
    expect(startCaution(coarse(), 'bath', day)).toBeNull();
  });
  it('is said where the least ratio of the rule is not reached', () => {
    const asked = (minimumRatio: number) => {
      const setup = thermometer();
      return { ...setup, instrument: { ...setup.instrument, decisionRule: { kind: 'simple' as const, minimumRatio } } };
    };
    expect(startCaution(asked(4), 'reference', day)).toBeNull();
    expect(startCaution(asked(40), 'reference', day)).toMatch(
      /leaves a ratio of [\d.]+ to the limit, where the rule asks for 40/,
    );
  });
  it('and at review once more, of what was found', () => {
    const bench = new TestBench(coarse());
    bench.shown.reading = (state, slot) => placedPoint(state, slot)!.nominal!.toFixed(slot.observation.startsWith('S') ? 3 : 2);
    bench.playTo('judge');
    expect(nextItem(bench.state)?.type).toBe('judge');
    bench.playTo('end');
    expect(reviewPoints(bench.state, bench.events).join(' ')).toContain('U is more than the limit at');
  });
});
