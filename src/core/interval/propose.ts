import { driftProposal } from './drift-school';
import type { Family } from './family';
import { monthsSinceRenewal } from './family-visits';
import { fixedMonths, fixedProposal } from './fixed';
import { fallbacks, type Policy, type PolicyFor, type PolicyScope } from './policy';
import { monthsInWords, percent, schoolTitles, type Proposal, type SchoolId } from './proposal';
import { checkStanding, quickProposal, type CheckChart } from './quick-checks';
import { reactProposal } from './react';
import { reliabilityProposal } from './reliability-school';
import { proposalByUse, type UseCount } from './use';
import { oneADay, type Visit } from './visit';

/** All that is known of an instrument when its next date is asked for. */
export type KnownOfInstrument = {
  /** Finished calibrations, in any order. */ visits: readonly Visit[];
  /** Months that its own record names; null: none. */ ownMonths: number | null;
  /** What its procedure says. */ procedure: { months?: number | undefined; monthsAfterFail?: number | undefined } | undefined;
  policy: PolicyFor;
  /** Its kin, itself among them. */ family: Family;
  counts: readonly UseCount[];
  /** Quick checks since its last calibration. */ chart: CheckChart;
};

export type Proposals = {
  /** Every school, in one order. */ all: Proposal[];
  /** What is proposed, with why it and not another where that needs a word. */ chosen: Proposal;
  policy: { school: SchoolId; scope: PolicyScope | 'none' };
  /** A quick check gives an alarm: it goes before the policy. */ isAlarm: boolean;
};

/**
 * The next date by every school, and the one that is proposed: the policy's; where that has nothing to go by, its own history, its kin,
 * its last result, fixed months, in this order. A quick check that gives an alarm goes before all.
 * @param from ISO day the months are reckoned from: the last calibration, or today where one is just being finished
 * @example a new instrument of a yearly procedure, reckoned from 2026-05-04, is proposed for 2027-05-04
 */
export function proposeNext(known: KnownOfInstrument, from: string, today: string): Proposals {
  const { policy, scope } = known.policy;
  const visits = oneADay(known.visits);
  const months = fixedMonths(known.ownMonths, policy, known.procedure);
  const since = monthsSinceRenewal(visits);
  const told = new Map<SchoolId, Proposal>(
    [
      fixedProposal(from, months, visits.at(-1)?.isInside ?? null),
      reactProposal(visits, months.months, policy, from),
      driftProposal(visits, policy, from),
      reliabilityProposal(known.family, policy, since, from),
      proposalByUse(known.counts, policy, visits.at(-1)?.day ?? null, from, today),
    ].map((p) => [p.school, p]),
  );
  const order = (first: SchoolId): SchoolId[] => [first, ...fallbacks.filter((s) => s !== first)];
  const speaking = (first: SchoolId): Proposal =>
    order(first)
      .map((s) => told.get(s))
      .find((p) => p?.date)!;
  const heeded = (first: SchoolId): Proposal =>
    heedingUse(heedingDrift(speaking(first), told.get('drift')!, policy), told.get('use')!, told.get('fixed')!);
  const quick = quickProposal(known.chart, heeded(policy.school === 'quick' ? 'drift' : policy.school), policy, from, today);
  told.set('quick', quick);
  const all = [...told.values()].map((p) => withPastSaid(p, today));
  const isAlarm = quick.date !== null && checkStanding(known.chart).state === 'alarm';
  const chosen = withPastSaid(isAlarm ? quick : heeded(policy.school), today);
  const stands = isAlarm || chosen.school === policy.school;
  return {
    all,
    chosen: stands
      ? chosen
      : {
          ...chosen,
          reason: `${chosen.reason} ${schoolTitles[policy.school]}, which the policy names, says nothing yet: ${lowered(told.get(policy.school)!.reason)}`,
        },
    policy: { school: policy.school, scope },
    isAlarm,
  };
}

/** A step by the last result reaches no further than the drift of the instrument allows: it would lengthen what is on its way out. */
const heedingDrift = (wanted: Proposal, drift: Proposal, policy: Policy): Proposal =>
  wanted.school !== 'react' || drift.date === null || drift.date >= wanted.date!
    ? wanted
    : {
        ...wanted,
        date: drift.date,
        months: drift.months,
        reason: `${wanted.reason} Held to ${monthsInWords(drift.months!)}: beyond that its own drift leaves it inside with less than ${percent(policy.target)}. ${drift.reason}`,
      };

/** Where the policy names an amount of use it counts beside the months, those of a fail too: what comes first is due. */
function heedingUse(wanted: Proposal, use: Proposal, fixed: Proposal): Proposal {
  const [beside, why] = wanted.school === 'use' ? [fixed, 'Its months come first.'] : [use, 'Its use comes first.'];
  return beside.date === null || beside.date >= wanted.date!
    ? wanted
    : { ...wanted, date: beside.date, months: beside.months, reason: `${wanted.reason} ${why} ${beside.reason}` };
}

const lowered = (text: string): string => `${text[0]!.toLowerCase()}${text.slice(1)}`;

/** A day that is past is said to be. */
const withPastSaid = (p: Proposal, today: string): Proposal =>
  p.date !== null && p.date < today ? { ...p, reason: `${p.reason} That day is past: it is due now.` } : p;
