import { addDays, differenceInCalendarDays, format, parseISO, startOfISOWeek } from 'date-fns';
import ical, { ICalCalendarMethod, ICalEventTransparency } from 'ical-generator';
import type { LinesRequest, MoveRequest } from '../contract/requests';
import type { DueBoard, DueLine, DueWeek } from '../core/interval/due-board';
import { database, writing } from '../store/database';
import * as intervals from '../store/intervals';
import type { DueFilter } from '../store/intervals';
import * as register from '../store/register';
import { turns } from './interval-service';
import { today } from './laboratory-time';
import { LeastUsed } from './least-used';
import { requirePerson } from './require-person';
import { ServiceError } from './service-error';

export type { DueFilter };
const weeksShown = 53;
/** Lines that are sent at once. */
const linesAtOnce = 300;

/** The Sunday that ends the weeks shown. */
const endOfWeeks = (day: string): string => format(addDays(startOfISOWeek(parseISO(day)), 7 * weeksShown - 1), 'yyyy-MM-dd');

const lineOf = (row: intervals.DueRow, day: string): DueLine => ({
  ...row,
  days: row.nextDue === null ? null : differenceInCalendarDays(parseISO(row.nextDue), parseISO(day)),
});

const subjectsOf = async (by: 'owner' | 'place'): Promise<string[]> =>
  (await register.countInUse(await database(), by))
    .map((c) => c.subject)
    .filter(Boolean)
    .sort((a, b) => a.localeCompare(b));

/** What comes due over the next year: by week, and the first of them one by one; what is overdue, and what was never calibrated, first. */
export async function dueBoard(filter: DueFilter): Promise<DueBoard> {
  const db = await database();
  const day = await today();
  const end = endOfWeeks(day);
  const [days, lines, owners, places] = await Promise.all([
    intervals.dueDays(db, filter),
    intervals.dueLines(db, filter, { until: end }, { offset: 0, most: linesAtOnce }),
    subjectsOf('owner'),
    subjectsOf('place'),
  ]);
  const first = startOfISOWeek(parseISO(day));
  const weeks = Array.from({ length: weeksShown }, (_, i): DueWeek => ({
    monday: format(addDays(first, 7 * i), 'yyyy-MM-dd'),
    count: 0,
  }));
  let [listed, overdue, later] = [0, 0, 0];
  for (const { day: due, n } of days) {
    if (due !== null && due > end) {
      later += n;
      continue;
    }
    listed += n;
    if (due === null) continue;
    if (due < day) overdue += n;
    else weeks[Math.floor(differenceInCalendarDays(parseISO(due), first) / 7)]!.count += n;
  }
  return { today: day, lines: lines.map((l) => lineOf(l, day)), listed, overdue, later, weeks, owners, places };
}

/** Further lines, of one week or of the year. */
export async function dueLines({ week, after, ...filter }: LinesRequest): Promise<{ lines: DueLine[] }> {
  const day = await today();
  const days = week ? { from: week, until: format(addDays(parseISO(week), 6), 'yyyy-MM-dd') } : { until: endOfWeeks(day) };
  const rows = await intervals.dueLines(await database(), filter, days, { offset: after, most: linesAtOnce });
  return { lines: rows.map((l) => lineOf(l, day)) };
}

/** Lines of a calendar that were made before, by what they say: making one costs more than all else. */
const eventTexts = new LeastUsed<string>(60_000);

/** Rows that are read at once: few enough that nobody waits for them. */
const rowsAtOnce = 60;
/** Events that are sent at once: each sending costs something of its own. */
const eventsAtOnce = 1200;

/** A whole day, with the same name for as long as the instrument is there (RFC 5545). */
function eventText({ id, identification, designation, owner, place, nextDue }: intervals.DueRow, host: string): string {
  const key = JSON.stringify([id, identification, designation, owner, place, nextDue, host]);
  const known = eventTexts.get(key);
  if (known) return known;
  const calendar = ical();
  calendar.createEvent({
    id: `${id}@just-twice`,
    start: parseISO(nextDue!),
    allDay: true,
    summary: `Calibrate ${identification}`,
    description: [designation, owner].filter(Boolean).join(', '),
    location: place,
    url: `${host}/instruments/${id}`,
    // It takes nobody's day: it may be done earlier.
    transparency: ICalEventTransparency.TRANSPARENT,
  });
  const whole = calendar.toString();
  const text = whole.slice(whole.indexOf('BEGIN:VEVENT'), whole.indexOf('END:VCALENDAR'));
  eventTexts.set(key, text);
  return text;
}

/** A calendar of what comes due, part by part: read and made as it is sent, so that nobody waits for the whole of it. */
export async function* dueCalendar(filter: DueFilter, host: string): AsyncGenerator<string> {
  const db = await database();
  const frame = ical({
    // The calendar's name is a line of its own: what the address asks for cannot begin another.
    name: ['Calibrations', filter.owner, filter.place]
      .filter(Boolean)
      .join(', ')
      .replace(/[\p{Cc}\s]+/gu, ' '),
    method: ICalCalendarMethod.PUBLISH,
    prodId: { company: 'Just Twice', product: 'Due', language: 'EN' },
    ttl: 60 * 60,
  }).toString();
  const end = frame.lastIndexOf('END:VCALENDAR');
  yield frame.slice(0, end);
  const turn = turns();
  let parts: string[] = [];
  for (let after = 0, rows = []; ; after = rows.at(-1)!.entered) {
    rows = await intervals.datedAfter(db, filter, after, rowsAtOnce);
    for (const { entered: _entered, ...row } of rows) {
      parts.push(eventText(row, host));
      await turn();
    }
    if (rows.length < rowsAtOnce) break;
    if (parts.length < eventsAtOnce) continue;
    yield parts.join('');
    parts = [];
  }
  yield parts.join('') + frame.slice(end);
}

/** Ten years: a date farther away was mistyped. */
const mostDays = 3653;

/** Moves due dates, for instance one forward to go with others; who, when and why is kept. */
export async function moveDue(request: MoveRequest, now = new Date().toISOString()): Promise<number> {
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
