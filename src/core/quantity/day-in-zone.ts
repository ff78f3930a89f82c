const formats = new Map<string, Intl.DateTimeFormat>();

/**
 * The calendar day of an instant in a time zone.
 * @param instant ISO time @param timeZone IANA name
 * @example dayIn('2026-11-24T23:30:00Z', 'Europe/Berlin') // '2026-11-25'
 */
export function dayIn(instant: string, timeZone: string): string {
  let format = formats.get(timeZone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-CA', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' });
    formats.set(timeZone, format);
  }
  return format.format(new Date(instant));
}

/**
 * An instant as a clock in a time zone shows it.
 * @example momentIn('2026-11-24T23:30:05Z', 'Europe/Berlin') // '2026-11-25 00:30:05'
 */
export function momentIn(instant: string, timeZone: string): string {
  const key = `${timeZone} clock`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone,
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
      hourCycle: 'h23',
    });
    formats.set(key, format);
  }
  return `${dayIn(instant, timeZone)} ${format.format(new Date(instant))}`;
}
