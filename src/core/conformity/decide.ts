import normalCdf from '@stdlib/stats-base-dists-normal-cdf';
import type { ConformityQuestion, DecisionRule } from './conformity-schema';
import { toleranceLimits, type Limits } from './tolerance';

export type Verdict = 'pass' | 'conditional-pass' | 'conditional-fail' | 'fail' | 'not-determined';

export type ConformityResult = {
  error: number;
  verdict: Verdict;
  limits: Limits;
  /** Limits for the measured error inside which the rule accepts; both null when the rule can accept nothing. */
  acceptance: Limits;
  /** |error| over the limit on its side; null when that side has no limit, or a limit of zero. */
  toleranceUsed: number | null;
  /** Half the tolerance width over U (one-sided: the limit's magnitude over U); null when U is zero. */
  testUncertaintyRatio: number | null;
  /** Probability that the true error lies within the limits: normal, flat prior, u = U/k (JCGM 106, 7.2). */
  probabilityOfConformity: number;
};

/** indicated − reference without the binary noise of subtracting two near numbers: 2.523 − 2.503 is 0.02. */
export function errorOfIndication(indicated: number, reference: number): number {
  const difference = indicated - reference;
  const step = Math.max(Math.abs(indicated), Math.abs(reference)) * Number.EPSILON * 4;
  if (difference === 0 || step === 0) return difference;
  const digits = Math.floor(Math.log10(Math.abs(difference) / step));
  return digits < 1 ? difference : Number(difference.toPrecision(Math.min(16, Math.max(1, digits))));
}

/** Probability that the true error is within the limits, given the measured one. */
export function probabilityOfConformity(error: number, limits: Limits, u: number): number {
  const lower = limits.lower ?? -Infinity;
  const upper = limits.upper ?? Infinity;
  if (u === 0) return error >= lower && error <= upper ? 1 : 0;
  // Both tails from their own side, so that a probability near 1 keeps its digits.
  const above = upper === Infinity ? 0 : normalCdf((error - upper) / u, 0, 1);
  const below = lower === -Infinity ? 0 : normalCdf((lower - error) / u, 0, 1);
  return Math.min(1, Math.max(0, 1 - above - below));
}

const within = (error: number, limits: Limits): boolean =>
  (limits.lower === null || error >= limits.lower) && (limits.upper === null || error <= limits.upper);

const drawnIn = (limits: Limits, by: number): Limits => ({
  lower: limits.lower === null ? null : limits.lower + by,
  upper: limits.upper === null ? null : limits.upper - by,
});

function ratio(limits: Limits, U: number): number | null {
  if (U === 0) return null;
  if (limits.lower !== null && limits.upper !== null) return (limits.upper - limits.lower) / 2 / U;
  return Math.abs((limits.upper ?? limits.lower)!) / U;
}

/** The measured errors for which the specific risk stays at most `risk`. */
function acceptanceForRisk(limits: Limits, u: number, risk: number): Limits {
  const acceptable = (error: number) => 1 - probabilityOfConformity(error, limits, u) <= risk;
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

function judge(
  rule: DecisionRule,
  error: number,
  limits: Limits,
  U: number,
  u: number,
): { verdict: Verdict; acceptance: Limits } {
  switch (rule.kind) {
    case 'simple': {
      const tur = ratio(limits, U);
      if (rule.minimumRatio !== undefined && tur !== null && tur < rule.minimumRatio)
        return { verdict: 'not-determined', acceptance: limits };
      return { verdict: within(error, limits) ? 'pass' : 'fail', acceptance: limits };
    }
    case 'guard-band': {
      const guard = rule.factor * U;
      const acceptance = drawnIn(limits, guard);
      if (within(error, acceptance)) return { verdict: 'pass', acceptance };
      if (rule.binary) return { verdict: 'fail', acceptance };
      if (within(error, limits)) return { verdict: 'conditional-pass', acceptance };
      const outer = drawnIn(limits, -guard);
      const nearlyInside = (outer.lower === null || error > outer.lower) && (outer.upper === null || error < outer.upper);
      return { verdict: nearlyInside ? 'conditional-fail' : 'fail', acceptance };
    }
    case 'maximum-false-accept': {
      const risk = 1 - probabilityOfConformity(error, limits, u);
      return { verdict: risk <= rule.probability ? 'pass' : 'fail', acceptance: acceptanceForRisk(limits, u, rule.probability) };
    }
  }
}

/**
 * One decision of conformity (JCGM 106, clauses 7–8; ILAC-G8, 4). The limits apply to the error of indication.
 */
export function decideConformity(question: ConformityQuestion): ConformityResult {
  const { reference, indicated, expandedUncertainty: U, coverageFactor, tolerance, rule } = question;
  const error = errorOfIndication(indicated, reference);
  const u = U / coverageFactor;
  const limits = toleranceLimits(tolerance, indicated);
  const onSide = error >= 0 ? limits.upper : limits.lower;
  return {
    error,
    ...judge(rule, error, limits, U, u),
    limits,
    toleranceUsed: onSide === null || onSide === 0 ? null : Math.abs(error) / Math.abs(onSide),
    testUncertaintyRatio: ratio(limits, U),
    probabilityOfConformity: probabilityOfConformity(error, limits, u),
  };
}

/** From best to worst, for the verdict of a whole run. */
const severity: Verdict[] = ['pass', 'conditional-pass', 'not-determined', 'conditional-fail', 'fail'];

/** The verdict of a set of points is that of its worst point; null when there are none. */
export function worstVerdict(verdicts: readonly Verdict[]): Verdict | null {
  if (verdicts.length === 0) return null;
  return verdicts.reduce((a, b) => (severity.indexOf(b) > severity.indexOf(a) ? b : a));
}
