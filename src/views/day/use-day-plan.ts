import { useEffect, useMemo, useRef, useState } from 'react';
import { dayQuestion, daysOf, type DayBoard, type DayWish } from '../../core/day/day-board';
import type { DayAnswer } from '../../core/day/day-schema';
import { useKept } from '../../ui/use-kept';
import { askDays } from '../../worker/ask-core';

const usual: DayWish = { from: 8 * 60, to: 16 * 60 + 30, days: 1, people: 1, notBefore: {}, leftOut: [] };

/** Minutes of a day that are worth planning alone. */
const leastLeft = 120;

/** What this device keeps of the wishes: hours and people for good, what was moved for the day on which it was. */
type Kept = Partial<DayWish> & { day?: string };
const keptIn = (text: string): Kept => {
  try {
    return JSON.parse(text || '{}') as Kept;
  } catch {
    return {};
  }
};

/** How far the search has come: a plan that may still become better, the best that was found, or that it was stopped. */
type Search = { plan: DayAnswer | null; of: DayWish | null; state: 'searching' | 'done' | 'stopped' };

const inTime = (plan: DayAnswer): string[] => plan.finished.filter((id) => !plan.late.includes(id));

/** The days as they are best filled, sought in a worker; what a change costs is told. */
export function useDayPlan(board: DayBoard) {
  const [text, keep] = useKept('day');
  const wish = useMemo((): DayWish => {
    const { day, ...kept } = keptIn(text);
    const isOfToday = day === board.today;
    const to = kept.to ?? usual.to;
    const isNearlyOver = daysOf(board, { to, days: 1 })[0] === board.today && board.minute > to - leastLeft;
    return {
      ...usual,
      ...kept,
      days: (isOfToday && kept.days) || (isNearlyOver ? 2 : 1),
      notBefore: (isOfToday && kept.notBefore) || {},
      leftOut: (isOfToday && kept.leftOut) || [],
    };
  }, [text, board]);
  const [search, setSearch] = useState<Search>({ plan: null, of: null, state: 'searching' });
  /** What was in time before the last change. */
  const before = useRef<string[] | null>(null);
  const [lost, setLost] = useState<string[]>([]);
  const stop = useRef(() => {});
  useEffect(() => {
    stop.current = askDays(dayQuestion(board, wish), (plan, isLast) => {
      setSearch({ plan, of: wish, state: isLast ? 'done' : 'searching' });
      if (!isLast) return;
      const now = new Set(inTime(plan));
      setLost((before.current ?? []).filter((id) => !now.has(id)));
      before.current = null;
    });
    return () => stop.current();
  }, [board, wish]);
  const change = (next: Partial<DayWish>) => {
    if (search.plan) before.current ??= inTime(search.plan);
    setLost([]);
    keep(JSON.stringify({ ...wish, ...next, day: board.today }));
  };
  return {
    wish,
    // A plan of other wishes stands until the first for these has come, unless it is one of more or fewer days.
    plan: search.of?.days === wish.days ? search.plan : null,
    state: search.of === wish ? search.state : 'searching',
    /** What the last change has cost: no longer in time. */ lost,
    change,
    stop: () => {
      stop.current();
      setSearch((s) => ({ ...s, of: wish, state: 'stopped' }));
    },
  };
}
