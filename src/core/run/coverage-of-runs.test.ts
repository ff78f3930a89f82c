import { describe, expect, it } from 'vitest';
import { normalDeviate } from '../montecarlo/normal-deviate';
import { RandomStream } from '../montecarlo/random-stream';
import { mean, standardDeviation } from '../statistics/moments';
import { TestBench } from './fixtures/bench';
import { judgedPoints, mainResult } from './judged-points';
import { itemsAt } from '../state/run-case';
import { slotKey, slotOf } from '../state/place-keys';
import type { Reading, RunState } from '../state/run-state';

/** What is unknown at a bench is drawn from the budget's own distributions; what is measured goes through the run. */
describe('500 simulated runs', () => {
  const stream = new RandomStream(20);
  const between = (half: number) => half * (2 * stream.uniform() - 1);
  const step = 0.001;
  const bench = TestBench.micrometer();
  bench.shown.condition = (id) => ({ air: '20.3', frame: '20.2' })[id] ?? '20.4';
  bench.prepared();
  const prepared = bench.state;
  const items = bench.setup.standards['blocks']![0]!.document.items!;
  const slots = prepared.plan.flatMap((i) => (i.type === 'reading' ? [slotOf(i)] : []));
  const placed = prepared.places.get('as-found|error|')!.points;
  const years =
    (Date.parse('2026-11-24') - Date.parse(bench.setup.standards['blocks']![0]!.document.certificate!.date)) / (365.25 * 86400e3);

  /** One run: the true error of every point, and its readings with a scatter of a third of a step. */
  function simulated(): { state: RunState; trueErrors: number[] } {
    const trueErrors = placed.map(() => between(0.004));
    // Drawn once a run: the coefficients and temperatures are the same at every point.
    const [alpha, alphaOfInstrument, difference] = [between(1e-6), between(2e-6), between(0.3)];
    const live = new Map<string, Reading>();
    placed.forEach((point, i) => {
      const nominal = point.nominal!;
      const stack = itemsAt(prepared, { ...slots[0]!, point: point.id }, 'blocks')!.map((id) => items.find((b) => b.id === id)!);
      const reference = stack.reduce((s, b) => s + b.certified!, 0) * (1 + 1.15e-5 * 0.4 - 1.15e-5 * 0.2);
      const drift = between((0.00005 * stack.length + 0.0000005 * nominal) * years);
      const certified = stack.reduce((s, b) => s + (b.expandedUncertainty / b.coverageFactor) * normalDeviate(stream), 0);
      const wringing = between(0.00005 * (stack.length - 1));
      const thermal = nominal * ((alpha - alphaOfInstrument) * 0.4 + alphaOfInstrument * 0.2 + 1.15e-5 * difference);
      const shown = reference + certified + drift + wringing + thermal + trueErrors[i]! - between(0.0003); // One band on a face and one over both.
      for (const slot of slots.filter((s) => s.point === point.id)) {
        const text = (Math.round((shown + (step / 3) * normalDeviate(stream)) / step) * step).toFixed(3);
        live.set(slotKey(slot), {
          at: bench.at,
          person: 'Ada',
          sequence: 100 + live.size,
          slot,
          text,
          value: Number(text),
          reason: null,
          struck: null,
        });
      }
    });
    return { state: { ...prepared, live }, trueErrors };
  }
  const resultsOf = (state: RunState) => judgedPoints(state, 'as-found', mainResult(state)!.series, ['E']);

  it('hold the true error within U as often as 95.45 % claims, give or take', () => {
    let [inside, asked] = [0, 0];
    for (let run = 0; run < 500; run++) {
      const { state, trueErrors } = simulated();
      resultsOf(state).forEach((p, i) => {
        asked++;
        if (Math.abs(p.value - trueErrors[i]!) <= p.result.expandedUncertainty) inside++;
      });
    }
    expect(asked).toBe(5000);
    const coverage = inside / asked;
    expect(coverage).toBeGreaterThan(0.945);
    expect(coverage).toBeLessThan(0.99);
  });

  it('count a rounded display once: the readings’ share of u is 1 to 1.3 times what rounding and scatter do', () => {
    const misses: number[] = [];
    for (let run = 0; run < 400; run++) {
      const shown = stream.uniform();
      const values = [0, 1, 2].map(() => Math.round((shown + (step / 3) * normalDeviate(stream)) / step) * step);
      misses.push(mean(values) - shown);
    }
    const claimed = resultsOf(simulated().state).map(
      (p) => p.result.contributions.find((c) => c.symbol === 'R')!.standardUncertainty,
    );
    const truth = standardDeviation(misses);
    expect(mean(claimed) / truth).toBeGreaterThan(1);
    expect(mean(claimed) / truth).toBeLessThan(1.3);
  });
});
