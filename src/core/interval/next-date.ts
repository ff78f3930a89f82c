import { addMonths, formatISO, parseISO } from 'date-fns';
import type { Verdict } from '../conformity/decide';
import type { RunState } from '../run/run-state';

export type NextDate = { date: string; months: number; reason: string };

/** Where neither procedure nor record says anything. */
const usualMonths = 12;

/**
 * The next calibration by fixed policy: the instrument's own interval where its record gives one, else the procedure's; the
 * shorter of that and the procedure's interval after a fail when the as-found set failed.
 * @param found the verdict as found @param today ISO day
 */
export function proposeNextDate(state: RunState, found: Verdict | null, today: string): NextDate {
  const { interval } = state.procedure;
  const own = state.instrument.intervalMonths;
  const usual = own ?? interval?.months ?? usualMonths;
  const origin = own === null ? (interval ? "the procedure's policy" : 'common practice') : "this instrument's record";
  const failed = found === 'fail' || found === 'conditional-fail';
  const months = failed ? Math.min(usual, interval?.monthsAfterFail ?? usual) : usual;
  const date = formatISO(addMonths(parseISO(today), months), { representation: 'date' });
  if (failed && months < usual)
    return { date, months, reason: `${months} months in place of ${usual}: it was outside its limits as found.` };
  const standing = failed
    ? 'outside its limits as found'
    : found === null
      ? 'not judged as a whole'
      : 'inside its limits as found';
  return { date, months, reason: `${months} months by ${origin}; ${standing}.` };
}
