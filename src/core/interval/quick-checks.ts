import {
  brokenRules,
  defaultRuleSet,
  individualsLimits,
  type ChartLimits,
  type RuleSet,
  type RunRule,
} from '../statistics/control-chart';
import { fitDrift, monthsInside, type DriftLimits } from './drift';
import { bounded, type Policy } from './policy';
import { monthsInWords, percent, silent, type Proposal } from './proposal';
import { dayAfter, monthsBetween } from './visit';

/** One quick check: what a check standard read like, in the unit of the result. */
export type QuickCheck = {
  run: string;
  /** ISO time, and the laboratory's day of it. */ at: string;
  day: string;
  value: number;
  lower: number | null;
  upper: number | null;
};

/** Its own limits are told from this many checks; with fewer there is only the tolerance. */
export const leastForLimits = 8;
/** Limits are told from no more than these, the first since its calibration: what comes later is held against them. */
const mostForLimits = 20;

export type CheckChart = {
  checks: readonly QuickCheck[];
  limits: ChartLimits | null;
  origin: 'stated' | 'history' | 'none';
  alarms: { index: number; rules: (RunRule | 'outside-tolerance')[] }[];
  rules: RuleSet;
};

/**
 * The control chart of quick checks since a calibration: against stated limits, else its own (single values, moving range), and always
 * against the tolerance.
 * @param checks in order of time
 * @example checkChart([]).origin // 'none'
 */
export function checkChart(
  checks: readonly QuickCheck[],
  stated: ChartLimits | null = null,
  rules: RuleSet = defaultRuleSet,
): CheckChart {
  const values = checks.map((c) => c.value);
  const own = values.length >= leastForLimits ? individualsLimits(values.slice(0, mostForLimits)) : null;
  const limits = stated ?? (own && own.sigma > 0 ? own : null);
  const broken = new Map(limits ? brokenRules(values, limits, rules).map((b) => [b.index, b.rules]) : []);
  const alarms = checks.flatMap((c, index): CheckChart['alarms'] => {
    const isOut = (c.lower !== null && c.value < c.lower) || (c.upper !== null && c.value > c.upper);
    const all = [...(isOut ? ['outside-tolerance' as const] : []), ...(broken.get(index) ?? [])];
    return all.length ? [{ index, rules: all }] : [];
  });
  return { checks, limits, origin: stated ? 'stated' : limits ? 'history' : 'none', alarms, rules };
}

export const ruleWords: Record<RunRule | 'outside-tolerance', string> = {
  'outside-tolerance': 'outside its tolerance',
  'beyond-3-sigma': 'more than three standard deviations from the middle',
  'nine-on-one-side': 'the ninth in a row on one side of the middle',
  'six-trending': 'the sixth in a row that goes the same way',
  'fourteen-alternating': 'the fourteenth in a row that goes up and down by turns',
  'two-of-three-beyond-2-sigma': 'the second of three beyond two standard deviations on one side',
  'four-of-five-beyond-1-sigma': 'the fourth of five beyond one standard deviation on one side',
  'fifteen-within-1-sigma': 'the fifteenth in a row within one standard deviation: quieter than it can be',
  'eight-beyond-1-sigma': 'the eighth in a row with none near the middle',
};

export type CheckStanding =
  | { state: 'none' | 'learning' | 'quiet' }
  /** The latest check gives an alarm; what was measured since the last good one is in doubt. */
  | { state: 'alarm'; words: string; lastGood: { at: string; day: string } | null };

/** How the quick checks stand at the latest of them. @example checkStanding(checkChart([])).state // 'none' */
export function checkStanding(chart: CheckChart): CheckStanding {
  const last = chart.checks.length - 1;
  if (last < 0) return { state: 'none' };
  const alarm = chart.alarms.find((r) => r.index === last);
  if (!alarm) return { state: chart.limits ? 'quiet' : 'learning' };
  const alarms = new Set(chart.alarms.map((r) => r.index));
  const good = chart.checks.findLast((_, i) => !alarms.has(i));
  return {
    state: 'alarm',
    words: alarm.rules.map((r) => ruleWords[r]).join('; '),
    lastGood: good ? { at: good.at, day: good.day } : null,
  };
}

/** Checks lengthen an interval by no more than this. */
const mostLonger = 1.5;
/** Only where there are as many since the calibration, and the latest is as many months old at the most. */
const leastToLengthen = 10;
const mostSilence = 1.5;

const assumes = 'That the check standard shows what the rest of the range does, and has not moved itself.';

/**
 * What quick checks make of a date that calendar or history proposed: now where they give an alarm; earlier where they move towards a limit; longer,
 * by half at the most, where many are quiet (ILAC-G24/OIML D 10, in-service checking and control charts).
 */
export function quickProposal(chart: CheckChart, base: Proposal, policy: Policy, from: string, today: string): Proposal {
  const checks = chart.checks.filter((c) => c.day >= from);
  const standing: CheckStanding = checks.length === 0 ? { state: 'none' } : checkStanding(chart);
  const baseMonths = base.months;
  if (standing.state === 'none' || baseMonths === null)
    return silent('quick', 'No quick check has been made since its last calibration.', assumes);
  const sure = `${checks.length} ${checks.length === 1 ? 'check' : 'checks'}; a chart like this gives an alarm by chance once in ${chart.rules.averageRunLength}`;
  if (standing.state === 'alarm')
    return {
      school: 'quick',
      date: today,
      months: Math.max(0, monthsBetween(from, today)),
      reason: `The latest quick check gives an alarm: ${standing.words}. Calibrate it now${standing.lastGood ? `; what was measured since ${standing.lastGood.day} is in doubt` : ''}.`,
      assumes,
      sure,
    };
  const last = checks.at(-1)!;
  const toLimits = monthsToLimits(chart, policy, from);
  if (toLimits?.isMoving && toLimits.months < baseMonths) {
    const months = bounded(toLimits.months, policy);
    return {
      school: 'quick',
      date: dayAfter(from, months),
      months,
      reason: `The quick checks move: with ${percent(policy.target)} they stay inside for ${monthsInWords(months)} from its calibration, in place of ${monthsInWords(baseMonths)}.`,
      assumes,
      sure,
    };
  }
  const age = monthsBetween(last.day, today);
  const isWatched = standing.state === 'quiet' && checks.length >= leastToLengthen && age <= mostSilence;
  const longer = bounded(Math.min(mostLonger * baseMonths, toLimits?.months ?? Infinity), policy);
  if (isWatched && longer > baseMonths)
    return {
      school: 'quick',
      date: dayAfter(from, longer),
      months: longer,
      reason: `${checks.length} quick checks are quiet: ${monthsInWords(longer)} in place of ${monthsInWords(baseMonths)}.`,
      assumes,
      sure,
    };
  return {
    school: 'quick',
    date: base.date,
    months: baseMonths,
    reason: isWatched
      ? `${checks.length} quick checks are quiet; ${monthsInWords(baseMonths)} is the longest already.`
      : `${checks.length} quick ${checks.length === 1 ? 'check says' : 'checks say'} nothing against ${monthsInWords(baseMonths)}: too few, or too long ago, to make it longer.`,
    assumes,
    sure,
  };
}

/** Checks move where less than this of the evidence is for their staying where they are. */
const leastStill = 0.2;

/** Months from a day for which what the checks show stays inside the tolerance, and whether they move; null where they cannot tell. */
function monthsToLimits(chart: CheckChart, policy: Policy, from: string): { months: number; isMoving: boolean } | null {
  const { checks, limits } = chart;
  const last = checks.at(-1)!;
  if (!limits || (last.lower === null && last.upper === null)) return null;
  const tolerance: DriftLimits = { lower: last.lower, upper: last.upper };
  const at = (c: QuickCheck) => monthsBetween(from, c.day);
  const own = { standardUncertainty: limits.sigma, sharedUncertainty: 0 };
  // The latest hundred tell the drift; more would only take longer.
  const recent = checks.slice(-100);
  const fit = fitDrift(
    recent.map((c) => ({ at: at(c), found: { value: c.value, ...own }, left: null, hasNewStandards: false })),
    tolerance,
  );
  return {
    months: at(last) + monthsInside(fit, tolerance, policy.target, 2 * policy.ceiling),
    isMoving: fit.evidence.constant < leastStill,
  };
}
