import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { isLate, timeOfMinute, type DayWish, type DayWork } from '../../core/day/day-board';
import type { DayAnswer } from '../../core/day/day-schema';
import { minutesADay } from '../../core/day/weeks';

/** Steps by which work is moved, in minutes: by a key, and by the pointer. */
const [keyStep, pointerStep] = [15, 5];

/** A share of the width that holds a digit. */
const narrowest = 0.015;

type Props = {
  work: readonly DayWork[];
  plan: DayAnswer;
  wish: DayWish;
  today: string;
  days: readonly string[];
  /** Minute of the first day that is now; null where that day has not begun. */ now: number | null;
  onMove: (id: string, notBefore: number | null) => void;
  onLeaveOut: (id: string) => void;
};

export const dayName = (day: string) =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });

/** Where a minute stands across the hours of all days, from 0 to 1: a night has no width. */
const acrossOf =
  ({ from, to, days }: DayWish) =>
  (minute: number): number => {
    const day = Math.floor(minute / minutesADay);
    const within = Math.min(to - from, Math.max(0, minute - day * minutesADay - from));
    return Math.min(1, (day + within / (to - from)) / days);
  };

const percent = (share: number) => `${(100 * share).toFixed(3)}%`;

/** The work of some days over their hours, a line an instrument: solid where hands are on it, thin where it waits. */
export function DayChart({ work, plan, wish, today, days, now, onMove, onLeaveOut }: Props) {
  const across = acrossOf(wish);
  const lines = work
    .map((w) => ({ work: w, entries: plan.entries.filter((e) => e.job === w.id) }))
    .filter((l) => l.entries.length > 0)
    .sort((a, b) => a.entries[0]!.from - b.entries[0]!.from || a.work.identification.localeCompare(b.work.identification));
  const hours = Array.from(
    { length: Math.floor(wish.to / 60) - Math.ceil(wish.from / 60) + 1 },
    (_, i) => Math.ceil(wish.from / 60) + i,
  );
  const every = wish.days === 1 ? 1 : wish.days === 2 ? 2 : 4;
  const ticks = days.flatMap((_, d) =>
    hours
      .filter((h) => (h - hours[0]!) % every === 0 && 60 * h < wish.to - (wish.days > 1 ? 45 : 0))
      .map((h) => d * minutesADay + h * 60),
  );
  return (
    <div className="day-chart relative border-y border-rule-strong bg-sheet" role="list" aria-label="Over the hours">
      <div className="grid gap-x-3 sm:grid-cols-[15rem_1fr_7rem]" aria-hidden>
        <span className="max-sm:hidden" />
        <div className="relative h-9 overflow-hidden text-xs text-soft">
          {wish.days > 1 &&
            days.map((day, d) => (
              <span key={day} className="absolute top-0 truncate pl-1 font-bold" style={{ left: percent(d / wish.days) }}>
                {dayName(day)}
              </span>
            ))}
          {ticks.map((t) => (
            <span key={t} className="figure absolute bottom-0 border-l border-rule pl-1" style={{ left: percent(across(t)) }}>
              {timeOfMinute(t).slice(0, 2)}
            </span>
          ))}
        </div>
      </div>
      <div className="ruled border-t border-rule">
        {lines.map((line) => (
          <DayLine
            key={line.work.id}
            {...line}
            across={across}
            wish={wish}
            ticks={ticks}
            now={now}
            isLate={isLate(line.work, today, plan.late.includes(line.work.id))}
            days={days}
            onMove={(to) => onMove(line.work.id, to)}
            onLeaveOut={() => onLeaveOut(line.work.id)}
          />
        ))}
      </div>
    </div>
  );
}

type LineProps = {
  work: DayWork;
  entries: DayAnswer['entries'];
  across: (minute: number) => number;
  wish: DayWish;
  ticks: readonly number[];
  now: number | null;
  isLate: boolean;
  days: readonly string[];
  onMove: (to: number | null) => void;
  onLeaveOut: () => void;
};

function DayLine({ work, entries, across, wish, ticks, now, isLate: isMissed, days, onMove, onLeaveOut }: LineProps) {
  const track = useRef<HTMLDivElement>(null);
  const from = useRef(0);
  const [dragged, setDragged] = useState<number | null>(null);
  const begins = entries[0]!.from;
  const ends = entries.at(-1)!.to;
  const pinned = wish.notBefore[work.id];
  const minutesIn = (pixels: number) => {
    const width = track.current?.clientWidth ?? 1;
    return Math.round(((pixels / width) * wish.days * (wish.to - wish.from)) / pointerStep) * pointerStep;
  };
  /** A number of working minutes later or earlier: over the night to the next day's hours. */
  const moved = (by: number): number => {
    const length = wish.to - wish.from;
    const day = Math.floor(begins / minutesADay);
    const worked = day * length + Math.min(length, Math.max(0, begins - day * minutesADay - wish.from)) + by;
    const at = Math.min(wish.days * length - 1, Math.max(0, worked));
    return Math.floor(at / length) * minutesADay + wish.from + (at % length);
  };
  const onKey = (e: KeyboardEvent) => {
    const by = e.key === 'ArrowRight' ? keyStep : e.key === 'ArrowLeft' ? -keyStep : 0;
    if (by !== 0) onMove(moved(by));
    else if (e.key === 'Delete' || e.key === 'x') onLeaveOut();
    else if (e.key === 'Escape' && pinned !== undefined) onMove(null);
    else return;
    e.preventDefault();
  };
  const drag = {
    onPointerDown: (e: PointerEvent) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      from.current = e.clientX;
      setDragged(0);
    },
    onPointerMove: (e: PointerEvent) => dragged !== null && setDragged(e.clientX - from.current),
    onPointerUp: () => {
      const by = minutesIn(dragged ?? 0);
      setDragged(null);
      if (by !== 0) onMove(moved(by));
    },
    onPointerCancel: () => setDragged(null),
  };
  const words = `${work.identification}: ${timeOfMinute(begins)} to ${timeOfMinute(ends)}`;
  return (
    <div role="listitem" className="grid items-center gap-x-3 py-1 sm:grid-cols-[15rem_1fr_7rem]">
      <div className="flex min-w-0 items-baseline gap-2 px-3">
        <a href={work.address} className="ident min-w-0 truncate font-bold" title={work.identification}>
          {work.identification}
        </a>
        {work.isOnBench && <span className="text-xs whitespace-nowrap text-soft">on the bench</span>}
      </div>
      <div
        ref={track}
        role="slider"
        tabIndex={0}
        aria-label={`Begin of ${work.identification}`}
        aria-valuemin={wish.from}
        aria-valuemax={(wish.days - 1) * minutesADay + wish.to}
        aria-valuenow={begins}
        aria-valuetext={words}
        title={`${words}. Drag, or press the arrows, to begin later or earlier; x leaves it out.`}
        className="relative h-8 cursor-grab pointer-coarse:h-11 touch-pan-y select-none"
        onKeyDown={onKey}
        {...drag}
      >
        {ticks.map((t) => (
          <span key={t} className="absolute inset-y-0 border-l border-rule" style={{ left: percent(across(t)) }} />
        ))}
        {now !== null && <span className="absolute inset-y-0 border-l-2 border-ochre" style={{ left: percent(across(now)) }} />}
        <div className="absolute inset-0" style={dragged ? { transform: `translateX(${dragged}px)`, opacity: 0.6 } : undefined}>
          {entries.map((entry) => {
            const step = work.steps[entry.step]!;
            const [left, right] = [across(entry.from), across(entry.to)];
            const place = { left: percent(left), width: `max(3px, ${percent(right - left)})` };
            return step.isWait ? (
              <span
                key={entry.step}
                className="absolute top-1/2 h-2 -translate-y-1/2 border border-rule-strong bg-rule"
                style={place}
              />
            ) : (
              <span
                key={entry.step}
                className={`absolute top-1/2 h-6 -translate-y-1/2 overflow-hidden border-r border-sheet text-center text-xs leading-6 text-sheet ${isMissed ? 'bg-brick' : 'bg-verdigris'}`}
                style={place}
              >
                {wish.people > 1 && right - left > narrowest ? entry.person! + 1 : ''}
              </span>
            );
          })}
        </div>
        {pinned !== undefined && (
          <span
            className="absolute inset-y-1 w-1 bg-ink"
            style={{ left: percent(across(pinned)) }}
            title={`Not before ${timeOfMinute(pinned)}`}
          />
        )}
      </div>
      <div className={`px-2 text-sm whitespace-nowrap max-sm:pb-1 ${isMissed ? 'text-brick' : 'text-soft'}`}>
        {isMissed ? 'late, ' : ''}
        {wish.days > 1 && `${dayName(days[Math.floor(ends / minutesADay)]!).slice(0, 3)} `}
        <span className="figure">{timeOfMinute(ends)}</span>
      </div>
    </div>
  );
}
