/** A difference in seconds that is more than a slow machine or a gentle correction makes. */
const tolerated = 180;

/** What the wall clock said when this process began to watch it, against a clock that nobody can set. */
let watched = { wall: Date.now(), steady: performance.now() };

/** Seconds by which the wall clock has been set since it was last looked at; 0 within tolerance. Looking starts the watch anew. */
export function clockSetBy(wall = Date.now(), steady = performance.now()): number {
  const setBy = Math.round((wall - watched.wall - (steady - watched.steady)) / 1000);
  watched = { wall, steady };
  return Math.abs(setBy) > tolerated ? setBy : 0;
}

/** What is odd about the time of the next event of a log; undefined when nothing is. */
export function clockMark(previous: Pick<RecordedEvent, 'at'> | undefined, now: string, setBy: number): ClockMark | undefined {
  const earlierBy = previous ? Math.ceil((Date.parse(previous.at) - Date.parse(now)) / 1000) : 0;
  const mark = { ...(earlierBy > 0 ? { earlierBy } : {}), ...(setBy !== 0 ? { setBy } : {}) };
  return Object.keys(mark).length ? mark : undefined;
}

/** Whether the clock is so far behind the latest event of the laboratory that no certificate may carry its date. */
export const isClockBehind = (latest: string | null, now: string): boolean =>
  latest !== null && Date.parse(latest) - Date.parse(now) > tolerated * 1000;
import type { ClockMark } from '../core/state/logged';
import type { RecordedEvent } from '../core/acts/registry';
