import { familyMonths, type Family } from './family';
import { leastOutside, priorTime } from './few-data';
import { bounded, type Policy } from './policy';
import { monthsInWords, percent, silent, type Proposal } from './proposal';
import type { SurvivalModel } from './survival';
import { dayAfter } from './visit';

/** With fewer visits of its kin, what is said would be what was assumed. */
export const leastSeen = 8;

export const survivalTitles: Record<SurvivalModel, string> = {
  exponential: 'goes out at the same rate whatever its age (exponential)',
  weibull: 'goes out at a rate that changes with age (Weibull)',
  'random-walk': 'wanders until it is out (random walk)',
};

const assumes = 'That it is like those that it is counted with, and that each was as likely as another to be seen.';

/** The next date by the reliability of its kin: when as many are still inside as the target asks. @param since months since it was put in order, at its last visit */
export function reliabilityProposal(family: Family, policy: Policy, since: number | null, from: string): Proposal {
  if (family.seen < leastSeen)
    return silent(
      'reliability',
      `Similar instruments have been seen again ${family.seen === 1 ? 'once' : `${family.seen} times`} only: at least ${leastSeen} are needed.`,
      assumes,
    );
  const { low, middle, high } = familyMonths(family, since ?? 0);
  const months = bounded(middle, policy);
  const of = `${family.seen} times similar instruments were seen again, ${family.outside} outside`;
  const held = months === middle ? '' : `; the policy's ${months < middle ? 'longest' : 'shortest'} is ${monthsInWords(months)}`;
  const model =
    family.way === 'few'
      ? `Fewer than ${leastOutside} outside: a Weibull with a stated prior (${priorTime[0]} to ${priorTime[1]} months alike)`
      : `Similar instruments ${survivalTitles[family.fit.best.model]}, ${percent(family.fit.evidence[family.fit.best.model])} of the evidence`;
  return {
    school: 'reliability',
    date: dayAfter(from, months),
    months,
    reason: `${percent(family.target)} of similar instruments are still inside after ${monthsInWords(middle)}${held}.`,
    assumes,
    sure: `95 % between ${monthsInWords(low)} and ${monthsInWords(high)}. ${of}. ${model}`,
  };
}
