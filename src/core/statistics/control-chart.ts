import { mean } from './moments';

export type ChartLimits = { centre: number; sigma: number };

export type RunRule =
  | 'beyond-3-sigma'
  | 'nine-on-one-side'
  | 'six-trending'
  | 'fourteen-alternating'
  | 'two-of-three-beyond-2-sigma'
  | 'four-of-five-beyond-1-sigma'
  | 'fifteen-within-1-sigma'
  | 'eight-beyond-1-sigma';

/**
 * Limits of a chart of single values from their moving ranges: σ = mean range / 1.128 (ISO 7870-2, individuals chart).
 * @example individualsLimits([1, 2, 1, 2]).sigma // 0.886227
 */
export function individualsLimits(values: readonly number[]): ChartLimits {
  if (values.length < 2) throw new RangeError('Chart limits need at least two values.');
  const ranges = values.slice(1).map((v, i) => Math.abs(v - values[i]!));
  return { centre: mean(values), sigma: mean(ranges) / 1.128379167 };
}

/** The eight run rules of ISO 7870-2, annex A (after Nelson 1984): for each the indices of the points that complete it. */
export function runRules(values: readonly number[], { centre, sigma }: ChartLimits): Record<RunRule, number[]> {
  const z = values.map((v) => (sigma === 0 ? (v === centre ? 0 : Math.sign(v - centre) * Infinity) : (v - centre) / sigma));
  const ends = (length: number, holds: (window: number[]) => boolean) =>
    z.flatMap((_, i) => (i >= length - 1 && holds(z.slice(i - length + 1, i + 1)) ? [i] : []));
  const bothSides = (window: number[], beyond: number, count: number) =>
    [1, -1].some((side) => window.filter((v) => v * side > beyond).length >= count);
  const steps = (window: number[]) => window.slice(1).map((v, i) => Math.sign(v - window[i]!));
  return {
    'beyond-3-sigma': ends(1, ([v]) => Math.abs(v!) > 3),
    'nine-on-one-side': ends(9, (w) => bothSides(w, 0, 9)),
    'six-trending': ends(6, (w) => steps(w).every((s) => s === 1) || steps(w).every((s) => s === -1)),
    'fourteen-alternating': ends(14, (w) => steps(w).every((s, i, all) => s !== 0 && (i === 0 || s === -all[i - 1]!))),
    'two-of-three-beyond-2-sigma': ends(3, (w) => bothSides(w, 2, 2)),
    'four-of-five-beyond-1-sigma': ends(5, (w) => bothSides(w, 1, 4)),
    'fifteen-within-1-sigma': ends(15, (w) => w.every((v) => Math.abs(v) < 1)),
    'eight-beyond-1-sigma': ends(8, (w) => w.every((v) => Math.abs(v) > 1)),
  };
}

export type RuleSet = {
  id: 'limits' | 'limits-and-shift' | 'limits-and-zones' | 'all-eight';
  title: string;
  rules: readonly RunRule[];
  /** Points between false alarms, on average, while nothing has changed (normal and independent; 20 000 simulated charts). */
  averageRunLength: number;
};

/** Rules that are watched together. Every rule added finds more and cries wolf more often: a chart of daily checks on all eight gives an alarm every eleven weeks. */
export const ruleSets: readonly RuleSet[] = [
  { id: 'limits', title: 'A point beyond 3 σ', rules: ['beyond-3-sigma'], averageRunLength: 370 },
  {
    id: 'limits-and-shift',
    title: 'The same, and nine points on one side',
    rules: ['beyond-3-sigma', 'nine-on-one-side'],
    averageRunLength: 217,
  },
  {
    id: 'limits-and-zones',
    title: 'The same, and runs beyond 1 σ and 2 σ',
    rules: ['beyond-3-sigma', 'nine-on-one-side', 'two-of-three-beyond-2-sigma', 'four-of-five-beyond-1-sigma'],
    averageRunLength: 109,
  },
  {
    id: 'all-eight',
    title: 'All eight rules',
    rules: [
      'beyond-3-sigma',
      'nine-on-one-side',
      'six-trending',
      'fourteen-alternating',
      'two-of-three-beyond-2-sigma',
      'four-of-five-beyond-1-sigma',
      'fifteen-within-1-sigma',
      'eight-beyond-1-sigma',
    ],
    averageRunLength: 74,
  },
];

/** What a chart watches unless told otherwise: the set that is quiet for longest. */
export const defaultRuleSet: RuleSet = ruleSets[0]!;

/**
 * The points that break a rule of a set, in order, each with the rules it completes.
 * @example brokenRules([0, 3.5], { centre: 0, sigma: 1 }) // [{ index: 1, rules: ['beyond-3-sigma'] }]
 */
export function brokenRules(
  values: readonly number[],
  limits: ChartLimits,
  set: RuleSet = defaultRuleSet,
): { index: number; rules: RunRule[] }[] {
  const found = runRules(values, limits);
  return values.flatMap((_, index) => {
    const rules = set.rules.filter((rule) => found[rule].includes(index));
    return rules.length ? [{ index, rules }] : [];
  });
}

export type EwmaPoint = { value: number; lower: number; upper: number; isOutside: boolean };

/** Exponentially weighted moving average with its widening limits (Roberts 1959; ISO 7870-6). */
export function ewmaChart(values: readonly number[], { centre, sigma }: ChartLimits, weight = 0.2, width = 3): EwmaPoint[] {
  if (!(weight > 0 && weight <= 1)) throw new RangeError('The weight of an EWMA chart lies between 0 and 1.');
  let average = centre;
  return values.map((v, i) => {
    average = weight * v + (1 - weight) * average;
    const half = width * sigma * Math.sqrt((weight / (2 - weight)) * (1 - (1 - weight) ** (2 * (i + 1))));
    return { value: average, lower: centre - half, upper: centre + half, isOutside: Math.abs(average - centre) > half };
  });
}

/**
 * Autocorrelation of a stream of readings at lags 1 … `lags`. Beyond ±2/√n the readings are not independent, and s/√n is too small.
 * @throws RangeError with too few readings for the lags; returns zeros for a constant stream
 */
export function autocorrelation(values: readonly number[], lags = 10): { coefficients: number[]; bound: number } {
  if (values.length < lags + 2) throw new RangeError(`Autocorrelation at ${lags} lags needs at least ${lags + 2} readings.`);
  const centre = mean(values);
  const total = values.reduce((s, v) => s + (v - centre) ** 2, 0);
  const at = (lag: number) =>
    total === 0 ? 0 : values.slice(lag).reduce((s, v, i) => s + (v - centre) * (values[i]! - centre), 0) / total;
  return { coefficients: Array.from({ length: lags }, (_, i) => at(i + 1)), bound: 2 / Math.sqrt(values.length) };
}
