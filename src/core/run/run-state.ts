import { fewestBlocks } from '../disciplines/dimensional/gauge-stack';
import { parseReading, type AsRead } from '../quantity/reading';
import type { ActOf, InstrumentSnapshot, Pass, RecordedEvent, StandardItem, StandardSnapshot } from './event-schema';
import type { Procedure } from '../procedure/procedure-schema';

export type Reading = AsRead & {
  sequence: number;
  at: string;
  person: string;
  struck: { reason: string; at: string; person: string } | null;
  conditions: Conditions;
};

/** Temperatures in force for a reading, in °C. */
export type Conditions = {
  sequence: number;
  at: string;
  room: AsRead;
  instrument: AsRead;
  standard: AsRead;
  reason: string | null;
};

export type RunPoint = { id: string; /** mm */ nominal: number; stack: StandardItem[]; stackChanged: boolean };

export type PointReadings = { readings: Reading[]; skipped: string | null };

export type RunState = {
  sequence: number;
  startedAt: string;
  startedBy: string;
  /** Where the days of this run are reckoned. */
  timeZone: string;
  instrument: InstrumentSnapshot;
  standard: StandardSnapshot;
  procedure: Procedure;
  points: RunPoint[];
  checks: Record<string, { outcome: 'yes' | 'no'; note: string; at: string; person: string }>;
  soak: { startedAt: string; endsAt: string; endedAt: string | null; earlyReason: string | null } | null;
  conditions: Conditions | null;
  passes: Record<Pass, Record<string, PointReadings>>;
  adjustmentDecision: (ActOf<'adjustment-decided'> & Signed) | null;
  adjustment: ({ before: AsRead; after: AsRead; note: string } & Signed) | null;
  notes: { text: string; at: string; person: string }[];
  interval: (ActOf<'interval-decided'> & Signed) | null;
  completed: (ActOf<'run-completed'> & Signed) | null;
  reviewed: (ActOf<'run-reviewed'> & Signed) | null;
  abandoned: (ActOf<'run-abandoned'> & Signed) | null;
};

export type Signed = { at: string; person: string; sequence: number };

const asRead = (typed: string): AsRead => {
  const parsed = parseReading(typed);
  if (!parsed.ok) throw new Error(`The log holds a number that cannot be read: ${typed}`);
  return parsed.reading;
};

/** The points of a procedure over the range to be calibrated, each with the fewest blocks of the standard. */
export function pointsOf(procedure: Procedure, instrument: InstrumentSnapshot, standard: StandardSnapshot): RunPoint[] {
  return procedure.points.offsets
    .map((offset) => Math.round((instrument.calibratedLower + offset) * 1e4) / 1e4)
    .filter((nominal) => nominal <= instrument.calibratedUpper + 1e-9)
    .map((nominal, i) => ({ id: `p${i + 1}`, nominal, stack: fewestBlocks(nominal, standard.items) ?? [], stackChanged: false }));
}

function initialState(event: RecordedEvent): RunState {
  const { act } = event;
  if (act.type !== 'run-started') throw new Error('A run begins with its start.');
  const points = pointsOf(act.procedure, act.instrument, act.standard);
  const empty = () => Object.fromEntries(points.map((p) => [p.id, { readings: [], skipped: null } as PointReadings]));
  return {
    sequence: event.sequence,
    startedAt: event.at,
    startedBy: event.person,
    timeZone: act.timeZone ?? 'UTC',
    instrument: act.instrument,
    standard: act.standard,
    procedure: act.procedure,
    points,
    checks: {},
    soak: null,
    conditions: null,
    passes: { 'as-found': empty(), 'as-left': empty() },
    adjustmentDecision: null,
    adjustment: null,
    notes: [],
    interval: null,
    completed: null,
    reviewed: null,
    abandoned: null,
  };
}

function apply(state: RunState, event: RecordedEvent): void {
  const { act, at, person, sequence } = event;
  state.sequence = sequence;
  const signed = { at, person, sequence };
  switch (act.type) {
    case 'run-started':
      throw new Error('A run starts once.');
    case 'check-answered':
      state.checks[act.check] = { outcome: act.outcome, note: act.note, at, person };
      break;
    case 'soak-started': {
      const endsAt = new Date(Date.parse(at) + state.procedure.soak.minutes * 60_000).toISOString();
      state.soak = { startedAt: at, endsAt, endedAt: null, earlyReason: null };
      break;
    }
    case 'soak-ended':
      if (state.soak) state.soak = { ...state.soak, endedAt: at, earlyReason: act.earlyReason ?? null };
      break;
    case 'conditions-recorded':
      state.conditions = {
        sequence,
        at,
        room: asRead(act.room),
        instrument: asRead(act.instrument),
        standard: asRead(act.standard),
        reason: act.reason ?? null,
      };
      break;
    case 'stack-chosen': {
      const point = state.points.find((p) => p.id === act.point);
      if (point) {
        point.stack = act.items.flatMap((item) => state.standard.items.find((i) => i.id === item) ?? []);
        point.stackChanged = true;
      }
      break;
    }
    case 'reading-taken':
      state.passes[act.pass][act.point]?.readings.push({
        ...asRead(act.text),
        sequence,
        at,
        person,
        struck: null,
        conditions: state.conditions!,
      });
      break;
    case 'reading-struck':
      for (const pass of Object.values(state.passes))
        for (const { readings } of Object.values(pass))
          for (const r of readings) if (r.sequence === act.sequence) r.struck = { reason: act.reason, at, person };
      break;
    case 'point-skipped':
      state.passes[act.pass][act.point]!.skipped = act.reason;
      break;
    case 'point-resumed':
      state.passes[act.pass][act.point]!.skipped = null;
      break;
    case 'adjustment-decided':
      state.adjustmentDecision = { ...act, ...signed };
      break;
    case 'zero-adjusted':
      state.adjustment = { before: asRead(act.before), after: asRead(act.after), note: act.note, ...signed };
      break;
    case 'note-added':
      state.notes.push({ text: act.text, at, person });
      break;
    case 'interval-decided':
      state.interval = { ...act, ...signed };
      break;
    case 'run-completed':
      state.completed = { ...act, ...signed };
      break;
    case 'run-reviewed':
      state.reviewed = { ...act, ...signed };
      break;
    case 'run-abandoned':
      state.abandoned = { ...act, ...signed };
      break;
  }
}

/**
 * The state of a run, computed from its log and nothing else.
 * @param events the whole log in order
 * @throws Error when the log is not one (a broken invariant, not something a person can cause)
 */
export function runState(events: readonly RecordedEvent[]): RunState {
  const [first, ...rest] = events;
  if (!first) throw new Error('A run has at least its start.');
  const state = initialState(first);
  for (const event of rest) apply(state, event);
  return state;
}

/** Readings that count: not struck out. */
export function liveReadings(point: PointReadings | undefined): Reading[] {
  return point ? point.readings.filter((r) => !r.struck) : [];
}

/** A point of a pass is settled when it has its repeats, or was skipped with a reason. */
export function isPointSettled(state: RunState, pass: Pass, pointId: string): boolean {
  const point = state.passes[pass][pointId];
  return !!point && (point.skipped !== null || liveReadings(point).length >= state.procedure.points.repeats);
}

export const isPassSettled = (state: RunState, pass: Pass): boolean =>
  state.points.every((p) => isPointSettled(state, pass, p.id));

/** The pass that stands for "as left": its own readings after an adjustment, else the as-found ones. */
export const asLeftPass = (state: RunState): Pass => (state.adjustment ? 'as-left' : 'as-found');
