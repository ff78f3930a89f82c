import type { RunState, Slot } from '../../core/state/run-state';
import { timeLeft } from '../../ui/clock';

/** How long it should stand yet, by the clock, since the reading before it. */
export function Settling({ state, slot, seconds, now }: { state: RunState; slot: Slot; seconds: number; now: string }) {
  const before = [...state.live.values()]
    .filter((r) => r.slot.set === slot.set && r.slot.series === slot.series && r.slot.each === slot.each)
    .reduce((latest, r) => Math.max(latest, Date.parse(r.at)), -Infinity);
  const until = before + 1000 * seconds;
  if (until <= Date.parse(now)) return <p className="text-sm">Read it {seconds} s after it stands.</p>;
  return (
    <p className="text-lg" role="timer">
      Let it stand: <span className="figure">{timeLeft(new Date(until).toISOString(), now)}</span> of {seconds} s.
    </p>
  );
}
