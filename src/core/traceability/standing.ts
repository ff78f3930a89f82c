import { differenceInCalendarDays, parseISO } from 'date-fns';

export type Standing = 'none' | 'good' | 'nearly-due' | 'expired';

export type DueStanding = {
  standing: Standing;
  /** Days until due; negative when past. Null without a date. */ days: number | null;
};

/** Days before a due date from which the tool speaks of it. */
export const noticeDays = 30;

/** How a due date stands today. The due day itself still counts as valid. @example dueStanding('2026-12-10', '2026-11-24').days // 16 */
export function dueStanding(due: string | null, today: string, notice = noticeDays): DueStanding {
  if (due === null) return { standing: 'none', days: null };
  const days = differenceInCalendarDays(parseISO(due), parseISO(today));
  return { days, standing: days < 0 ? 'expired' : days <= notice ? 'nearly-due' : 'good' };
}

/**
 * A due date in words: "in 12 days", "today", "3 days overdue".
 * @example dueInWords(dueStanding('2026-12-10', '2026-11-24')) // 'in 16 days'
 */
export function dueInWords({ days }: DueStanding): string {
  if (days === null) return 'no date';
  if (days === 0) return 'due today';
  const count = Math.abs(days);
  const span = count < 60 ? `${count} ${count === 1 ? 'day' : 'days'}` : `${Math.round(count / 30.44)} months`;
  return days < 0 ? `${span} overdue` : `in ${span}`;
}
