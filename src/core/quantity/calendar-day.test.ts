import { describe, expect, it } from 'vitest';
import { calendarDaySchema, isCalendarDay, timeZoneSchema } from './calendar-day';
import { dayIn, momentIn } from './day-in-zone';

describe('a calendar date', () => {
  it.each(['2026-02-28', '2028-02-29', '2026-12-31', '1900-01-01', '2199-12-31'])('%s is one', (day) =>
    expect(isCalendarDay(day)).toBe(true),
  );
  it.each([
    '2026-02-30',
    '2027-13-45',
    '2026-02-29',
    '2026-00-10',
    '2026-04-31',
    '1899-12-31',
    '2200-01-01',
    '9999-01-01',
    '26-1-1',
    '2026-1-01',
    '2026-02-28T00:00:00Z',
    '+2026-02-28',
    '',
  ])('%j is none', (day) => {
    expect(isCalendarDay(day)).toBe(false);
    expect(calendarDaySchema('The due date').safeParse(day).error?.issues[0]?.message).toContain('The due date');
  });
  it('is the one of the laboratory, not of UTC', () => {
    expect(dayIn('2026-11-24T23:30:00Z', 'Europe/Berlin')).toBe('2026-11-25');
    expect(dayIn('2026-11-24T23:30:00Z', 'UTC')).toBe('2026-11-24');
    expect(dayIn('2026-11-24T03:00:00Z', 'America/Los_Angeles')).toBe('2026-11-23');
    expect(momentIn('2026-07-01T22:00:05Z', 'Europe/London')).toBe('2026-07-01 23:00:05');
    expect(momentIn('2026-11-24T00:00:00Z', 'UTC')).toBe('2026-11-24 00:00:00');
  });
  it('needs a zone that is known', () => {
    expect(timeZoneSchema.safeParse('Europe/London').success).toBe(true);
    for (const zone of ['', 'Quillmere/Bench', 'x'.repeat(80)]) expect(timeZoneSchema.safeParse(zone).success).toBe(false);
  });
});
