import { bounded, type Policy } from './policy';
import { monthsInWords, percent, silent, type Proposal } from './proposal';
import { dayAfter, monthsBetween, oneADay, type Visit } from './visit';

/** An interval that was cut short by more than this tells nothing of the whole of it. */
const leastShareOfInterval = 0.75;

const assumes = 'That the next interval will be like the last; it looks at nothing older than its own steps.';

export type Step = { day: string; months: number; what: 'longer' | 'shorter' | 'held-near' | 'held-early' | 'held-unknown' };

/**
 * The staircase (ILAC-G24/OIML D 10, method 1, staircase): inside → longer, outside → shorter, near the limit or
 * called back early → held. Begins at `start` months with the first visit.
 */
export function staircase(visits: readonly Visit[], start: number, policy: Policy): Step[] {
  let months = bounded(start, policy);
  return oneADay(visits).map((visit, i, all) => {
    const elapsed = i === 0 ? null : monthsBetween(all[i - 1]!.day, visit.day);
    const what = verdictOf(visit, elapsed, months, policy);
    if (what === 'longer') months = bounded(months * policy.longer, policy);
    if (what === 'shorter') months = bounded(months * policy.shorter, policy);
    return { day: visit.day, months, what };
  });
}

function verdictOf(visit: Visit, elapsed: number | null, months: number, policy: Policy): Step['what'] {
  if (visit.isInside === false) return 'shorter';
  if (visit.isInside === null || elapsed === null) return 'held-unknown';
  if ((visit.share ?? 0) > policy.holdAbove) return 'held-near';
  return elapsed < leastShareOfInterval * months ? 'held-early' : 'longer';
}

const words: Record<Step['what'], (step: Step, before: number, policy: Policy, visit: Visit) => string> = {
  longer: (s, before, p) =>
    s.months === before
      ? `inside as found; ${monthsInWords(s.months)} is the longest that the policy allows`
      : `inside as found, so ${monthsInWords(before)} × ${p.longer} becomes ${monthsInWords(s.months)}`,
  shorter: (s, before, p) =>
    s.months === before
      ? `outside as found; ${monthsInWords(s.months)} is the shortest that the policy allows`
      : `outside as found, so ${monthsInWords(before)} × ${p.shorter} becomes ${monthsInWords(s.months)}`,
  'held-near': (s, _b, p, v) =>
    `inside, but ${percent(v.share!)} of the tolerance was used (more than ${percent(p.holdAbove)}): ${monthsInWords(s.months)} is held`,
  'held-early': (s) => `inside, but it came back before its interval was over: ${monthsInWords(s.months)} is held`,
  'held-unknown': (s) => `nothing yet to step by: ${monthsInWords(s.months)} is held`,
};

/** The next date by the staircase. @param start months of the first interval @param from ISO day it is reckoned from */
export function reactProposal(visits: readonly Visit[], start: number, policy: Policy, from: string): Proposal {
  const steps = staircase(visits, start, policy);
  const last = steps.at(-1);
  if (!last) return silent('react', 'It has not been calibrated here: there is no result to react to.', assumes);
  const before = steps.at(-2)?.months ?? bounded(start, policy);
  const said = words[last.what](last, before, policy, oneADay(visits).at(-1)!);
  return {
    school: 'react',
    date: dayAfter(from, last.months),
    months: last.months,
    reason: `${said[0]!.toUpperCase()}${said.slice(1)}.`,
    assumes,
    sure: `rests on ${steps.length} ${steps.length === 1 ? 'result' : 'results'}, one at a time`,
  };
}
