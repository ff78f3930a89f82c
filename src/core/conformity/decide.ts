import normalCdf from '@stdlib/stats-base-dists-normal-cdf';
import { atMost, withoutBinaryNoise } from '../quantity/decimal-noise';
import { tCdf } from '../statistics/student-t';
import { mostDof } from '../uncertainty/coverage';
import type { ConformityQuestion, DecisionRule } from './conformity-schema';
import { toleranceLimits, type Limits } from './tolerance';

export type Verdict = 'pass' | 'conditional-pass' | 'conditional-fail' | 'fail' | 'not-determined';

export type ConformityResult = {
  error: number;
  verdict: Verdict;
  limits: Limits;
  /** Limits for the measured error inside which the rule accepts; both null when the rule can accept nothing. */
  acceptance: Limits;
  /** As `toleranceUsed` says; null where that side has no limit. */
  toleranceUsed: number | null;
  /** Half the tolerance width over U (one-sided: the limit's magnitude over U); null when U is zero. */
  testUncertaintyRatio: number | null;
  /** Probability that the true error lies within the limits: flat prior, u = U/k, normal or t at the degrees of freedom (JCGM 106, 7.2). */
  probabilityOfConformity: number;
};

/** indicated − reference without the binary noise of subtracting two near numbers: 2.523 − 2.503 is 0.02. */
export const errorOfIndication = (indicated: number, reference: number): number =>
  withoutBinaryNoise(indicated - reference, Math.max(Math.abs(indicated), Math.abs(reference)));

/**
 * Probability that the true error is within the limits, given the measured one (JCGM 106, 7.2): normal, or Student's t where
 * the uncertainty has few degrees of freedom.
 * @param effectiveDof null for infinitely many
 */
export function probabilityOfConformity(error: number, limits: Limits, u: number, effectiveDof: number | null = null): number {
  const lower = limits.lower ?? -Infinity;
  const upper = limits.upper ?? Infinity;
  if (u === 0) return within(error, limits) ? 1 : 0;
  const cdf = (z: number) => (effectiveDof === null || effectiveDof > mostDof ? normalCdf(z, 0, 1) : tCdf(z, effectiveDof));
  // Both tails from their own side, so that a probability near 1 keeps its digits.
  const above = upper === Infinity ? 0 : cdf((error - upper) / u);
  const below = lower === -Infinity ? 0 : cdf((lower - error) / u);
  return Math.min(1, Math.max(0, 1 - above - below));
}

const within = (error: number, limits: Limits): boolean =>
  (limits.lower === null || atMost(limits.lower, error)) && (limits.upper === null || atMost(error, limits.upper));

function drawnIn(limits: Limits, by: number): Limits {
  const moved = (limit: number, shift: number) => withoutBinaryNoise(limit + shift, Math.max(Math.abs(limit), Math.abs(shift)));
  return {
    lower: limits.lower === null ? null : moved(limits.lower, by),
    upper: limits.upper === null ? null : moved(limits.upper, -by),
  };
}

function ratio(limits: Limits, U: number): number | null {
  if (U === 0) return null;
  if (limits.lower === null || limits.upper === null) {
    const one = Math.abs((limits.upper ?? limits.lower)!) / U;
    return withoutBinaryNoise(one, one);
  }
  const width = (limits.upper - limits.lower) / 2 / U;
  return withoutBinaryNoise(width, Math.max(width, Math.abs(limits.upper) / U, Math.abs(limits.lower) / U));
}

/**
 * How much of the tolerance a value uses: |value| over the limit on its side; for two limits that exclude zero the distance from
 * their middle over half their width. Null where the value's side has no limit, or one of zero.
 * @example toleranceUsed(0.003, { lower: -0.004, upper: 0.004 }) // 0.75
 */
export function toleranceUsed(value: number, { lower, upper }: Limits): number | null {
  if (lower !== null && upper !== null && (lower > 0 || upper < 0)) {
    const used = Math.abs(value - (lower + upper) / 2) / ((upper - lower) / 2);
    return withoutBinaryNoise(used, Math.max(Math.abs(upper), Math.abs(lower), Math.abs(value)) / ((upper - lower) / 2));
  }
  const onSide = value >= 0 ? upper : lower;
  return onSide === null || onSide === 0 || onSide > 0 !== value >= 0 ? null : Math.abs(value / onSide);
}

/** The measured errors for which the specific risk stays at most `risk`. */
function acceptanceForRisk(limits: Limits, u: number, risk: number, effectiveDof: number | null): Limits {
  const acceptable = (error: number) => 1 - probabilityOfConformity(error, limits, u, effectiveDof) <= risk;
  if (u === 0) return limits;
  const spread = 40 * u;
  const start =
    limits.lower !== null && limits.upper !== null
      ? (limits.lower + limits.upper) / 2
      : limits.upper !== null
        ? limits.upper - spread
        : limits.lower! + spread;
  if (!acceptable(start)) return { lower: null, upper: null };
  const edge = (outside: number): number => {
    let [inside, beyond] = [start, outside];
    for (let i = 0; i < 200 && inside !== beyond; i++) {
      const middle = inside + (beyond - inside) / 2;
      if (middle === inside || middle === beyond) break;
      if (acceptable(middle)) inside = middle;
      else beyond = middle;
    }
    return inside;
  };
  // With a risk above one half the acceptance limit lies outside the tolerance limit, hence the search beyond it.
  return {
    lower: limits.lower === null ? null : edge(limits.lower - spread),
    upper: limits.upper === null ? null : edge(limits.upper + spread),
  };
}

type Uncertainty = { U: number; u: number; effectiveDof: number | null };

function judge(rule: DecisionRule, error: number, limits: Limits, { U, u, effectiveDof }: Uncertainty) {
  switch (rule.kind) {
    case 'simple':
      return { verdict: within(error, limits) ? 'pass' : 'fail', acceptance: limits } as const;
    case 'guard-band': {
      const guard = rule.factor * U;
      const acceptance = drawnIn(limits, guard);
      if (within(error, acceptance)) return { verdict: 'pass', acceptance } as const;
      if (rule.binary) return { verdict: 'fail', acceptance } as const;
      if (within(error, limits)) return { verdict: 'conditional-pass', acceptance } as const;
      const outer = drawnIn(limits, -guard);
      const nearlyInside =
        (outer.lower === null || !atMost(error, outer.lower)) && (outer.upper === null || !atMost(outer.upper, error));
      return { verdict: nearlyInside ? 'conditional-fail' : 'fail', acceptance } as const;
    }
    case 'maximum-false-accept': {
      const risk = 1 - probabilityOfConformity(error, limits, u, effectiveDof);
      return {
        verdict: risk <= rule.probability ? 'pass' : 'fail',
        acceptance: acceptanceForRisk(limits, u, rule.probability, effectiveDof),
      } as const;
    }
  }
}

/**
 * One decision of conformity (JCGM 106, clauses 7–8; ILAC-G8, 4) on a value with its limits, whatever the value is: an error
 * about zero, or a quantity with limits of its own. A ratio below the rule's least one leaves it not determined, unless it is outside by
 * more than its uncertainty.
 * @example decideOn(0.003, { lower: -0.004, upper: 0.004 }, { kind: 'simple' }, { expandedUncertainty: 0.001, coverageFactor: 2 }).verdict // 'pass'
 */
export function decideOn(
  value: number,
  limits: Limits,
  rule: DecisionRule,
  uncertainty: { expandedUncertainty: number; coverageFactor: number; effectiveDof?: number | null | undefined },
): Omit<ConformityResult, 'error'> {
  const { expandedUncertainty: U, coverageFactor, effectiveDof = null } = uncertainty;
  const u = U / coverageFactor;
  const testUncertaintyRatio = ratio(limits, U);
  const { verdict, acceptance } = judge(rule, value, limits, { U, u, effectiveDof });
  const tooUncertain =
    rule.minimumRatio !== undefined && testUncertaintyRatio !== null && !atMost(rule.minimumRatio, testUncertaintyRatio);
  // Too uncertain to accept, yet outside by more than all of it: that is a fail whatever the ratio.
  const untold = isOutsideByMore(value, limits, U) ? 'fail' : 'not-determined';
  return {
    verdict: tooUncertain ? untold : verdict,
    limits,
    acceptance,
    toleranceUsed: toleranceUsed(value, limits),
    testUncertaintyRatio,
    probabilityOfConformity: probabilityOfConformity(value, limits, u, effectiveDof),
  };
}

/** Whether a value lies outside a limit by more than its expanded uncertainty. */
const isOutsideByMore = (value: number, limits: Limits, U: number): boolean => !within(value, drawnIn(limits, -U));

/**
 * One decision on an indication against a reference: the limits apply to the error of indication.
 * @example decideConformity({ reference: 10, indicated: 10.003, tolerance: { kind: 'symmetric', limit: 0.004 }, rule: { kind: 'simple' }, expandedUncertainty: 0.001, coverageFactor: 2 }).verdict // 'pass'
 */
export function decideConformity(question: ConformityQuestion): ConformityResult {
  const { reference, indicated, tolerance, rule } = question;
  const error = errorOfIndication(indicated, reference);
  return { error, ...decideOn(error, toleranceLimits(tolerance, indicated, reference), rule, question) };
}

/** From best to worst, for the verdict of a whole run. */
const severity: Verdict[] = ['pass', 'conditional-pass', 'not-determined', 'conditional-fail', 'fail'];

/**
 * The verdict of a set of points is that of its worst point; null when there are none.
 * @example worstVerdict(['pass', 'fail', 'pass']) // 'fail'
 */
export function worstVerdict(verdicts: readonly Verdict[]): Verdict | null {
  if (verdicts.length === 0) return null;
  return verdicts.reduce((a, b) => (severity.indexOf(b) > severity.indexOf(a) ? b : a));
}
