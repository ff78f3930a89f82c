import { parseISO, set } from 'date-fns';
import ical, { ICalCalendarMethod } from 'ical-generator';
import type { DayWork } from '../../core/day/day-board';
import type { DayAnswer } from '../../core/day/day-schema';
import { minutesADay } from '../../core/day/weeks';

/**
 * The hands-on work of a plan as a calendar (RFC 5545), at the laboratory's times of day: what calls for hands is an event, a wait is
 * none.
 * @param host where the laboratory's pages are
 */
export function dayCalendar(plan: DayAnswer, work: readonly DayWork[], days: readonly string[], host: string): string {
  const calendar = ical({
    name: 'Days at the bench',
    method: ICalCalendarMethod.PUBLISH,
    prodId: { company: 'Just Twice', product: 'Day', language: 'EN' },
  });
  const byId = new Map(work.map((w) => [w.id, w]));
  for (const entry of plan.entries) {
    const one = byId.get(entry.job);
    const day = days[Math.floor(entry.from / minutesADay)];
    if (entry.person === undefined || !one || !day) continue;
    const step = one.steps[entry.step]!;
    // By the clock, also on the day on which the clocks are put forward.
    const at = (minute: number) => set(parseISO(day), { hours: Math.floor((minute % minutesADay) / 60), minutes: minute % 60 });
    calendar.createEvent({
      id: `${day}-${entry.from}-${one.identification.replace(/[^\w-]+/g, '-')}-${entry.step}@just-twice`,
      start: at(entry.from),
      end: at(entry.to),
      floating: true,
      summary: `${one.identification}: ${step.title}`,
      description: [one.owner, step.uses.length > 0 ? `with ${step.uses.join(', ')}` : '', `person ${entry.person + 1}`]
        .filter(Boolean)
        .join(', '),
      url: host + one.address,
    });
  }
  return calendar.toString();
}
