import { bounded, type Policy } from './policy';
import { plainDecimal } from '../quantity/rounding';
import { silent, type Proposal } from './proposal';
import { dayAfter, monthsBetween } from './visit';

/** What a counter showed on a day: hours or cycles since the instrument was new. */
export type UseCount = { day: string; count: number };

export const useUnits: Record<'h' | 'cycles', string> = { h: 'h', cycles: 'cycles' };

/** Hours between two instants, to a tenth; none where the second is earlier. @example hoursBetween('2026-05-04T08:00Z', '2026-05-04T14:10Z') // 6.2 */
export const hoursBetween = (from: string, to: string): number =>
  Math.max(0, Math.round((Date.parse(to) - Date.parse(from)) / 360_000) / 10);

const assumes = 'That it wears by use alone, and will be used as much as lately.';

/** Counts in order of their days; a counter that fell was set back or exchanged, and counts from there. */
function sinceSetBack(counts: readonly UseCount[]): UseCount[] {
  const ordered = [...counts].sort((a, b) => a.day.localeCompare(b.day));
  const fall = ordered.findLastIndex((c, i) => i > 0 && c.count < ordered[i - 1]!.count);
  return fall < 0 ? ordered : ordered.slice(fall);
}

/** Use in a month, over what was counted last: a year at the most; null where less than two counts on different days tell it. */
export function monthlyUse(counts: readonly UseCount[]): number | null {
  const ordered = sinceSetBack(counts);
  const last = ordered.at(-1);
  if (!last) return null;
  const first =
    ordered.find((c) => monthsBetween(c.day, last.day) <= 12 && c.day < last.day) ?? ordered.findLast((c) => c.day < last.day);
  if (!first) return null;
  return Math.max(0, last.count - first.count) / monthsBetween(first.day, last.day);
}

/** The counter on a day: between two counts in proportion, before the first and after the last as they are. */
export function countOn(counts: readonly UseCount[], day: string): number | null {
  const ordered = sinceSetBack(counts);
  const before = ordered.findLast((c) => c.day <= day);
  const after = ordered.find((c) => c.day >= day);
  if (!before || !after) return (before ?? after)?.count ?? null;
  const whole = monthsBetween(before.day, after.day);
  return whole === 0 ? before.count : before.count + ((after.count - before.count) * monthsBetween(before.day, day)) / whole;
}

/**
 * The next date by use: when as much has been used since the last calibration as the policy allows (ILAC-G24/OIML D 10, in-use time).
 * @param from ISO day that months are reckoned from @param today ISO day up to which use is known
 */
export function proposalByUse(
  counts: readonly UseCount[],
  policy: Policy,
  lastCalibrated: string | null,
  from: string,
  today: string,
): Proposal {
  if (!policy.use) return silent('use', 'The policy names no amount of use for it.', assumes);
  const { unit, most } = policy.use;
  const monthly = monthlyUse(counts);
  if (lastCalibrated === null || monthly === null) {
    const setBack = sinceSetBack(counts);
    return silent(
      'use',
      setBack.length > 0 && setBack.length < counts.length
        ? `Its counter fell on ${setBack[0]!.day}: two counts since then tell how much it is used. If it was not set back, look at the counter.`
        : 'Its counter has been noted on fewer than two days: how much it is used cannot be told.',
      assumes,
    );
  }
  const used = Math.max(0, countOn(counts, today)! - countOn(counts, lastCalibrated)!);
  const amount = (n: number) => `${plainDecimal(Number(n.toPrecision(3)))} ${useUnits[unit]}`;
  const isOver = used >= most;
  const elapsed = monthsBetween(from, today);
  const months = isOver ? elapsed : bounded(monthly === 0 ? Infinity : elapsed + (most - used) / monthly, policy);
  return {
    school: 'use',
    date: dayAfter(from, months),
    months,
    reason: isOver
      ? `It has been used for ${amount(used)} since its last calibration; ${amount(most)} are allowed: it is due now.`
      : `${amount(most - used)} of ${amount(most)} are left, and it is used for ${amount(monthly)} a month.`,
    assumes,
    sure: `${counts.length} counts${sinceSetBack(counts).length < counts.length ? ', reckoned from where it was set back' : ''}`,
  };
}
