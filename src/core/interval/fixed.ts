import type { Policy } from './policy';
import { monthsInWords, type Proposal } from './proposal';
import { dayAfter } from './visit';

/** The months that record, policy and procedure name for an instrument, and whose word it is. */
export type FixedMonths = { months: number; afterFail: number; origin: string };

/** Where nobody says anything. */
const usualMonths = 12;

/**
 * The instrument's own months, else the policy's, else the procedure's; after a fail the shorter that policy or procedure names.
 * @example fixedMonths(null, plainPolicy, { months: 12, monthsAfterFail: 6 }) // { months: 12, afterFail: 6 }
 */
export function fixedMonths(
  own: number | null,
  policy: Policy,
  procedure: { months?: number | undefined; monthsAfterFail?: number | undefined } | undefined,
): FixedMonths {
  const [months, origin] =
    own !== null
      ? [own, "this instrument's record"]
      : policy.months !== null
        ? [policy.months, "the laboratory's policy"]
        : procedure?.months !== undefined
          ? [procedure.months, "the procedure's policy"]
          : [usualMonths, 'common practice'];
  return { months, afterFail: Math.min(months, policy.monthsAfterFail ?? procedure?.monthsAfterFail ?? months), origin };
}

/**
 * The next calibration by fixed months, shorter after a fail (ILAC-G24/OIML D 10, initial choice of intervals).
 * @param isInside as found; null where it was not judged as a whole
 * @example fixedProposal('2026-01-01', { months: 12, afterFail: 6, origin: 'procedure' }, false).date // '2026-07-01'
 */
export function fixedProposal(from: string, { months, afterFail, origin }: FixedMonths, isInside: boolean | null): Proposal {
  const hasFailed = isInside === false;
  const used = hasFailed ? afterFail : months;
  const standing = hasFailed
    ? 'outside its limits as found'
    : isInside === null
      ? 'not judged as a whole'
      : 'inside its limits as found';
  return {
    school: 'fixed',
    date: dayAfter(from, used),
    months: used,
    reason:
      hasFailed && used < months
        ? `${monthsInWords(used)} in place of ${months}: it was outside its limits as found.`
        : `${monthsInWords(used)} by ${origin}; ${standing}.`,
    assumes: 'That this interval suits every instrument it is used for.',
    sure: 'not told: no history is asked',
  };
}
