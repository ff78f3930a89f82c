import { addDays, differenceInCalendarDays, format, isWeekend, parseISO } from 'date-fns';
import { minutesADay } from './weeks';
import { daySchema, type DayQuestion } from './day-schema';

/** A step of the work on one instrument: hands on it, or a wait; and what it holds meanwhile. */
export type WorkStep = {
  title: string;
  minutes: number;
  isWait: boolean;
  /** A wait that goes on already: these minutes are left of it. */ isRunning?: true;
  /** A wait whose length is told when it comes: none of it is planned. */ isUnknown?: true;
  /** Identifications of standards. */ uses: string[];
};

/** The work on one instrument, or on several in one set-up. */
export type DayWork = {
  id: string;
  /** Where it is gone on with. */ address: string;
  identification: string;
  owner: string;
  /** The day by which it is wanted; null where it lies on the bench and no day is known. */ due: string | null;
  isOnBench: boolean;
  steps: WorkStep[];
  /** What somebody must see to first. */ cautions: string[];
};

/** All that some days could be filled with. */
export type DayBoard = {
  today: string;
  /** Minute of the day at the laboratory. */ minute: number;
  work: DayWork[];
  /** What is due and cannot be planned, with the reason. */ unplanned: { id: string; identification: string; why: string }[];
  /** Whether more is due than is looked at. */ isMore: boolean;
};

/** What whoever plans wants of the days. */
export type DayWish = {
  from: number;
  to: number;
  days: number;
  people: number;
  /** Minutes before which work does not begin, by id. */ notBefore: Record<string, number>;
  /** Work that is left for another time. */ leftOut: readonly string[];
};

/**
 * The working days from a day on, that day first unless it is of a weekend.
 * @example workingDays('2026-12-04', 2) // ['2026-12-04', '2026-12-07']
 */
export function workingDays(from: string, count: number): string[] {
  const days: string[] = [];
  for (let day = parseISO(from); days.length < count; day = addDays(day, 1))
    if (!isWeekend(day)) days.push(format(day, 'yyyy-MM-dd'));
  return days;
}

/**
 * The days that are planned: today where it is a working day with hours left, else from the next one on.
 * @example daysOf({ today: '2026-12-02', minute: 1000 }, { to: 990, days: 1 }) // ['2026-12-03']
 */
export function daysOf(
  { today, minute }: Pick<DayBoard, 'today' | 'minute'>,
  { to, days }: Pick<DayWish, 'to' | 'days'>,
): string[] {
  const all = workingDays(today, days + 1);
  return all[0] === today && minute >= to ? all.slice(1) : all.slice(0, days);
}

/** What begun work, overdue work and the rest count against each other. */
const value = { onBench: 4, overdue: 2, due: 1 };

/**
 * The question of how some working days are best filled: nothing begins before now, each standard is in one place, and what lies on the
 * bench or is overdue is wanted on the first day; what is wanted after these days, on the last.
 * @example dayQuestion({ today: '2026-12-02', minute: 600, work: [], unplanned: [], isMore: false }, { from: 480, to: 990, days: 1, people: 1, notBefore: {}, leftOut: [] }).jobs // []
 */
export function dayQuestion(board: DayBoard, wish: DayWish): DayQuestion {
  const { today, minute, work } = board;
  const days = daysOf(board, wish);
  // A later day is not begun yet; what waits already goes on until then.
  const now = days[0] === today ? minute : 0;
  const until = differenceInCalendarDays(parseISO(days[0]!), parseISO(today)) * minutesADay + now - minute;
  const left = (s: WorkStep) => (s.isRunning ? Math.max(0, s.minutes - until) : s.minutes);
  const wanted = work.filter((w) => w.steps.length > 0 && !wish.leftOut.includes(w.id));
  const standards = new Set(wanted.flatMap((w) => w.steps.flatMap((s) => s.uses)));
  return daySchema.parse({
    from: wish.from,
    to: wish.to,
    days: wish.days,
    people: wish.people,
    resources: Object.fromEntries([...standards].map((id) => [id, 1])),
    jobs: wanted.map(({ id, due, isOnBench, steps }) => {
      const isOverdue = due !== null && due < today;
      const day = due === null || isOverdue ? 0 : days.findLastIndex((d) => d <= due);
      return {
        id,
        due: Math.max(0, day),
        value: isOnBench ? value.onBench : isOverdue ? value.overdue : value.due,
        notBefore: Math.max(now, wish.notBefore[id] ?? 0),
        steps: steps.map((s) => (s.isWait ? { wait: left(s), uses: s.uses } : { handsOn: s.minutes, uses: s.uses })),
      };
    }),
  });
}

/** Whether work ends after the day by which it is wanted: what is overdue already, or has no date, is not late by the plan. @example isLate({ due: null }, '2026-12-02', true) // false */
export const isLate = ({ due }: Pick<DayWork, 'due'>, today: string, isAfterItsDay: boolean): boolean =>
  isAfterItsDay && due !== null && due >= today;

/** A minute of the plan as time of its day. @example timeOfMinute(1440 + 485) // '08:05' */
export function timeOfMinute(minute: number): string {
  const at = Math.round(minute) % minutesADay;
  return `${String(Math.floor(at / 60)).padStart(2, '0')}:${String(at % 60).padStart(2, '0')}`;
}
