import { bounded, type Policy } from './policy';
import { monthsInWords, silent, type Proposal } from './proposal';
import { dayAfter, monthsBetween } from './visit';

/** What a counter showed on a day: hours or cycles since the instrument was new. */
export type UseCount = { day: string; count: number };

export const useUnits: Record<'h' | 'cycles', string> = { h: 'h', cycles: 'cycles' };

const assumes = 'That it wears by use alone, and will be used as much as lately.';

/** Use in a month, over what was counted last: a year at the most; null where less than two counts on different days tell it. */
export function monthlyUse(counts: readonly UseCount[]): number | null {
  const ordered = [...counts].sort((a, b) => a.day.localeCompare(b.day));
  const last = ordered.at(-1);
  if (!last) return null;
  const first =
    ordered.find((c) => monthsBetween(c.day, last.day) <= 12 && c.day < last.day) ?? ordered.findLast((c) => c.day < last.day);
  if (!first) return null;
  return Math.max(0, last.count - first.count) / monthsBetween(first.day, last.day);
}

/** The counter on a day: between two counts in proportion, before the first and after the last as they are. */
export function countOn(counts: readonly UseCount[], day: string): number | null {
  const ordered = [...counts].sort((a, b) => a.day.localeCompare(b.day));
  const before = ordered.findLast((c) => c.day <= day);
  const after = ordered.find((c) => c.day >= day);
  if (!before || !after) return (before ?? after)?.count ?? null;
  const whole = monthsBetween(before.day, after.day);
  return whole === 0 ? before.count : before.count + ((after.count - before.count) * monthsBetween(before.day, day)) / whole;
}

/** The next date by use: when as much has been used since the last calibration as the policy allows (ILAC-G24/OIML D 10, in-use time). */
export function proposalByUse(
  counts: readonly UseCount[],
  policy: Policy,
  lastCalibrated: string | null,
  from: string,
): Proposal {
  if (!policy.use) return silent('use', 'The policy names no amount of use for it.', assumes);
  const { unit, most } = policy.use;
  const monthly = monthlyUse(counts);
  if (lastCalibrated === null || monthly === null)
    return silent('use', `Its counter has been noted on fewer than two days: how much it is used cannot be told.`, assumes);
  const [then, now] = [countOn(counts, lastCalibrated)!, countOn(counts, from)!];
  const used = Math.max(0, now - then);
  const amount = (n: number) => `${Number(n.toPrecision(3))} ${useUnits[unit]}`;
  const lateBy = used >= most;
  const months = bounded(lateBy ? 0 : monthly === 0 ? Infinity : (most - used) / monthly, policy);
  const reversed = [...counts]
    .sort((a, b) => a.day.localeCompare(b.day))
    .some((c, i, all) => i > 0 && c.count < all[i - 1]!.count);
  return {
    school: 'use',
    date: dayAfter(from, months),
    months,
    reason: lateBy
      ? `It has been used for ${amount(used)} since its last calibration; ${amount(most)} are allowed.`
      : `${amount(most - used)} of ${amount(most)} are left, and it is used for ${amount(monthly)} a month: ${monthsInWords(months)}.`,
    assumes,
    sure: `${counts.length} counts${reversed ? '; one is lower than the one before it: look at the counter' : ''}`,
  };
}
