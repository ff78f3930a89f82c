import { mean, standardDeviation } from '../statistics/moments';
import { cochranTest } from '../statistics/outliers';
import { unitIn } from '../steps/step-context';
import { judgedPoints, mainResult, type JudgedPoint } from './judged-points';
import { shownUnit } from './place-words';
import type { RunState } from './run-state';
import { inShownUnit, signed, significant, withPrintedUnit } from './shown-value';

export type Diagnosis = {
  kind: 'too-few' | 'odd-point' | 'scatter' | 'offset' | 'slope' | 'quiet' | 'irregular';
  /** One plain sentence for the person at the bench. */
  sentence: string;
};

const median = (values: number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
};

/** Least-squares slope of values over nominal values, and how many standard errors it is from zero. */
function slopeOf(x: number[], y: number[]): { slope: number; significance: number } {
  const [mx, my] = [mean(x), mean(y)];
  const sxx = x.reduce((s, v) => s + (v - mx) ** 2, 0);
  const slope = x.reduce((s, v, i) => s + (v - mx) * (y[i]! - my), 0) / sxx;
  const residual = y.reduce((s, v, i) => s + (v - my - slope * (x[i]! - mx)) ** 2, 0);
  const error = Math.sqrt(residual / (x.length - 2) / sxx);
  return { slope, significance: error === 0 ? (slope === 0 ? 0 : Infinity) : Math.abs(slope) / error };
}

/** What the errors of a set look like, so that the cheap causes are looked at before anything is adjusted. */
export function diagnose(state: RunState, set: string): Diagnosis {
  const main = mainResult(state);
  if (!main) return { kind: 'too-few', sentence: '' };
  const points = judgedPoints(state, set, main.series, [main.result.symbol]);
  const place = { set, series: main.series.id };
  const unit = unitIn(state, main.result.unit, place);
  return diagnosePoints(points, {
    unit,
    shownIn: shownUnit(state, main.result, place),
    resolution: state.instrument.unit === unit ? state.instrument.resolution : 0,
  });
}

type Scale = {
  unit: string;
  shownIn: string;
  /** Step of the display in `unit`: what rounding to it explains is no scatter. */ resolution: number;
};

export function diagnosePoints(points: readonly JudgedPoint[], { unit, shownIn, resolution }: Scale): Diagnosis {
  const shown = (value: number) => withPrintedUnit(significant(inShownUnit(value, unit, shownIn), 2), shownIn);
  const withSign = (value: number) => signed(shown(value));
  const values = points.map((p) => p.value);
  const say = (kind: Diagnosis['kind'], sentence: string): Diagnosis => ({ kind, sentence });
  const limits = points.flatMap((p) =>
    [p.result.limits?.lower, p.result.limits?.upper].flatMap((l) => (l === undefined ? [] : [Math.abs(l)])),
  );
  if (points.length < 4 || limits.length === 0) return say('too-few', 'Too few points to see a pattern.');
  const offset = mean(values);
  const largest = Math.max(...values.map(Math.abs));
  const remaining = Math.max(...values.map((e) => Math.abs(e - offset)));
  const limit = Math.min(...limits);
  const middle = median(values);
  const deviation = median(values.map((e) => Math.abs(e - middle))) * 1.4826;
  const odd = points.filter((p) => Math.abs(p.value - middle) > Math.max(6 * deviation, limit));
  if (odd.length === 1)
    return say(
      'odd-point',
      `${odd[0]!.title} stands apart at ${withSign(odd[0]!.value)}: before adjusting, check what it was compared with there and read it again.`,
    );
  const cochran = points.every((p) => p.repeats.length > 1)
    ? cochranTest(
        points.map((p) => p.repeats),
        0.01,
        resolution,
      )
    : null;
  if (cochran?.isOutlier)
    return say(
      'scatter',
      `Repeats at ${points[cochran.index]!.title} scatter far more than at the other points (Cochran’s test at 1 %), so their scatter should not be pooled: strike these readings out with the reason and read the point again. If it stays, look for the cause there before anything else.`,
    );
  const scatter = Math.max(0, ...points.flatMap((p) => (p.repeats.length > 1 ? [standardDeviation(p.repeats)] : [])));
  if (scatter > limit / 3)
    return say('scatter', `Repeats at one point scatter by ${shown(scatter)} (s): look for the cause before adjusting.`);
  if (largest < limit / 4) return say('quiet', 'All errors are small and show no pattern: leave it as it is.');
  // An error that grows over the range is no constant, even where most of it lies on one side.
  const nominals = points.map((p) => p.nominal);
  if (nominals.every((n) => n !== undefined)) {
    const { slope, significance } = slopeOf(nominals, values);
    const rise = slope * (Math.max(...nominals) - Math.min(...nominals));
    if (significance > 4 && Math.abs(rise) > limit / 3)
      return say('slope', `The error changes by ${withSign(rise)} over the range: taking a constant away would only shift it.`);
  }
  if (Math.abs(offset) >= limit / 4 && remaining < 0.6 * largest)
    return say(
      'offset',
      `All errors lie near ${withSign(offset)}: a constant offset. Taking it away would leave at most ${shown(remaining)}.`,
    );
  return say(
    'irregular',
    `The errors vary over the range without a common offset: taking one away would leave ${shown(remaining)} of the present ${shown(largest)}.`,
  );
}
