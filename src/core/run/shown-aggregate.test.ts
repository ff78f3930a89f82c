import { describe, expect, it } from 'vitest';
import { isDetermined } from '../evaluate/undetermined';
import { setups, TestBench } from './fixtures/bench';
import { aggregatesIn, entriesOf, evaluationIn } from './run-results';
import { placedPoint } from '../state/run-state';
import { aggregatePair } from './shown-aggregate';

describe('a statistic without an uncertainty of its own', () => {
  it.each([
    ['thermometer-in-bath', 'a mean'],
    ['pressure-transmitter', 'formulas and ranges'],
  ])('is printed to the place of the results that it is of: %s, %s', (family) => {
    const bench = new TestBench(setups[family]!());
    const ordinary = bench.shown.reading;
    bench.shown.reading = (state, slot) =>
      slot.observation === 'I'
        ? (4.004 + (16 * placedPoint(state, slot)!.nominal!) / 600).toFixed(3)
        : Number(ordinary(state, slot)).toFixed(2);
    const { state } = bench.playTo('judge');
    const series =
      state.procedure.series.find((s) => s.results.some((r) => r.tolerance || r.tolerances)) ?? state.procedure.series[0]!;
    const of = aggregatesIn(state, 'as-found', series.id).filter(isDetermined);
    const isRead = (id: string | undefined) => series.observe.some((o) => o.id === id);
    const plain = of.filter((a) => !a.result && !isRead(series.aggregates.find((d) => d.id === a.id)!.of));
    expect(plain.length).toBeGreaterThan(0);
    const least = Math.min(
      ...entriesOf(evaluationIn(state, 'as-found'), series.id).flatMap((e) =>
        e.points.flatMap((p) => Object.values(p.results).flatMap((r) => (isDetermined(r) ? [r.expandedUncertainty] : []))),
      ),
    );
    for (const a of plain) {
      const { value } = aggregatePair(state, series, a, { set: 'as-found', series: series.id });
      const decimals = value.split('.')[1]?.length ?? 0;
      // Its last digit is the second of U, as that of the results: not a hundredth of U.
      expect(0.5 * 10 ** -decimals, `${a.id} ${value} with U ${least}`).toBeGreaterThan(least / 200);
      expect(10 ** -decimals, `${a.id} ${value} with U ${least}`).toBeLessThanOrEqual(least / 9.9);
    }
  });
});
