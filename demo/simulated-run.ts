import { admit } from '../src/core/run/admit';
import { proposeAdjustment } from '../src/core/run/adjustment-advice';
import { diagnose } from '../src/core/run/diagnosis';
import type { Act, InstrumentSnapshot, Pass, RecordedEvent, StandardSnapshot } from '../src/core/run/event-schema';
import { nextAction } from '../src/core/run/next-action';
import { passResults, referenceValue } from '../src/core/run/point-results';
import { runState, type RunState } from '../src/core/run/run-state';
import { proposeNextDate } from '../src/core/interval/next-date';
import type { Procedure } from '../src/core/procedure/procedure-schema';
import { normalDeviate } from './random';

/** What an instrument really does; the simulated technician only sees indications. Lengths in mm. */
export type Truth = {
  zero: number;
  /** Error per mm of travel. */
  slope: number;
  /** Amplitude and phase of the periodic error of the screw (pitch 0.5 mm). */
  periodic: number;
  phase: number;
  repeatability: number;
};

export type SimulatedRun = { events: RecordedEvent[]; truth: Truth };

export type SimulationOptions = {
  start: string;
  technician: string;
  reviewer: string | null;
  certificate: string;
  random: () => number;
  /** Stops after this many as-found readings, for a run that is still on the bench. */
  stopAfterReadings?: number;
};

const roundTo = (value: number, step: number): string => {
  const decimals = Math.max(0, Math.round(-Math.log10(step)));
  return (Math.round(value / step) * step).toFixed(decimals);
};

/**
 * Plays a whole run through the same gate as a person at the bench: every act is admitted by the run's own rules.
 * @throws Error when an act is refused, which would be a fault of the simulation
 */
export function simulateRun(
  instrument: InstrumentSnapshot,
  standard: StandardSnapshot,
  procedure: Procedure,
  before: Truth,
  options: SimulationOptions,
): SimulatedRun {
  const { random, technician } = options;
  let truth = { ...before };
  let clock = Date.parse(options.start);
  const events: RecordedEvent[] = [];
  let state!: RunState;

  const act = (person: string, secondsLater: number, entry: Act): void => {
    clock += secondsLater * 1000;
    const at = new Date(clock).toISOString();
    const refusal = events.length > 0 ? admit(state, entry, person, at) : null;
    if (refusal) throw new Error(`The simulated run was refused: ${refusal.message}`);
    events.push({ sequence: events.length + 1, at, person, act: entry });
    state = runState(events);
  };
  const between = (low: number, high: number) => low + (high - low) * random();
  const room = 20 + 0.35 * normalDeviate(random);
  const temperature = (spread: number) => (Math.min(20.9, Math.max(19.1, room)) + spread * (random() - 0.5)).toFixed(1);

  act(technician, 0, { type: 'run-started', instrument, standard, procedure });
  for (const check of procedure.checks)
    act(technician, between(15, 60), { type: 'check-answered', check: check.id, outcome: 'yes', note: '' });
  act(technician, between(20, 60), { type: 'soak-started' });
  act(technician, procedure.soak.minutes * 60 + between(30, 2400), { type: 'soak-ended' });
  const conditions = () =>
    act(technician, between(20, 60), {
      type: 'conditions-recorded',
      room: temperature(0.2),
      instrument: temperature(0.2),
      standard: temperature(0.2),
    });
  conditions();

  const takePass = (pass: Pass): void => {
    let taken = 0;
    for (const point of state.points)
      for (let repeat = 0; repeat < procedure.points.repeats; repeat++) {
        if (options.stopAfterReadings !== undefined && taken >= options.stopAfterReadings) return;
        const reference = referenceValue(state, point, state.conditions).value;
        const travel = point.nominal - instrument.rangeLower;
        const error =
          truth.zero + truth.slope * travel + truth.periodic * Math.sin((2 * Math.PI * travel) / 0.5 + truth.phase + travel / 4);
        const indicated = reference + error + truth.repeatability * normalDeviate(random);
        act(technician, between(12, 35), {
          type: 'reading-taken',
          pass,
          point: point.id,
          text: roundTo(indicated, instrument.resolution),
        });
        taken++;
      }
  };
  takePass('as-found');
  if (options.stopAfterReadings !== undefined) return { events, truth };

  const results = passResults(state, 'as-found');
  const advice = proposeAdjustment(state, results, diagnose(results, state.instrument.resolution));
  act(technician, between(30, 120), { type: 'adjustment-decided', adjust: advice.adjust, proposed: advice.adjust, reason: '' });
  if (advice.adjust) {
    const step = instrument.resolution;
    const setting = instrument.rangeLower;
    const shift = diagnose(results, state.instrument.resolution).offset;
    const after = truth.zero - shift + 0.0003 * normalDeviate(random);
    act(technician, between(120, 400), {
      type: 'zero-adjusted',
      before: roundTo(setting + truth.zero, step),
      after: roundTo(setting + after, step),
      note: '',
    });
    truth = { ...truth, zero: after };
    conditions();
    takePass('as-left');
  }
  if (nextAction(state, new Date(clock).toISOString()).kind !== 'decide-interval')
    throw new Error('The simulated run did not reach its end.');
  const next = proposeNextDate(state, passResults(state, 'as-found'), new Date(clock + 60_000).toISOString().slice(0, 10));
  act(technician, 60, { type: 'interval-decided', next: next.date, proposed: next.date, reason: next.reason });
  act(technician, 60, { type: 'run-completed', certificate: options.certificate, remark: '' });
  if (options.reviewer) act(options.reviewer, between(1800, 9000), { type: 'run-reviewed', remark: '' });
  return { events, truth };
}
