import { describe, expect, it } from 'vitest';
import { normalDeviate } from '../montecarlo/normal-deviate';
import { RandomStream } from '../montecarlo/random-stream';
import { mean, standardDeviation } from '../statistics/moments';
import { TestBench } from './fixtures/bench';
import { passResults, referenceValue } from './point-results';

/** What is unknown at a bench is drawn from the budget's own distributions; what is measured goes through the run. */
describe('2 000 simulated runs', () => {
  const stream = new RandomStream(20);
  const between = (half: number) => half * (2 * stream.uniform() - 1);
  const step = 0.001;
  const state = new TestBench().prepared().state;
  const template = state.passes['as-found'];

  /** One run: the true error of every point, and its readings with a scatter of a third of a step. */
  function simulated() {
    const trueErrors = state.points.map(() => between(0.004));
    // Drawn once a run: the coefficients and temperatures are the same at every point.
    const [alpha, alphaOfInstrument, blocks, difference] = [between(1e-6), between(2e-6), between(0.2), between(0.3)];
    state.points.forEach((point, i) => {
      const reference = referenceValue(state, point, state.conditions);
      const drift = between((0.00005 * point.stack.length + 0.0000005 * point.nominal) * 1);
      const certified = point.stack.reduce((s, b) => s + (b.expandedUncertainty / b.coverageFactor) * normalDeviate(stream), 0);
      const wringing = between(0.00005 * (point.stack.length - 1));
      const { standard, instrument } = reference.temperatures;
      const thermal =
        point.nominal *
        ((alpha - alphaOfInstrument) * (standard - 20) +
          alphaOfInstrument * (standard - instrument) +
          1.15e-5 * difference +
          0 * blocks);
      const shown = reference.value + certified + drift + wringing + thermal + trueErrors[i]! - between(0.0005);
      template[point.id]!.readings = [0, 1, 2].map((r) => {
        const value = Math.round((shown + (step / 3) * normalDeviate(stream)) / step) * step;
        return {
          text: value.toFixed(3),
          value: Number(value.toFixed(3)),
          resolution: step,
          sequence: 100 + r,
          at: '2026-11-24T10:00:00.000Z',
          person: 'Ada',
          struck: null,
          conditions: state.conditions!,
        };
      });
    });
    return trueErrors;
  }

  it('hold the true error within U as often as 95.45 % claims, give or take', () => {
    let [inside, asked] = [0, 0];
    for (let run = 0; run < 2000; run++) {
      const trueErrors = simulated();
      passResults(state, 'as-found').forEach((r, i) => {
        asked++;
        if (Math.abs(r.conformity.error - trueErrors[i]!) <= r.uncertainty.expandedUncertainty) inside++;
      });
    }
    expect(asked).toBe(20_000);
    const coverage = inside / asked;
    expect(coverage).toBeGreaterThan(0.95);
    expect(coverage).toBeLessThan(0.985);
  });

  it('count a rounded display once: the readings’ share of u is 1 to 1.3 times what rounding and scatter do', () => {
    const misses: number[] = [];
    const claimed: number[] = [];
    for (let run = 0; run < 400; run++) {
      const shown = stream.uniform();
      const values = [0, 1, 2].map(() => Math.round((shown + (step / 3) * normalDeviate(stream)) / step) * step);
      misses.push(mean(values) - shown);
    }
    simulated();
    for (const r of passResults(state, 'as-found'))
      claimed.push(r.uncertainty.contributions.find((c) => c.symbol === 'R')!.standardUncertainty);
    const truth = standardDeviation(misses);
    expect(mean(claimed) / truth).toBeGreaterThan(1);
    expect(mean(claimed) / truth).toBeLessThan(1.3);
  });
});
