import type { Verdict } from '../conformity/decide';
import type { RunState } from '../state/run-state';
import { fixedMonths, fixedProposal } from '../interval/fixed';
import { plainPolicy } from '../interval/policy';
import { isInsideBy } from '../interval/visit';

export type NextDate = { date: string; months: number; reason: string };

/**
 * The next calibration by what the log alone tells: the instrument's own interval where its record gives one, else the procedure's; the
 * shorter of that and the procedure's interval after a fail when the as-found set failed. It serves where nobody can be asked for more.
 * @param found the verdict as found @param today ISO day
 * @example proposeNextDate(run, 'pass', '2026-11-24').date // '2027-11-24'
 */
export function proposeNextDate(state: RunState, found: Verdict | null, today: string): NextDate {
  const months = fixedMonths(state.instrument.intervalMonths, plainPolicy, state.procedure.interval);
  const { date, months: used, reason } = fixedProposal(today, months, isInsideBy(found));
  return { date: date!, months: used!, reason };
}
