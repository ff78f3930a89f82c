import chiSquareCdf from '@stdlib/stats-base-dists-chisquare-cdf';
import { cellsOf, leftWithin, outcomesOf, type Cell, type Outcome } from './family-visits';
import { fewMonths, fewShare, fitFewData, leastOutside, type Weighted } from './few-data';
import { dropAt95, fitReliability, logLikelihood, type ReliabilityFit } from './reliability-fit';
import { monthsUntil, shareInside, shareStillInside, type Survival } from './survival';
import type { Visit } from './visit';

/** One instrument of a family and what its visits were. */
export type Member = { id: string; visits: readonly Pick<Visit, 'day' | 'isInside' | 'isRenewed' | 'share'>[] };

export type Range = { low: number; middle: number; high: number };

/** What is known of how long instruments of a family stay inside. */
export type Family = {
  target: number;
  members: { id: string; outcomes: Outcome[] }[];
  cells: Cell[];
  /** What those left as they were are known to be within. */ within: number;
  seen: number;
  outside: number;
} & ({ way: 'likelihood'; fit: ReliabilityFit } | { way: 'few'; few: Weighted });

/**
 * The family of some instruments: by maximum likelihood, or with a stated prior where few were seen outside.
 * @example familyOf([{ id: 'a', visits }], 0.95).members.length // 1
 */
export function familyOf(members: readonly Member[], target: number): Family {
  const told = members.map(({ id, visits }) => ({ id, outcomes: outcomesOf(visits) }));
  const outcomes = told.flatMap((m) => m.outcomes);
  const cells = cellsOf(outcomes);
  const outside = outcomes.filter((o) => !o.isInside).length;
  const within = leftWithin(members.map((m) => m.visits));
  const same = { target, members: told, cells, within, seen: outcomes.length, outside };
  return outside < leastOutside
    ? { ...same, way: 'few', few: fitFewData(cells, target) }
    : { ...same, way: 'likelihood', fit: fitReliability(cells, target, within) };
}

/** What was worked out of few data, by the target and the age. */
const fewKnown = new WeakMap<Weighted, Map<string, Range>>();

/** Ages are told to a quarter of a month: thousands of one family ask. */
function fewMonthsOf(few: Weighted, target: number, since: number): Range {
  const age = Math.round(4 * since) / 4;
  const known = fewKnown.get(few) ?? new Map<string, Range>();
  fewKnown.set(few, known);
  const key = `${target} ${age}`;
  if (!known.has(key)) known.set(key, fewMonths(few, target, age));
  return known.get(key)!;
}

/**
 * Months at the family's target, of those last seen inside `since` months after being put in order; 95 % between low and high.
 * @example familyMonths(familyOf([{ id: 'a', visits }], 0.95)).low // 1.10512
 */
export function familyMonths(family: Family, since = 0): Range {
  if (family.way === 'few') return fewMonthsOf(family.few, family.target, since);
  const { best, low, high } = family.fit;
  const middle = monthsUntil(best, family.target, since);
  // What is still to come is as uncertain as the whole.
  return since === 0 ? { low, middle, high } : { low: middle * (low / best.time), middle, high: middle * (high / best.time) };
}

/**
 * The curve that stands for a family, of each of a few: the most likely, or the one in the middle of what is believed.
 * @example middleCurve(familyOf([{ id: 'a', visits }], 0.95)).target // 0.95
 */
export function middleCurve(family: Family): Survival {
  if (family.way === 'likelihood') return family.fit.best;
  const { curves, weights } = family.few;
  const mean = (of: (c: Survival) => number) => curves.reduce((sum, c, i) => sum + weights[i]! * of(c), 0);
  return {
    model: 'weibull',
    target: family.target,
    time: Math.exp(mean((c) => Math.log(c.time))),
    shape: Math.exp(mean((c) => Math.log(c.shape))),
  };
}

/** Curves that the data do not contradict: those whose likelihood is within the 95 % drop, on a grid around the best. */
function acceptedCurves(
  { best, low, high, logLikelihood: most }: ReliabilityFit,
  cells: readonly Cell[],
  within: number,
): Survival[] {
  const shapes =
    best.model === 'exponential'
      ? [1]
      : best.model === 'weibull'
        ? Array.from({ length: 21 }, (_, i) => best.shape * Math.exp((i - 10) * 0.1))
        : Array.from({ length: 19 }, (_, i) => Math.min(0.9, i * 0.05));
  const times = Array.from({ length: 25 }, (_, i) => low * (high / low) ** (i / 24));
  const accepted = times
    .flatMap((time) => shapes.map((shape) => ({ ...best, time, shape })))
    .filter((s) => logLikelihood(s, cells, within) >= most - dropAt95);
  return [best, ...accepted];
}

/**
 * The share inside at some months, with its 95 % band: of each month the least and greatest of all curves that are not contradicted.
 * @example familyBand(familyOf([{ id: 'a', visits }], 0.95), [12])[0].months // 12
 */
export function familyBand(family: Family, months: readonly number[]): (Range & { months: number })[] {
  if (family.way === 'few') return months.map((m) => ({ months: m, ...fewShare(family.few, m) }));
  const accepted = acceptedCurves(family.fit, family.cells, family.within);
  return months.map((m) => {
    const values = accepted.map((s) => shareInside(s, m));
    return { months: m, low: Math.min(...values), middle: shareInside(family.fit.best, m), high: Math.max(...values) };
  });
}

export type GoodnessOfFit = { statistic: number; dof: number; probability: number };

/** A group is compared only where this many are expected outside, and inside. */
const leastExpected = 5;

/**
 * Whether the curve fits: those seen outside against those expected, by months since being put in order (Pearson's χ²).
 * @returns null where there are too few groups to compare
 * @example goodnessOfFit(familyOf([{ id: 'a', visits }], 0.95)) // null
 */
export function goodnessOfFit(family: Family): GoodnessOfFit | null {
  if (family.way === 'few') return null;
  const { best } = family.fit;
  const parameters = best.model === 'exponential' ? 1 : 2;
  const groups: { seen: number; outside: number; expected: number }[] = [];
  let group = { seen: 0, outside: 0, expected: 0 };
  for (const c of [...family.cells].sort((a, b) => a.until - b.until)) {
    const seen = c.inside + c.outside;
    group.seen += seen;
    group.outside += c.outside;
    group.expected += seen * (1 - shareStillInside(best, c.since, c.until, family.within));
    // No more than ten groups, each of a tenth of all at least.
    if (group.seen >= family.seen / 10 && group.expected >= leastExpected && group.seen - group.expected >= leastExpected) {
      groups.push(group);
      group = { seen: 0, outside: 0, expected: 0 };
    }
  }
  const last = groups.at(-1);
  if (last && group.seen > 0) {
    last.seen += group.seen;
    last.outside += group.outside;
    last.expected += group.expected;
  }
  const dof = groups.length - parameters;
  if (dof < 1) return null;
  const statistic = groups.reduce((sum, g) => {
    const variance = g.expected * (1 - g.expected / g.seen);
    return sum + (g.outside - g.expected) ** 2 / variance;
  }, 0);
  return { statistic, dof, probability: 1 - chiSquareCdf(statistic, dof) };
}

export type FamilyOutlier = {
  id: string;
  kind: 'bad' | 'good';
  seen: number;
  outside: number;
  expected: number;
  probability: number;
};

/** One in a hundred families of instruments that are all alike has one named by chance. */
const namedBelow = 0.01;

/** The probability of each number outside, of independent visits with a probability each. */
function chancesOf(probabilities: readonly number[]): number[] {
  let chances = [1];
  for (const p of probabilities) {
    const next = Array.from({ length: chances.length + 1 }, () => 0);
    chances.forEach((c, k) => {
      next[k]! += c * (1 - p);
      next[k + 1]! += c * p;
    });
    chances = next;
  }
  return chances;
}

/**
 * Instruments that are outside far more often, or far less, than the rest of their family would be at the same visits: the chance of as
 * many or more (as few or fewer) outside, for as many instruments as there are (Bonferroni).
 * @example outliersOf(familyOf([{ id: 'a', visits }], 0.95)) // []
 */
export function outliersOf(family: Family): FamilyOutlier[] {
  const curve = middleCurve(family);
  const told = family.members.filter((m) => m.outcomes.length > 0);
  return told
    .flatMap(({ id, outcomes }): FamilyOutlier[] => {
      const probabilities = outcomes.map((o) => 1 - shareStillInside(curve, o.since, o.until, family.within));
      const outside = outcomes.filter((o) => !o.isInside).length;
      const expected = probabilities.reduce((a, b) => a + b, 0);
      const chances = chancesOf(probabilities);
      const many = chances.slice(outside).reduce((a, b) => a + b, 0);
      const few = chances.slice(0, outside + 1).reduce((a, b) => a + b, 0);
      const probability = Math.min(1, told.length * Math.min(many, few));
      return probability < namedBelow
        ? [{ id, kind: many < few ? 'bad' : 'good', seen: outcomes.length, outside, expected, probability }]
        : [];
    })
    .sort((a, b) => a.probability - b.probability);
}

/** What a target costs a family in a year. */
export type TargetCost = { target: number; months: number; calibrations: number; outside: number; cost: number | null };

/**
 * Calibrations and results outside to be expected in a year, if every member came at the months that a target gives.
 * @example targetCost(middleCurve(familyOf([{ id: 'a', visits }], 0.95)), 1, 0.95, null, { floor: 1, ceiling: 60 }).months // 5.06465
 */
export function targetCost(
  curve: Survival,
  members: number,
  target: number,
  price: number | null,
  bounds: { floor: number; ceiling: number },
): TargetCost {
  const months = Math.min(bounds.ceiling, Math.max(bounds.floor, monthsUntil(curve, target)));
  const calibrations = (12 * members) / months;
  return {
    target,
    months,
    calibrations,
    outside: calibrations * (1 - shareInside(curve, months)),
    cost: price === null ? null : price * calibrations,
  };
}
