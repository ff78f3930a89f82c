import { quickNormalCdf } from './normal';
import { driftAfter, filterDrift, type DriftMember, type DriftState, type DriftVisit } from './drift-filter';

export type DriftModel = 'constant' | 'linear' | 'random-walk';
export const driftModels: readonly DriftModel[] = ['constant', 'linear', 'random-walk'];
export const driftModelTitles: Record<DriftModel, string> = {
  constant: 'stays where it is',
  linear: 'moves steadily',
  'random-walk': 'wanders',
};

/** Limits that a prediction is held against, in the unit of the errors; null: that side has none. */
export type DriftLimits = { lower: number | null; upper: number | null };

/** What may be assumed before anything is read: half tolerances in a year. Judged: a rate of two uses a tolerance up in half a year. */
const rates = [0.05, 0.15, 0.5, 1.5];
const walks = [0.04, 0.08, 0.16, 0.32, 0.64];

/** Every way of moving that is weighed, in half tolerances and years; each model is as likely as the others before anything is read. */
const ways: readonly { model: DriftModel; prior: number; rate: number; walk: number }[] = [
  { model: 'constant', prior: 1 / 3, rate: 0, walk: 0 },
  ...rates.map((rate) => ({ model: 'linear' as const, prior: 1 / 3 / rates.length, rate, walk: 0 })),
  ...walks.map((walk) => ({ model: 'random-walk' as const, prior: 1 / 3 / walks.length, rate: 0, walk })),
];

type Weighed = { model: DriftModel; weight: number; member: DriftMember; state: DriftState };

export type DriftFit = {
  /** Half the tolerance, or what stands for it. */ scale: number;
  members: Weighed[];
  /** Probability of each model, given what was read; they sum to 1. */ evidence: Record<DriftModel, number>;
  best: DriftModel;
  /** Readings from one visit to the next that tell of drift. */ steps: number;
};

/** Half the width of limits; of one limit its magnitude; where that is zero, the spread of what was read. */
export function driftScale({ lower, upper }: DriftLimits, visits: readonly DriftVisit[]): number {
  const limit = lower !== null && upper !== null ? (upper - lower) / 2 : Math.abs(upper ?? lower ?? 0);
  if (limit > 0) return limit;
  const spread = Math.max(...visits.map((v) => Math.abs(v.found.value)), ...visits.map((v) => 2 * v.found.standardUncertainty));
  return spread > 0 ? spread : 1;
}

/**
 * Constant, linear and random-walk drift of one result over its visits, weighed by their evidence (MacKay, Information theory,
 * inference, and learning algorithms, chapter 28): each visit with its own uncertainty, adjustments as breaks.
 * @param visits in order of time, times in months @throws RangeError for none
 * @example fitDrift(visits, { lower: -0.004, upper: 0.004 }).best // 'linear'
 */
export function fitDrift(visits: readonly DriftVisit[], limits: DriftLimits): DriftFit {
  if (visits.length === 0) throw new RangeError('A drift cannot be told without a visit.');
  const scale = driftScale(limits, visits);
  const members: Weighed[] = [];
  let most = -Infinity;
  for (const { model, prior, rate, walk } of ways) {
    const member = { rate: (rate * scale) / 12, walk: (walk * scale) / Math.sqrt(12) };
    const state = filterDrift(visits, member, scale);
    members.push({ model, weight: prior, member, state });
    if (state.logEvidence > most) most = state.logEvidence;
  }
  let total = 0;
  for (const m of members) total += m.weight *= Math.exp(m.state.logEvidence - most);
  const evidence = { constant: 0, linear: 0, 'random-walk': 0 };
  for (const m of members) evidence[m.model] += m.weight /= total;
  const best = driftModels.reduce((a, b) => (evidence[b] > evidence[a] ? b : a));
  return { scale, members, evidence, best, steps: visits.length - 1 };
}

/** Probability that the true error is inside limits some months after the last visit, all models taken by their weight. */
export function probabilityInside(fit: DriftFit, limits: DriftLimits, months: number): number {
  let inside = 0;
  for (const { weight, member, state } of fit.members) {
    if (weight < 1e-6) continue;
    const { mean, deviation } = driftAfter(state, member, months);
    inside += weight * insideNormal(mean, deviation, limits);
  }
  return Math.min(1, inside);
}

function insideNormal(mean: number, deviation: number, { lower, upper }: DriftLimits): number {
  if (deviation === 0) return (lower === null || mean >= lower) && (upper === null || mean <= upper) ? 1 : 0;
  const below = lower === null ? 0 : quickNormalCdf((lower - mean) / deviation);
  const above = upper === null ? 0 : quickNormalCdf((mean - upper) / deviation);
  return Math.max(0, 1 - below - above);
}

/** The band that holds the true error with a probability, shared equally between the two sides. */
export function predictionBand(
  fit: DriftFit,
  probability: number,
  months: number,
): { low: number; middle: number; high: number } {
  const parts = fit.members
    .filter((m) => m.weight > 1e-6)
    .map(({ weight, member, state }) => ({ weight, ...driftAfter(state, member, months) }));
  const reach = 9;
  const least = Math.min(...parts.map((p) => p.mean - reach * p.deviation));
  const most = Math.max(...parts.map((p) => p.mean + reach * p.deviation));
  const below = (value: number): number => {
    let sum = 0;
    for (const p of parts)
      sum += p.weight * (p.deviation === 0 ? Number(value >= p.mean) : quickNormalCdf((value - p.mean) / p.deviation));
    return sum;
  };
  const quantile = (q: number): number => {
    let [a, b] = [least, most];
    for (let i = 0; i < 50; i++) {
      const c = (a + b) / 2;
      if (below(c) < q) a = c;
      else b = c;
    }
    return (a + b) / 2;
  };
  return { low: quantile((1 - probability) / 2), middle: quantile(0.5), high: quantile((1 + probability) / 2) };
}

/**
 * Months after the last visit for which the true error stays inside limits with a probability.
 * @returns 0 where it is less likely already; `most` where it stays so for as long as that
 */
export function monthsInside(fit: DriftFit, limits: DriftLimits, probability: number, most: number): number {
  const holds = (months: number) => probabilityInside(fit, limits, months) >= probability;
  if (!holds(0)) return 0;
  // Looked for from the front: an error that drifts out and on through may be likely inside again later.
  const step = most / 24;
  let a = 0;
  while (a < most && holds(Math.min(most, a + step))) a += step;
  if (a >= most) return most;
  let b = Math.min(most, a + step);
  for (let i = 0; i < 12; i++) {
    const c = (a + b) / 2;
    if (holds(c)) a = c;
    else b = c;
  }
  return a;
}
