import { mean, pooledStandardDeviation, standardDeviation } from '../statistics/moments';
import { nestedCurve, oddValue } from '../statistics/nested-curves';
import { cochranTest } from '../statistics/outliers';
import { unitIn } from '../steps/step-context';
import { judgedPoints, mainResult, type JudgedPoint } from './judged-points';
import { shownUnit } from './place-words';
import type { RunState } from './run-state';
import { inShownUnit, signed, significant, withPrintedUnit } from './shown-value';

export type Diagnosis = {
  kind: 'too-few' | 'odd-point' | 'scatter' | 'offset' | 'slope' | 'curve' | 'quiet' | 'irregular';
  /** One plain sentence for the person at the bench. */
  sentence: string;
  /** The point that scatters, and by how much (s) beside what all points have together, in words. */
  scatter?: string;
};

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
  const scales = points.map(limitOf);
  // Where the limits differ from point to point, errors are compared as shares of their own.
  const isShare = Math.max(...scales) > 2 * Math.min(...scales);
  const shown = (value: number) =>
    isShare
      ? `${significant(100 * value, 2)} % of the limit`
      : withPrintedUnit(significant(inShownUnit(value, unit, shownIn), 2), shownIn);
  const withSign = (value: number) => signed(shown(value));
  const scaled = (value: number, i: number) => (isShare ? value / scales[i]! : value);
  const values = points.map((p, i) => scaled(p.value, i));
  const say = (kind: Diagnosis['kind'], sentence: string, scatter?: string): Diagnosis => ({
    kind,
    sentence,
    ...(scatter ? { scatter } : {}),
  });
  if (points.length < 4 || !scales.some(Number.isFinite)) return say('too-few', 'Too few points to see a pattern.');
  const limit = isShare ? 1 : Math.min(...scales);
  const largest = Math.max(...values.map(Math.abs));
  const x = points.map((p) => p.nominal ?? 0);
  const nominals = points.every((p) => p.nominal !== undefined) ? x : values.map(() => 0);
  const repeats = points.map((p, i) => p.repeats.map((r) => scaled(r, i)));
  const floor = scatterAtLeast(
    repeats,
    points.map((p, i) => scaled(p.resolution ?? resolution, i)),
  );
  const odd = oddValue(nominals, values, floor, oddSignificance);
  if (odd && Math.abs(values[odd.index]! - odd.expected) > limit / 2)
    return say(
      'odd-point',
      `${points[odd.index]!.title} stands apart at ${withSign(values[odd.index]!)}, where the others lead one to expect ${withSign(odd.expected)}: before adjusting, check what it was compared with there and read it again.`,
    );
  const scatterAt = (i: number) =>
    `${points[i]!.title} (s = ${shown(standardDeviation(repeats[i]!))}; over all points ${shown(pooledStandardDeviation(repeats.filter((r) => r.length > 1))!.standardDeviation)})`;
  const cochran = repeats.every((r) => r.length > 1)
    ? cochranTest(repeats, 0.01, Math.max(...points.map((p, i) => scaled(p.resolution ?? resolution, i))))
    : null;
  if (cochran?.isOutlier)
    return say(
      'scatter',
      `Repeats at ${points[cochran.index]!.title} scatter far more than at the other points (Cochran’s test at 1 %), so their scatter should not be pooled: strike these readings out with the reason and read the point again. If it stays, look for the cause there before anything else.`,
      scatterAt(cochran.index),
    );
  const scatter = Math.max(0, ...repeats.flatMap((r) => (r.length > 1 ? [standardDeviation(r)] : [])));
  if (scatter > limit / 3)
    return say(
      'scatter',
      `Repeats at one point scatter by ${shown(scatter)} (s): look for the cause before adjusting.`,
      scatterAt(repeats.findIndex((r) => r.length > 1 && standardDeviation(r) === scatter)),
    );
  if (largest < limit / 4) return say('quiet', 'All errors are small and show no pattern: leave it as it is.');
  const { degree, fitted } = nestedCurve(nominals, values, floor, patternSignificance);
  const rise = Math.max(...fitted) - Math.min(...fitted);
  const offset = mean(values);
  const worst = values.reduce((w, v, i) => (Math.abs(v - offset) > Math.abs(values[w]! - offset) ? i : w), 0);
  const wouldLeave = `${withSign(values[worst]! - offset)} (${points[worst]!.title})`;
  const remaining = Math.abs(values[worst]! - offset);
  // An error that grows over the range is no constant, even where most of it lies on one side.
  if (degree >= 1 && rise > limit / 3 && (remaining > 0.35 * largest || remaining > limit / 2)) {
    const [first, last] = [x.indexOf(Math.min(...x)), x.indexOf(Math.max(...x))];
    return degree === 1
      ? say(
          'slope',
          `The error changes by ${withSign(fitted[last]! - fitted[first]!)} over the range, in a line: taking a constant away would still leave ${wouldLeave}.`,
        )
      : say(
          'curve',
          `The error changes by ${shown(rise)} over the range, and not in a line: taking a constant away would still leave ${wouldLeave}.`,
        );
  }
  if (degree >= 0 && Math.abs(offset) >= limit / 4 && remaining < 0.6 * largest)
    return say(
      'offset',
      `All errors lie near ${withSign(offset)}: a constant offset. Taking it away would leave at most ${wouldLeave}.`,
    );
  return say('irregular', `The errors vary over the range without a common offset: taking one away would leave ${wouldLeave}.`);
}

/** Of the tests between nothing, a constant, a line and a parabola; and of the search for one point that stands apart. */
const patternSignificance = 0.02;
const oddSignificance = 0.01;

/** The nearest limit of a point; none: without bound. */
const limitOf = ({ result: { limits } }: JudgedPoint): number =>
  Math.min(...[limits?.lower, limits?.upper].flatMap((l) => (l === undefined || l === 0 ? [] : [Math.abs(l)])));

/** A scatter of the values that repeats and the display alone explain. */
function scatterAtLeast(repeats: readonly number[][], resolutions: readonly number[]): number {
  const several = repeats.filter((r) => r.length > 1);
  const pooled = pooledStandardDeviation(several)?.standardDeviation ?? 0;
  const ofMean = several.length ? pooled / Math.sqrt(mean(several.map((r) => r.length))) : 0;
  return Math.hypot(ofMean, Math.max(...resolutions) / Math.sqrt(12));
}
