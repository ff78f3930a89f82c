import { decimalsNeeded } from '../core/quantity/rounding';
import { actSchema, type NewAct, type RecordedEvent } from '../core/acts/registry';
import { withPlan } from '../core/acts/plan';
import { admit } from '../core/acts/admit';
import { runState, withEvent } from '../core/acts/fold';
import { spreadAct } from '../core/acts/spread';
import { dayIn } from '../core/quantity/day-in-zone';
import { nextItem, waitMinutes } from '../core/run/next-step';
import { observationOf } from '../core/run/reading-rules';
import { slotOf } from '../core/state/place-keys';
import type { RunState } from '../core/state/run-state';
import { startAct } from '../core/run/start-run';
import { nextTurn } from '../core/set-up/turn';
import { plainAct } from './technician';
import type { Truth } from './truths';

export type SimulationOptions = {
  start: string;
  technician: string;
  reviewer: string | null;
  certificate: string;
  random: () => number;
  /** A quick check in place of a calibration. */
  purpose?: 'calibration' | 'quick';
  /** Where to stop, for a run that is still on the bench. */
  isEnough?: (state: RunState) => boolean;
  /** The event that finished the run, with its certificate; given the state after it. */
  issued: (state: RunState, event: RecordedEvent, before: readonly RecordedEvent[]) => RecordedEvent;
};

const toStep = (value: number, step: number): string => {
  const decimals = decimalsNeeded([step]);
  return (Math.round(value / step) * step).toFixed(decimals).replace(/^-(0(\.0*)?)$/, '$1');
};

/** What is shown, as text: to the step of the display. */
export const asShown = (shows: ReturnType<Truth['shows']>): string =>
  'text' in shows ? shows.text : toStep(shows.value, shows.step);

/** Seconds that hands need for what comes next, from and to: never less than the procedure expects by much. */
function handSeconds(state: RunState, item: ReturnType<typeof nextItem>): [number, number] {
  if (item?.type !== 'reading') return [15, 60];
  const minutes = state.procedure.series.find((s) => s.id === item.series)?.handsOn ?? 0;
  return [Math.max(12, 40 * minutes), Math.max(35, 75 * minutes)];
}

type Start = Parameters<typeof startAct>[0];

/** A run that is being played: what comes next by its plan, and the one way in which something is recorded. */
class PlayedRun {
  readonly events: RecordedEvent[];
  state: RunState;

  constructor(
    start: Start,
    readonly truth: Truth,
    readonly options: SimulationOptions,
  ) {
    const first = startAct(start, dayIn(options.start, start.timeZone), options.purpose);
    this.events = [{ sequence: 1, at: options.start, person: options.technician, act: first }];
    this.state = runState(this.events);
  }

  /** What a technician does next; null when nothing is left but the review. */
  next(now: string): NewAct | null {
    const { truth } = this;
    const { random } = this.options;
    const shown = {
      reading: (s: RunState, slot: Parameters<Truth['shows']>[1]) => asShown(truth.shows(s, slot, random)),
      condition: (id: string) => truth.condition(id, random),
      measured: truth.measured,
      stored: truth.stored,
    };
    return plainAct(this.state, shown, now);
  }

  record(person: string, entry: NewAct, at: string): void {
    const given = entry.type === 'run-completed' ? { ...entry, certificate: this.options.certificate } : entry;
    const whole = withPlan(this.state, actSchema.parse(given));
    const refusal = admit(this.state, whole, person, at);
    // A technician who is asked looks again; it shows the same.
    if (refusal?.keepable && given.type === 'observed' && !given.confirmed)
      return this.record(person, { ...given, confirmed: true, reason: 'Read twice: it shows this' }, at);
    if (refusal) throw new Error(`The simulated run was refused (${entry.type}): ${refusal.message}`);
    const bare: RecordedEvent = { sequence: this.events.length + 1, at, person, act: whole };
    const after = withEvent(this.state, bare);
    const event = whole.type === 'run-completed' ? this.options.issued(after, bare, this.events) : bare;
    this.events.push(event);
    this.state = event === bare ? after : withEvent(after, event);
    if (whole.type === 'adjusted')
      this.truth.adjusted(whole.id, Object.fromEntries(Object.entries(whole.stored).map(([id, s]) => [id, Number(s.after)])));
  }

  /** Seconds that pass before something is done: those of the hands, and of a wait that somebody comes back from. */
  secondsFor(entry: NewAct): number {
    const item = nextItem(this.state);
    // What is to stand is let stand.
    if (item?.type === 'reading') return observationOf(this.state, slotOf(item))?.settleSeconds ?? 0;
    // Whoever started it may be called away; it is ended when somebody comes back.
    return entry.type === 'wait-ended' ? waitMinutes(this.state) * 60 + this.between(30, 900) : 0;
  }

  between(low: number, high: number): number {
    return low + (high - low) * this.options.random();
  }
}

/**
 * Plays a whole run through the same gate as a person at the bench: the plan says what comes next, and every act is admitted by
 * the run's own rules.
 * @returns its log, and the state that it leads to @throws Error when an act is refused, which would be a fault of the simulation
 */
export function simulateRun(start: Start, truth: Truth, options: SimulationOptions): Pick<PlayedRun, 'events' | 'state'> {
  const run = new PlayedRun(start, truth, options);
  let clock = Date.parse(options.start);
  const now = () => new Date(clock).toISOString();
  for (;;) {
    if (options.isEnough?.(run.state)) return run;
    clock += 1000 * run.between(...handSeconds(run.state, nextItem(run.state)));
    const entry = run.next(now());
    if (!entry) break;
    clock += 1000 * run.secondsFor(entry);
    run.record(options.technician, entry, now());
  }
  if (options.reviewer) {
    clock += 1000 * run.between(1800, 9000);
    run.record(options.reviewer, { type: 'run-reviewed', remark: '' }, now());
  }
  return run;
}

/**
 * Plays several runs in one set-up: what is shared is done once, and what is not goes from one instrument to the next.
 * @param members in their order; each start names the set-up @returns their logs
 */
export function simulateSetUp(members: readonly { start: Start; truth: Truth }[], options: SimulationOptions): RecordedEvent[][] {
  const runs = members.map(({ start, truth }) => new PlayedRun(start, truth, options));
  let clock = Date.parse(options.start);
  const now = () => new Date(clock).toISOString();
  for (;;) {
    const states = runs.map((r) => r.state);
    const turn = nextTurn(states);
    if (!turn || (options.isEnough && states.some(options.isEnough))) return runs.map((r) => r.events);
    const from = turn.members[0]!;
    const run = runs[from]!;
    clock += 1000 * run.between(...handSeconds(run.state, nextItem(run.state)));
    const entry = run.next(now());
    if (!entry) return runs.map((r) => r.events);
    clock += 1000 * run.secondsFor(entry);
    for (const { member, act } of spreadAct(states, turn, from, actSchema.parse(entry)))
      runs[member]!.record(options.technician, act, now());
  }
}
