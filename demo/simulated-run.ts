import { actSchema, type NewAct, type RecordedEvent } from '../src/core/log/event-schema';
import { dayIn } from '../src/core/quantity/day-in-zone';
import { withPlan } from '../src/core/run/act-plan';
import { admit } from '../src/core/run/admit';
import { nextItem, stepOf } from '../src/core/run/next-step';
import { runState, withEvent, type RunState } from '../src/core/run/run-state';
import { startAct } from '../src/core/run/start-run';
import { plainAct } from './technician';
import type { Truth } from './truths';

export type SimulationOptions = {
  start: string;
  technician: string;
  reviewer: string | null;
  certificate: string;
  random: () => number;
  /** Where to stop, for a run that is still on the bench. */
  isEnough?: (state: RunState) => boolean;
  /** Given the event that finishes the run, with its certificate. */
  issued: (state: RunState, event: RecordedEvent) => RecordedEvent;
};

const toStep = (value: number, step: number): string => {
  const decimals = Math.max(0, Math.round(-Math.log10(step)));
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

/**
 * Plays a whole run through the same gate as a person at the bench: the plan says what comes next, and every act is admitted by
 * the run's own rules.
 * @throws Error when an act is refused, which would be a fault of the simulation
 */
export function simulateRun(start: Parameters<typeof startAct>[0], truth: Truth, options: SimulationOptions): RecordedEvent[] {
  const { random, technician } = options;
  let clock = Date.parse(options.start);
  const first = startAct(start, dayIn(options.start, start.timeZone));
  const events: RecordedEvent[] = [{ sequence: 1, at: options.start, person: technician, act: first }];
  let state = runState(events);
  const between = (low: number, high: number) => low + (high - low) * random();
  const shown = {
    reading: (s: RunState, slot: Parameters<Truth['shows']>[1]) => asShown(truth.shows(s, slot, random)),
    condition: (id: string) => truth.condition(id, random),
    measured: truth.measured,
    stored: truth.stored,
  };

  const act = (person: string, entry: NewAct): void => {
    const at = new Date(clock).toISOString();
    const whole = withPlan(state, actSchema.parse(entry));
    const refusal = admit(state, whole, person, at);
    if (refusal) throw new Error(`The simulated run was refused (${entry.type}): ${refusal.message}`);
    const bare: RecordedEvent = { sequence: events.length + 1, at, person, act: whole };
    const event = whole.type === 'run-completed' ? options.issued(runState(events), bare) : bare;
    events.push(event);
    state = withEvent(state, event);
  };

  for (;;) {
    if (options.isEnough?.(state)) return events;
    const item = nextItem(state);
    clock += 1000 * between(...handSeconds(state, item));
    const entry = plainAct(state, shown, new Date(clock).toISOString());
    if (!entry) break;
    if (entry.type === 'wait-ended' && item?.type === 'step') {
      // Whoever started it may be called away; it is ended when somebody comes back.
      const step = stepOf(state, item);
      if (step?.kind === 'wait') clock += 1000 * (step.minutes * 60 + between(30, 900));
    }
    if (entry.type === 'adjusted')
      truth.adjusted(entry.id, Object.fromEntries(Object.entries(entry.stored).map(([id, s]) => [id, Number(s.after)])));
    act(technician, entry.type === 'run-completed' ? { ...entry, certificate: options.certificate } : entry);
  }
  if (options.reviewer) {
    clock += 1000 * between(1800, 9000);
    act(options.reviewer, { type: 'run-reviewed', remark: '' });
  }
  return events;
}
