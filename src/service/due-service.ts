import { addDays, differenceInCalendarDays, format, parseISO, startOfISOWeek } from 'date-fns';
import ical, { ICalCalendarMethod, ICalEventTransparency } from 'ical-generator';
import * as z from 'zod';
import { calendarDaySchema } from '../core/quantity/calendar-day';
import { idSchema } from '../core/register/entry-schemas';
import type { DueBoard, DueLine, DueWeek } from '../core/interval/due-board';
import { database, writing } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';
import { today } from './laboratory-time';
import { requirePerson } from './require-person';
import { ServiceError } from './service-error';

export type DueFilter = { owner?: string | undefined; place?: string | undefined };
const weeksShown = 53;

const matches = (i: register.InstrumentRow, { owner, place }: DueFilter): boolean =>
  (!owner || i.owner === owner) && (!place || i.place === place);

const sorted = (values: Iterable<string>): string[] => [...new Set(values)].filter(Boolean).sort((a, b) => a.localeCompare(b));

/** What comes due over the next year: by week, and one by one; what is overdue, and what was never calibrated, apart. */
export async function dueBoard(filter: DueFilter): Promise<DueBoard> {
  const db = await database();
  const [all, day] = await Promise.all([intervals.instrumentsInUse(db), today()]);
  const end = format(addDays(startOfISOWeek(parseISO(day)), 7 * weeksShown - 1), 'yyyy-MM-dd');
  const lines = all
    .filter((i) => matches(i, filter))
    .map(({ id, identification, designation, kind, owner, place, nextDue }): DueLine => ({
      id,
      identification,
      designation,
      kind,
      owner,
      place,
      nextDue,
      days: nextDue === null ? null : differenceInCalendarDays(parseISO(nextDue), parseISO(day)),
    }));
  const first = startOfISOWeek(parseISO(day));
  const weeks = Array.from({ length: weeksShown }, (_, i): DueWeek => ({
    monday: format(addDays(first, 7 * i), 'yyyy-MM-dd'),
    count: 0,
  }));
  for (const { nextDue, days } of lines) {
    if (nextDue === null || days! < 0) continue;
    const week = weeks[Math.floor(differenceInCalendarDays(parseISO(nextDue), first) / 7)];
    if (week) week.count++;
  }
  return {
    today: day,
    lines: lines.filter((l) => l.nextDue === null || l.nextDue <= end),
    later: lines.filter((l) => l.nextDue !== null && l.nextDue > end).length,
    weeks,
    owners: sorted(all.map((i) => i.owner)),
    places: sorted(all.map((i) => i.place)),
  };
}

/** A calendar of what comes due (RFC 5545): a whole day each, with the same name for as long as the instrument is there. */
export async function dueCalendar(filter: DueFilter, host: string): Promise<string> {
  const db = await database();
  const all = await intervals.instrumentsInUse(db);
  const calendar = ical({
    // The calendar's name is a line of its own: what the address asks for cannot begin another.
    name: ['Calibrations', filter.owner, filter.place]
      .filter(Boolean)
      .join(', ')
      .replace(/[\p{Cc}\s]+/gu, ' '),
    method: ICalCalendarMethod.PUBLISH,
    prodId: { company: 'Just Twice', product: 'Due', language: 'EN' },
    ttl: 60 * 60,
  });
  for (const i of all) {
    if (i.nextDue === null || !matches(i, filter)) continue;
    calendar.createEvent({
      id: `${i.id}@just-twice`,
      start: parseISO(i.nextDue),
      allDay: true,
      summary: `Calibrate ${i.identification}`,
      description: [i.designation, i.owner].filter(Boolean).join(', '),
      location: i.place,
      url: `${host}/instruments/${i.id}`,
      // It takes nobody's day: it may be done earlier.
      transparency: ICalEventTransparency.TRANSPARENT,
    });
  }
  return calendar.toString();
}

export const moveRequestSchema = z.object({
  instruments: z.array(idSchema).min(1, 'Choose what is to be moved.').max(200),
  to: calendarDaySchema('The new date'),
  reason: z.string().trim().min(3, 'Give the reason in a few words.').max(300),
  person: z.string().trim().min(1, 'Say who you are: choose your name at the top of the page.').max(120),
});

/** Ten years: a date farther away was mistyped. */
const mostDays = 3653;

/** Moves due dates, for instance one forward to go with others; who, when and why is kept. */
export async function moveDue(request: z.infer<typeof moveRequestSchema>, now = new Date().toISOString()): Promise<number> {
  const db = await database();
  const day = await today(now);
  if (request.to < day) throw new ServiceError(422, 'The new date is past. Choose today or a later day.', ['to']);
  if (differenceInCalendarDays(parseISO(request.to), parseISO(day)) > mostDays)
    throw new ServiceError(422, 'The new date is more than ten years away.', ['to']);
  await requirePerson(db, request.person);
  return writing(db, async () => {
    const rows = await Promise.all([...new Set(request.instruments)].map((id) => register.instrumentById(db, id)));
    const missing = rows.some((r) => r === undefined);
    if (missing)
      throw new ServiceError(404, 'One of these instruments is not in the register any more. Load the page again.', [
        'instruments',
      ]);
    const { to, reason, person } = request;
    const moved = rows
      .filter((r) => r!.nextDue !== to)
      .map((r) => ({ instrumentId: r!.id, before: r!.nextDue, after: to, reason, person, at: now }));
    await intervals.moveDates(db, moved);
    return moved.length;
  });
}
