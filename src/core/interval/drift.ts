import { quickNormalCdf } from './normal';
import { driftAfter, filterDrift, type DriftMember, type DriftState, type DriftVisit } from './drift-filter';

export type DriftModel = 'constant' | 'linear' | 'random-walk' | 'linear-and-walk';
export const driftModels: readonly DriftModel[] = ['constant', 'linear', 'random-walk', 'linear-and-walk'];
export const driftModelTitles: Record<DriftModel, string> = {
  constant: 'stays where it is',
  linear: 'moves steadily',
  'random-walk': 'wanders',
  'linear-and-walk': 'moves and wanders',
};

/** Limits that a prediction is held against, in the unit of the errors; null: that side has none. */
export type DriftLimits = { lower: number | null; upper: number | null };

/** What may be assumed before anything is read: half tolerances in a year. Judged: a rate of two uses a tolerance up in half a year. */
const rates = [0.1, 0.4, 1.2];
const walks = [0.15, 0.3, 0.6];

/**
 * How likely each model is before anything is read. Judged: most things move and wander; whoever takes the simple ways for as
 * likely promises them too much (measured by the bench of dates).
 */
const priors: Record<DriftModel, number> = { constant: 0.1, linear: 0.15, 'random-walk': 0.15, 'linear-and-walk': 0.6 };

/** What may be assumed of the scatter of readings that state no uncertainty, in half tolerances. Judged: from a fiftieth to a quarter. */
const noises = [0.02, 0.08, 0.25];

type Way = { model: DriftModel; rate: number; walk: number };
/** Every way of moving that is weighed, in half tolerances and years; those of one model are alike before anything is read. */
const ways: readonly Way[] = [
  { model: 'constant', rate: 0, walk: 0 },
  ...rates.map((rate): Way => ({ model: 'linear', rate, walk: 0 })),
  ...walks.map((walk): Way => ({ model: 'random-walk', rate: 0, walk })),
  ...rates.flatMap((rate) => walks.map((walk): Way => ({ model: 'linear-and-walk', rate, walk }))),
];

type Weighed = { model: DriftModel; weight: number; member: DriftMember; state: DriftState };

export type DriftFit = {
  /** Half the tolerance, or what stands for it. */ scale: number;
  members: Weighed[];
  /** What the readings alone say for each model, all taken for alike before; they sum to 1. */ evidence: Record<
    DriftModel,
    number
  >;
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

/** What was read at one time counts once: as found first, as left last. */
const oneAtATime = (visits: readonly DriftVisit[]): readonly DriftVisit[] =>
  visits.every((v, i) => i === 0 || visits[i - 1]!.at < v.at)
    ? visits
    : visits.reduce<DriftVisit[]>((all, visit) => {
        const before = all.at(-1);
        if (before?.at !== visit.at) return [...all, visit];
        return [...all.slice(0, -1), { ...before, left: visit.left ?? before.left }];
      }, []);

/**
 * Constant, linear and random-walk drift of one result over its visits, and both together, weighed by their evidence (MacKay, Information theory,
 * inference, and learning algorithms, chapter 28): each visit with its own uncertainty, adjustments as breaks. Readings
 * that state no uncertainty scatter by an amount that is weighed as well.
 * @param readings in order of time, times in months; those of one day count once @throws RangeError for none
 * @example of visits that go up by the same each year `best` is 'linear'
 */
export function fitDrift(readings: readonly DriftVisit[], limits: DriftLimits): DriftFit {
  const visits = oneAtATime(readings);
  if (visits.length === 0) throw new RangeError('A drift cannot be told without a visit.');
  const scale = driftScale(limits, visits);
  const members: Weighed[] = [];
  const scatters = visits.some((v) => !(v.found.standardUncertainty > 0)) ? noises : [0];
  for (const { model, rate, walk } of ways)
    for (const noise of scatters) {
      const member = { rate: (rate * scale) / 12, walk: (walk * scale) / Math.sqrt(12), noise: noise * scale };
      members.push({ model, weight: 0, member, state: filterDrift(visits, member, scale) });
    }
  const most = Math.max(...members.map((m) => m.state.logEvidence));
  const evidence = { constant: 0, linear: 0, 'random-walk': 0, 'linear-and-walk': 0 };
  const alike = { constant: 0, linear: 0, 'random-walk': 0, 'linear-and-walk': 0 };
  for (const { model } of members) alike[model]++;
  let total = 0;
  for (const m of members) {
    const likelihood = Math.exp(m.state.logEvidence - most) / alike[m.model];
    evidence[m.model] += likelihood;
    total += m.weight = priors[m.model] * likelihood;
  }
  for (const m of members) m.weight /= total;
  const all = driftModels.reduce((sum, m) => sum + evidence[m], 0);
  for (const m of driftModels) evidence[m] /= all;
  const best = driftModels.reduce((a, b) => (evidence[b] > evidence[a] ? b : a));
  return { scale, members, evidence, best, steps: visits.length - 1 };
}

/**
 * Probability that the true error is inside limits some months after the last visit, all models taken by their weight.
 * @example probabilityInside(drift, { lower: -0.004, upper: 0.004 }, 0) // 0.99983
 */
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

/**
 * The band that holds the true error with a probability, shared equally between the two sides.
 * @example predictionBand(drift, 0.95, 12).middle // 0.003655
 */
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
 * @example monthsInside(drift, { lower: -0.004, upper: 0.004 }, 0.95, 60) // 2.4939
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
