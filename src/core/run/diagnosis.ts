import { mean } from '../statistics/moments';
import { cochranTest } from '../statistics/outliers';
import type { PointResult } from './point-results';

export type Diagnosis = {
  kind: 'too-few' | 'odd-point' | 'scatter' | 'offset' | 'slope' | 'quiet' | 'irregular';
  /** One plain sentence for the person at the bench. */
  sentence: string;
  /** Mean error in mm: what a zero adjustment would take away. */
  offset: number;
  /** Largest |error| in mm that would remain after taking the offset away. */
  remaining: number;
};

const micrometres = (mm: number): string => `${mm > 0 ? '+' : mm < 0 ? '−' : ''}${Math.abs(mm * 1000).toFixed(1)} µm`;

const median = (values: number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
};

/** Least-squares slope of errors over nominal lengths, and how many standard errors it is from zero. */
function slopeOf(x: number[], y: number[]): { slope: number; significance: number } {
  const [mx, my] = [mean(x), mean(y)];
  const sxx = x.reduce((s, v) => s + (v - mx) ** 2, 0);
  const slope = x.reduce((s, v, i) => s + (v - mx) * (y[i]! - my), 0) / sxx;
  const residual = y.reduce((s, v, i) => s + (v - my - slope * (x[i]! - mx)) ** 2, 0);
  const error = Math.sqrt(residual / (x.length - 2) / sxx);
  return { slope, significance: error === 0 ? (slope === 0 ? 0 : Infinity) : Math.abs(slope) / error };
}

/**
 * What the errors of a pass look like, so that the cheap causes are looked at before the screwdriver.
 * @param results the points of one pass that have a result
 * @param resolution step of the display, in the unit of the readings: what rounding to it explains is no scatter
 */
export function diagnose(results: readonly PointResult[], resolution: number): Diagnosis {
  const errors = results.map((r) => r.conformity.error);
  const offset = errors.length ? mean(errors) : 0;
  const largest = Math.max(0, ...errors.map(Math.abs));
  const remaining = Math.max(0, ...errors.map((e) => Math.abs(e - offset)));
  const say = (kind: Diagnosis['kind'], sentence: string): Diagnosis => ({ kind, sentence, offset, remaining });
  if (results.length < 4) return say('too-few', 'Too few points to see a pattern.');

  const limit = Math.min(
    ...results.map((r) =>
      Math.min(...[r.conformity.limits.upper, r.conformity.limits.lower].flatMap((l) => (l === null ? [] : [Math.abs(l)]))),
    ),
  );
  const middle = median(errors);
  const deviation = median(errors.map((e) => Math.abs(e - middle))) * 1.4826;
  const odd = results.filter((r) => Math.abs(r.conformity.error - middle) > Math.max(6 * deviation, limit));
  if (odd.length === 1) {
    const { point, conformity } = odd[0]!;
    return say(
      'odd-point',
      `${point.nominal.toFixed(1)} mm stands apart at ${micrometres(conformity.error)}: before adjusting, check its blocks, wipe them and read it again.`,
    );
  }
  const cochran = cochranTest(
    results.map((r) => r.readings),
    0.01,
    resolution,
  );
  if (cochran?.isOutlier)
    return say(
      'scatter',
      `Repeats at ${results[cochran.index]!.point.nominal.toFixed(1)} mm scatter far more than at the other points (Cochran’s test at 1 %), so their scatter should not be pooled: strike these readings out with the reason, wipe, and read the point again. If it stays, look for the cause there before anything else.`,
    );
  const scatter = Math.max(...results.map((r) => r.standardDeviation ?? 0));
  if (scatter > limit / 3)
    return say(
      'scatter',
      `Repeats at one point scatter by ${(scatter * 1000).toFixed(1)} µm (s): look for dirt, a worn ratchet or a loose block before adjusting.`,
    );
  if (largest < limit / 4) return say('quiet', 'All errors are small and show no pattern: leave it as it is.');

  if (Math.abs(offset) >= limit / 4 && remaining < 0.6 * largest)
    return say(
      'offset',
      `All errors lie near ${micrometres(offset)}: a constant offset that a zero adjustment would remove, leaving at most ${(remaining * 1000).toFixed(1)} µm.`,
    );
  const lengths = results.map((r) => r.point.nominal);
  const { slope, significance } = slopeOf(lengths, errors);
  const rise = slope * (Math.max(...lengths) - Math.min(...lengths));
  if (significance > 4 && Math.abs(rise) > limit / 3)
    return say(
      'slope',
      `The error changes by ${micrometres(rise)} over the range: a temperature difference or the screw. A zero adjustment would only shift it.`,
    );
  return say(
    'irregular',
    `The errors vary along the screw without a common offset: a zero adjustment would leave ${(remaining * 1000).toFixed(1)} µm of the present ${(largest * 1000).toFixed(1)} µm.`,
  );
}
