import * as z from 'zod';
import '../plain-issues';

/** The years a date of this trade can lie in: instruments and intervals older or longer are slips of the keyboard. */
const years = { first: 1900, last: 2199 };

/** Whether a text is a day of the calendar, written 2026-11-24. */
export function isCalendarDay(text: string): boolean {
  const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!match) return false;
  const [year, month, day] = match.slice(1).map(Number) as [number, number, number];
  const date = new Date(Date.UTC(year, month - 1, day));
  // A day that the calendar lacks, such as 30 February, comes out as another one.
  return year >= years.first && year <= years.last && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
}

/**
 * The one schema of a calendar date.
 * @param what what the date is, to begin a sentence with
 * @example calendarDaySchema('The due date').parse('2026-02-28') // '2026-02-28'
 */
export const calendarDaySchema = (what: string) =>
  z
    .string({ error: `${what} is missing.` })
    .regex(/^\d{4}-\d{2}-\d{2}$/, `${what} is written 2026-11-24.`)
    .refine(isCalendarDay, `${what} is not a day of the calendar between ${years.first} and ${years.last}.`);

/** Whether a text names a time zone that this machine knows. @example isTimeZone('Europe/Berlin') // true */
export function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return name !== '';
  } catch {
    return false;
  }
}

export const timeZoneSchema = z
  .string()
  .max(60)
  .refine(isTimeZone, 'This time zone is not known. Choose one of the list, for instance Europe/London.');
