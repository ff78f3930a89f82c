import { mean, pooledStandardDeviation, standardDeviation } from '../statistics/moments';
import { nestedCurve, oddValue } from '../statistics/nested-curves';
import { cochranTest } from '../statistics/outliers';
import { unitIn } from '../steps/step-context';
import { judgedPoints, mainResult, type JudgedPoint } from './judged-points';
import { shownUnit } from './place-words';
import type { RunState } from '../state/run-state';
import { failuresIn, failureSentence } from './failures';
import { differenceInShownUnit, signed, significant, withPrintedUnit } from './shown-value';

export type Diagnosis = {
  kind: 'too-few' | 'odd-point' | 'scatter' | 'offset' | 'slope' | 'curve' | 'quiet' | 'irregular' | 'elsewhere';
  /** One plain sentence for the person at the bench. */
  sentence: string;
  /** The point that scatters, and by how much (s) beside what all points have together, in words. */
  scatter?: string;
};

/**
 * What the errors of a set look like, so that the cheap causes are looked at before anything is adjusted. What failed is named first:
 * a pattern of the main result never speaks against another result, a statistic or an answer.
 * @example diagnose(run, 'as-found').kind // 'slope'
 */
export function diagnose(state: RunState, set: string): Diagnosis {
  const failures = failuresIn(state, set);
  const main = mainResult(state);
  const pattern = main ? patternOf(state, set, main) : ({ kind: 'too-few', sentence: '' } satisfies Diagnosis);
  if (failures.length === 0) return pattern;
  const first = failureSentence(failures);
  // Where only something else failed, the pattern of what passed explains nothing.
  const isOfMain = failures.some((f) => f.place.series === main?.series.id && f.of === main?.result.symbol);
  const speaks = isOfMain && !['quiet', 'too-few', 'irregular'].includes(pattern.kind);
  return speaks || pattern.scatter
    ? { ...pattern, sentence: `${first} ${pattern.sentence}` }
    : { kind: isOfMain ? 'irregular' : 'elsewhere', sentence: first };
}

function patternOf(state: RunState, set: string, main: NonNullable<ReturnType<typeof mainResult>>): Diagnosis {
  const points = alike(judgedPoints(state, set, main.series, [main.result.symbol]));
  const place = { set, series: main.series.id };
  const unit = unitIn(state, main.result.unit, place);
  return diagnosePoints(points, {
    unit,
    shownIn: shownUnit(state, main.result, place),
    resolution: state.instrument.unit === unit ? state.instrument.resolution : 0,
    hasShape: !main.series.separate,
  });
}

/** Ranges with limits of their own have no common shape: then the points of the one that uses most of its limits. */
function alike(points: readonly JudgedPoint[]): readonly JudgedPoint[] {
  if (new Set(points.map((p) => p.place.each)).size < 2 || new Set(points.map(limitOf)).size < 2) return points;
  const used = (p: JudgedPoint) => Math.abs(p.value) / limitOf(p);
  const worst = points.reduce((w, p) => (used(p) > used(w) ? p : w));
  return points.filter((p) => p.place.each === worst.place.each);
}

type Scale = {
  unit: string;
  shownIn: string;
  /** Step of the display in `unit`: what rounding to it explains is no scatter. */ resolution: number;
  /** Whether the points are of one thing, so that a constant or a line through them says something. */ hasShape: boolean;
};

export function diagnosePoints(points: readonly JudgedPoint[], { unit, shownIn, resolution, hasShape }: Scale): Diagnosis {
  const limits = points.map(limitOf);
  const shown = (value: number) => withPrintedUnit(significant(differenceInShownUnit(value, unit, shownIn), 2), shownIn);
  const withSign = (value: number) => signed(shown(value));
  // Errors in their own unit: a share of limits that differ has no shape of its own.
  const values = points.map((p) => p.value);
  const say = (kind: Diagnosis['kind'], sentence: string, scatter?: string): Diagnosis => ({
    kind,
    sentence,
    ...(scatter ? { scatter } : {}),
  });
  if (points.length < 4 || !limits.some(Number.isFinite)) return say('too-few', '');
  const mayHaveShape = hasShape && points.every(isError);
  const limit = Math.min(...limits);
  const used = values.map((v, i) => Math.abs(v) / limits[i]!);
  const largest = Math.max(...values.map(Math.abs));
  const x = points.map((p) => p.nominal ?? 0);
  const nominals = points.every((p) => p.nominal !== undefined) ? x : values.map(() => 0);
  const steps = points.map((p) => p.resolution ?? resolution);
  // Repeats that differ by a step of the display at the most do not scatter: the display rounds.
  const repeats = points.map((p, i) => (spread(p.repeats) > steps[i]! * 1.01 ? p.repeats : p.repeats.map(() => mean(p.repeats))));
  const floor = scatterAtLeast(repeats, steps);
  const odd = oddValue(nominals, values, floor, oddSignificance);
  if (odd && mayHaveShape && Math.abs(values[odd.index]! - odd.expected) > limits[odd.index]! / 2)
    return say(
      'odd-point',
      `${points[odd.index]!.title} stands apart at ${withSign(values[odd.index]!)}, where the others lead one to expect ${withSign(odd.expected)}: before adjusting, check what it was compared with there and read it again.`,
    );
  const scatterAt = (i: number) =>
    `${points[i]!.title} (s = ${shown(standardDeviation(repeats[i]!))}; over all points ${shown(pooledStandardDeviation(repeats.filter((r) => r.length > 1))!.standardDeviation)})`;
  const cochran = repeats.every((r) => r.length > 1) ? cochranTest(repeats, 0.01, Math.max(...steps)) : null;
  // Nor is one accused whose display shows a step to either side of its middle at the most.
  if (cochran?.isOutlier && spread(repeats[cochran.index]!) > steps[cochran.index]! * 2.01)
    return say(
      'scatter',
      `Repeats at ${points[cochran.index]!.title} scatter far more than at the other points (Cochran’s test at 1 %), so their scatter should not be pooled: strike these readings out with the reason and read the point again. If it stays, look for the cause there before anything else.`,
      scatterAt(cochran.index),
    );
  const scatters = repeats.map((r) => (r.length > 1 ? standardDeviation(r) : 0));
  const widest = scatters.reduce((w, s, i) => (s / limits[i]! > scatters[w]! / limits[w]! ? i : w), 0);
  if (scatters[widest]! > limits[widest]! / 3)
    return say(
      'scatter',
      `Repeats at ${points[widest]!.title} scatter by ${shown(scatters[widest]!)} (s): look for the cause before adjusting.`,
      scatterAt(widest),
    );
  if (Math.max(...used) < 1 / 4) return say('quiet', 'All errors are small and show no pattern: leave it as it is.');
  if (!mayHaveShape) return say('too-few', '');
  const { degree, fitted } = nestedCurve(nominals, values, floor, patternSignificance);
  const rise = Math.max(...fitted) - Math.min(...fitted);
  const offset = mean(values);
  const worst = values.reduce((w, v, i) => (Math.abs(v - offset) > Math.abs(values[w]! - offset) ? i : w), 0);
  const wouldLeave = `${withSign(values[worst]! - offset)} (${points[worst]!.title})`;
  const remaining = Math.abs(values[worst]! - offset);
  const [first, last] = [x.indexOf(Math.min(...x)), x.indexOf(Math.max(...x))];
  const limitAtEnds = Math.max(limits[first]!, limits[last]!);
  // An error that grows over the range is no constant, even where most of it lies on one side.
  if (degree >= 1 && rise > limitAtEnds / 3 && (remaining > 0.35 * largest || remaining > limit / 2))
    return degree === 1
      ? say(
          'slope',
          `The error changes by ${withSign(fitted[last]! - fitted[first]!)} over the range, in a line: taking a constant away would still leave ${wouldLeave}.`,
        )
      : say(
          'curve',
          `The error changes by ${shown(rise)} over the range, and not in a line: taking a constant away would still leave ${wouldLeave}.`,
        );
  if (degree >= 0 && Math.abs(offset) >= limit / 4 && remaining < 0.6 * largest && Math.max(...used) >= 1 / 2)
    return say(
      'offset',
      `All errors lie near ${withSign(offset)}: ${unit === '%' ? 'alike at all points' : 'a constant offset'}. Taking it away would leave at most ${wouldLeave}.`,
    );
  return say('irregular', `The errors vary over the range without a common offset: taking one away would leave ${wouldLeave}.`);
}

/** An error has limits on both sides of zero; a run-out or a height has no constant that could be taken away. */
const isError = ({ result: { limits } }: JudgedPoint): boolean => (limits?.lower ?? 0) < 0 && (limits?.upper ?? 0) > 0;

/** From the least to the greatest. */
const spread = (values: readonly number[]): number => (values.length ? Math.max(...values) - Math.min(...values) : 0);

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
