import { addMonths, format, parseISO } from 'date-fns';
import { worstVerdict } from '../conformity/decide';
import type { PointResult } from '../run/point-results';
import type { RunState } from '../run/run-state';

export type NextDate = { date: string; months: number; reason: string };

/**
 * The next calibration by fixed policy: the instrument's own interval where its record gives one, else the procedure's; the
 * shorter of that and the procedure's interval after a fail when the as-found set failed.
 * @param foundResults the as-found results @param today ISO day
 */
export function proposeNextDate(state: RunState, foundResults: readonly PointResult[], today: string): NextDate {
  const { interval } = state.procedure;
  const usual = state.instrument.intervalMonths ?? interval.months;
  const origin = state.instrument.intervalMonths === null ? "the procedure's policy" : "this instrument's record";
  const verdict = worstVerdict(foundResults.map((r) => r.conformity.verdict));
  const failed = verdict === 'fail' || verdict === 'conditional-fail';
  const months = failed ? Math.min(usual, interval.monthsAfterFail) : usual;
  const date = format(addMonths(parseISO(today), months), 'yyyy-MM-dd');
  if (failed && months < usual)
    return { date, months, reason: `${months} months in place of ${usual}: it was outside its limits as found.` };
  return { date, months, reason: `${months} months by ${origin}; ${failed ? 'outside' : 'inside'} its limits as found.` };
}
