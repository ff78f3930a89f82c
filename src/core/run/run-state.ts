import { doneAt } from '../log/acts';
import type {
  Act,
  ActOf,
  InstrumentSnapshot,
  Place,
  Places,
  PlacedPoint,
  Plan,
  PlanItem,
  RecordedEvent,
  StandardSnapshot,
} from '../log/event-schema';
import type { ProcedureDocument } from '../procedure/document-schema';
import { isOffScale, parseReading } from '../quantity/reading';

export type Signed = { at: string; person: string; sequence: number };

export type Reading = Signed & {
  slot: Slot;
  /** As typed; a number with a point as its decimal mark. */
  text: string;
  /** A number, or an option's id, or the text of a file. */
  value: number | string;
  /** The unit in which it was typed, where that is not the document's. */ unit?: string;
  reason: string | null;
  struck: (Signed & { reason: string }) | null;
};
export type Slot = Place & { series: string; point: string; repeat: number; observation: string };

export type StepRecord = Signed & {
  item: Place & { id: string };
  value: ActOf<'step-done'>['value'];
  text: string | null;
  reason: string | null;
};
export type WaitRecord = {
  begun: Signed;
  ended: (Signed & { reason: string | null }) | null;
  watched: (Signed & { text: string })[];
};
export type ConditionRecord = Signed & { set: string; id: string; text: string; value: number; reason: string | null };
export type SetRecord = { id: string; why: string; begun: Signed; ended: (Signed & { reason: string }) | null };
export type Withdrawn = Signed & Place & { reason: string };

/** The state of a run: what its log says, in the order in which the bench asks for it. */
export type RunState = {
  sequence: number;
  startedAt: string;
  startedBy: string;
  timeZone: string;
  instrument: InstrumentSnapshot;
  standards: Record<string, StandardSnapshot[]>;
  procedure: ProcedureDocument;
  choices: Record<string, string>;
  /** Day on which the instrument was received, where it was said. */ received: string | null;
  /** The set-up that it was put into with other instruments, and when it was taken out of it. */
  setUp: (NonNullable<ActOf<'run-started'>['setUp']> & { left: (Signed & { reason: string }) | null }) | null;
  /** Everything that is asked for, in order. */
  plan: PlanItem[];
  /** Place of each item in the plan. */
  places: Map<string, Places>;
  index: Map<string, number>;
  /** What is done, by item. */
  done: Map<string, Signed>;
  /** The first item that may not be done yet: nothing before it is open. */
  firstOpen: number;
  /** All readings in the order in which they were taken, struck ones too. */
  readings: Reading[];
  live: Map<string, Reading>;
  steps: StepRecord[];
  waits: Map<string, WaitRecord>;
  conditions: ConditionRecord[];
  /** Items that were chosen in place of those resolved, by set, series, instance, point and use. */
  items: Map<string, string[]>;
  skipped: Map<string, Signed & { reason: string }>;
  withdrawn: Withdrawn[];
  gates: Map<string, Signed & { passes: boolean; reason: string | null }>;
  sets: SetRecord[];
  decisions: (ActOf<'adjustment-decided'> & Signed)[];
  rulings: (ActOf<'ruling-out'> & Signed)[];
  adjusted: (ActOf<'adjusted'> & Signed)[];
  notes: (Signed & { text: string })[];
  interval: (ActOf<'interval-decided'> & Signed) | null;
  completed: (ActOf<'run-completed'> & Signed) | null;
  reviewed: (ActOf<'run-reviewed'> & Signed) | null;
  /** Each time review sent it back, with the certificate that this took away. */
  returned: (Signed & { remark: string; certificate: string })[];
  brokenOff: (ActOf<'run-broken-off'> & Signed) | null;
};

const part = (text: string | number | undefined): string => (text === undefined ? '' : String(text));
const placeKey = (p: Place): string => `${p.set}|${part(p.series)}|${part(p.each)}|${part(p.point)}|${part(p.sweep)}`;

/** The place that a key of what is skipped stands for. */
export function placeOfKey(key: string): Place & { series: string } {
  const [set, series, each, point, sweep] = key.split('|');
  return { set: set!, series: series!, ...(each ? { each } : {}), ...(point ? { point } : {}), ...(sweep ? { sweep } : {}) };
}

/** What tells one item of a plan from every other. */
export const itemKey = (item: PlanItem): string =>
  `${item.type}|${placeKey(item)}|${part('repeat' in item ? item.repeat : undefined)}|${'id' in item ? item.id : ''}`;

export const slotKey = ({ observation, ...place }: Slot): string => `reading|${placeKey(place)}|${place.repeat}|${observation}`;

/** The slot of a reading's item. */
export const slotOf = (item: PlanItem & { type: 'reading' }): Slot => ({
  set: item.set,
  series: item.series!,
  ...(item.each === undefined ? {} : { each: item.each }),
  point: item.point!,
  ...(item.sweep === undefined ? {} : { sweep: item.sweep }),
  repeat: item.repeat ?? 1,
  observation: item.id,
});

export const placesKey = (set: string, series: string, each: string | null | undefined): string =>
  `${set}|${series}|${each ?? ''}`;
export const usedItemsKey = (p: Place, use: string): string =>
  `${p.set}|${part(p.series)}|${part(p.each)}|${part(p.point)}|${use}`;

/** The resolved point of a place; undefined where the plan has not resolved it. */
export const placedPoint = (state: RunState, p: Place): PlacedPoint | undefined =>
  state.places.get(placesKey(p.set, p.series ?? '', p.each))?.points.find((point) => point.id === p.point);

/** Why a place is skipped: itself, its point in every sweep, its instance or its series; null when it is not. */
export function skipOf(state: RunState, p: Place): (Signed & { reason: string }) | null {
  if (state.skipped.size === 0 || p.series === undefined) return null;
  const { set, series, each, point, sweep } = p;
  const scopes: Place[] = [
    {
      set,
      series,
      ...(each === undefined ? {} : { each }),
      ...(point === undefined ? {} : { point }),
      ...(sweep === undefined ? {} : { sweep }),
    },
    { set, series, ...(each === undefined ? {} : { each }), ...(point === undefined ? {} : { point }) },
    { set, series, ...(each === undefined ? {} : { each }) },
    { set, series },
  ];
  for (const scope of scopes) {
    const found = state.skipped.get(placeKey(scope));
    if (found) return found;
  }
  return null;
}

const slotsOfPoints = new WeakMap<readonly PlanItem[], Map<string, Slot[]>>();

/** The readings that a plan wants of every point, by its place with and without the passage. */
function slotsByPoint(plan: readonly PlanItem[]): Map<string, Slot[]> {
  let known = slotsOfPoints.get(plan);
  if (known) return known;
  known = new Map();
  for (const item of plan) {
    if (item.type !== 'reading') continue;
    const slot = slotOf(item);
    const { sweep, ...point } = slot;
    for (const key of new Set([placeKey(point), placeKey({ ...point, ...(sweep === undefined ? {} : { sweep }) })]))
      known.set(key, [...(known.get(key) ?? []), slot]);
  }
  slotsOfPoints.set(plan, known);
  return known;
}

/** Whether everything that is wanted of a point (of one passage, where the place names it) has been read or skipped. */
export const isPointRead = (state: RunState, point: Place): boolean =>
  (slotsByPoint(state.plan).get(placeKey(point)) ?? []).every(
    (slot) => state.live.has(slotKey(slot)) || skipOf(state, slot) !== null,
  );

export const setOf = (state: RunState, set: string): SetRecord | undefined => state.sets.find((s) => s.id === set);

/** Whether nothing of a set may be changed any more: it was judged, or another set has begun. */
export function isClosed(state: RunState, set: string): boolean {
  const judge = itemKey({ type: 'judge', set });
  return state.index.has(judge) ? state.done.has(judge) : state.sets.at(-1)!.id !== set;
}

const readsNothing = new Set(['judge', 'adjust', 'begin', 'interval', 'complete']);

/** Whether an item of the plan is done, skipped, or passed over because its set was ended early. */
export function isDone(state: RunState, item: PlanItem): boolean {
  if (state.done.has(itemKey(item))) return true;
  if (readsNothing.has(item.type)) return false;
  // Ended early: what has a series is passed over; steps of the run itself are done all the same.
  if (item.series !== undefined || item.type === 'condition') if (setOf(state, item.set)?.ended) return true;
  return skipOf(state, item) !== null;
}

function insert(state: RunState, plan: Plan, set: string, after: number): void {
  for (const p of plan.places) state.places.set(placesKey(set, p.series, p.each), p);
  // One after the other: a call with a long list would overflow the stack.
  state.plan = [...state.plan.slice(0, after), ...plan.items, ...state.plan.slice(after)];
  state.plan.forEach((item, i) => state.index.set(itemKey(item), i));
  state.firstOpen = Math.min(state.firstOpen, after);
}

function initialState(event: RecordedEvent): RunState {
  const { act } = event;
  if (act.type !== 'run-started') throw new Error('A run begins with its start.');
  const at = doneAt(event);
  const signed = { at, person: event.person, sequence: event.sequence };
  const state: RunState = {
    sequence: event.sequence,
    startedAt: at,
    startedBy: event.person,
    timeZone: act.timeZone,
    instrument: act.instrument,
    standards: act.standards,
    procedure: act.procedure,
    choices: act.choices,
    received: act.received ?? null,
    setUp: act.setUp ? { ...act.setUp, left: null } : null,
    plan: [],
    places: new Map(),
    index: new Map(),
    done: new Map(),
    firstOpen: 0,
    readings: [],
    live: new Map(),
    steps: [],
    waits: new Map(),
    conditions: [],
    items: new Map(),
    skipped: new Map(),
    withdrawn: [],
    gates: new Map(),
    sets: [{ id: act.plan.items[0]?.set ?? 'as-found', why: '', begun: signed, ended: null }],
    decisions: [],
    rulings: [],
    adjusted: [],
    notes: [],
    interval: null,
    completed: null,
    reviewed: null,
    returned: [],
    brokenOff: null,
  };
  insert(state, act.plan, state.sets[0]!.id, 0);
  return state;
}

const markDone = (state: RunState, item: PlanItem, signed: Signed): void => {
  state.done.set(itemKey(item), signed);
};
const reopen = (state: RunState, key: string): void => {
  state.done.delete(key);
  const at = state.index.get(key);
  if (at !== undefined) state.firstOpen = Math.min(state.firstOpen, at);
};

/** Whether a run is a quick check between calibrations. */
export const isQuickCheck = (state: Pick<RunState, 'sets'>): boolean => state.sets[0]!.id === 'quick';

/** The place of an act without its other members. */
export const placeOf = (p: Place): Place => ({
  set: p.set,
  ...(p.series === undefined ? {} : { series: p.series }),
  ...(p.each === undefined ? {} : { each: p.each }),
  ...(p.point === undefined ? {} : { point: p.point }),
  ...(p.sweep === undefined ? {} : { sweep: p.sweep }),
  ...(p.repeat === undefined ? {} : { repeat: p.repeat }),
});

/** The value that a typed observation has: a number where it is one. */
function observedValue(state: RunState, act: ActOf<'observed'>): { text: string; value: number | string } {
  const series = state.procedure.series.find((s) => s.id === act.series);
  const type = series?.observe.find((o) => o.id === act.observation)?.type ?? 'number';
  if (type !== 'number') return { text: act.text, value: act.text };
  if (isOffScale(act.text)) return { text: act.text, value: act.text };
  const parsed = parseReading(act.text);
  if (!parsed.ok) throw new Error(`The log holds a number that cannot be read: ${act.text}`);
  return { text: parsed.reading.text, value: parsed.reading.value };
}

function apply(state: RunState, event: RecordedEvent): void {
  const { act, person, sequence } = event;
  state.sequence = sequence;
  const signed: Signed = { at: doneAt(event), person, sequence };
  switch (act.type) {
    case 'run-started':
      throw new Error('A run starts once.');
    case 'step-done':
      state.steps.push({
        ...signed,
        item: { ...placeOf(act), id: act.id },
        value: act.value,
        text: act.text ?? null,
        reason: act.reason ?? null,
      });
      return markDone(state, { type: 'step', ...placeOf(act), id: act.id }, signed);
    case 'wait-begun':
      state.waits.set(waitKey(act), { begun: signed, ended: null, watched: [] });
      return;
    case 'watched': {
      const wait = state.waits.get(waitKey(act));
      if (wait) state.waits.set(waitKey(act), { ...wait, watched: [...wait.watched, { ...signed, text: act.text }] });
      return;
    }
    case 'wait-ended': {
      const wait = state.waits.get(waitKey(act)) ?? { begun: signed, ended: null, watched: [] };
      state.waits.set(waitKey(act), { ...wait, ended: { ...signed, reason: act.reason ?? null } });
      return markDone(state, { type: 'step', ...placeOf(act), id: act.id }, signed);
    }
    case 'conditions-recorded':
      for (const [id, typed] of Object.entries(act.values)) {
        const parsed = parseReading(typed);
        if (!parsed.ok) throw new Error(`The log holds a number that cannot be read: ${typed}`);
        const { text, value } = parsed.reading;
        state.conditions.push({ ...signed, set: act.set, id, text, value, reason: act.reason ?? null });
        markDone(state, { type: 'condition', ...placeOf(act), id }, signed);
      }
      return;
    case 'items-chosen':
      state.items.set(usedItemsKey(act, act.use), act.items);
      return;
    case 'observed': {
      const { observation, ...place } = { ...placeOf(act), observation: act.observation };
      const slot = { ...place, observation } as Slot;
      const reading: Reading = {
        ...signed,
        slot,
        ...observedValue(state, act),
        ...(act.unit === undefined ? {} : { unit: act.unit }),
        reason: act.reason ?? null,
        struck: null,
      };
      state.readings.push(reading);
      const key = slotKey(slot);
      state.live.set(key, reading);
      state.done.set(key, signed);
      return;
    }
    case 'struck': {
      const at = state.readings.findIndex((r) => r.sequence === act.sequence);
      const reading = state.readings[at];
      if (!reading) return;
      state.readings[at] = { ...reading, struck: { ...signed, reason: act.reason } };
      const key = slotKey(reading.slot);
      state.live.delete(key);
      return reopen(state, key);
    }
    case 'skipped':
      state.skipped.set(placeKey(act), { ...signed, reason: act.reason });
      return;
    case 'resumed':
      state.skipped.delete(placeKey(act));
      state.firstOpen = 0;
      return;
    case 'plan-resolved': {
      const key = itemKey({ type: 'open', ...placeOf(act), id: act.series });
      const at = state.index.get(key) ?? state.firstOpen;
      state.done.set(key, signed);
      return insert(state, act.plan, act.set, at + 1);
    }
    case 'gate-passed':
      state.gates.set(itemKey({ type: 'gate', ...placeOf(act), id: act.id }), {
        ...signed,
        passes: act.passes,
        reason: act.reason ?? null,
      });
      return markDone(state, { type: 'gate', ...placeOf(act), id: act.id }, signed);
    case 'set-begun': {
      state.sets.push({ id: act.set, why: act.why, begun: signed, ended: null });
      const key = itemKey({ type: 'begin', set: act.set });
      state.done.set(key, signed);
      return insert(state, act.plan, act.set, (state.index.get(key) ?? state.firstOpen) + 1);
    }
    case 'set-ended': {
      state.sets = state.sets.map((s) => (s.id === act.set ? { ...s, ended: { ...signed, reason: act.reason } } : s));
      return;
    }
    case 'withdrawn': {
      const { set, series, each } = act;
      state.withdrawn.push({ ...signed, ...placeOf(act), reason: act.reason });
      state.readings = state.readings.map((r) => {
        if (r.struck || r.slot.set !== set || r.slot.series !== series || (each !== undefined && r.slot.each !== each)) return r;
        const key = slotKey(r.slot);
        state.live.delete(key);
        reopen(state, key);
        return { ...r, struck: { ...signed, reason: act.reason } };
      });
      return;
    }
    case 'adjustment-decided': {
      state.decisions.push({ ...act, ...signed });
      const key = itemKey({ type: 'judge', set: act.set });
      state.done.set(key, signed);
      return insert(state, act.plan, act.set, (state.index.get(key) ?? state.firstOpen) + 1);
    }
    case 'adjustment-abandoned': {
      const decision = state.decisions.pop()!;
      const brought = new Set(decision.plan.items.map(itemKey));
      for (const key of brought) {
        state.done.delete(key);
        state.index.delete(key);
      }
      state.plan = state.plan.filter((item) => !brought.has(itemKey(item)));
      state.plan.forEach((item, i) => state.index.set(itemKey(item), i));
      return reopen(state, itemKey({ type: 'judge', set: act.set }));
    }
    case 'ruling-out': {
      state.rulings.push({ ...act, ...signed });
      // Begun at a gate: what the set has not read yet is passed over; the set that follows reads it.
      if (state.plan[state.firstOpen]?.type !== 'judge')
        state.sets = state.sets.map((s) => (s.id === act.set ? { ...s, ended: { ...signed, reason: act.note } } : s));
      const key = itemKey({ type: 'judge', set: act.set });
      state.done.set(key, signed);
      return insert(state, act.plan, act.set, (state.index.get(key) ?? state.firstOpen) + 1);
    }
    case 'adjusted':
      state.adjusted.push({ ...act, ...signed });
      return markDone(
        state,
        { type: 'adjust', set: act.set, ...(act.each === undefined ? {} : { each: act.each }), id: act.id },
        signed,
      );
    case 'note-added':
      state.notes.push({ ...signed, text: act.text });
      return;
    case 'left-set-up':
      if (state.setUp) state.setUp = { ...state.setUp, left: { ...signed, reason: act.reason } };
      return;
    case 'interval-decided':
      state.interval = { ...act, ...signed };
      return markDone(state, { type: 'interval', set: state.sets[0]!.id }, signed);
    case 'run-completed':
      state.completed = { ...act, ...signed };
      return markDone(state, { type: 'complete', set: state.sets[0]!.id }, signed);
    case 'run-reviewed':
      state.reviewed = { ...act, ...signed };
      return;
    case 'run-returned': {
      state.returned.push({ ...signed, remark: act.remark, certificate: state.completed?.certificate ?? '' });
      state.completed = null;
      state.interval = null;
      const first = state.sets[0]!.id;
      reopen(state, itemKey({ type: 'complete', set: first }));
      reopen(state, itemKey({ type: 'interval', set: first }));
      // Readings of the last set can be struck out and taken again, where they were left as they were.
      const decision = state.decisions.at(-1);
      if (decision && decision.adjustment === null && decision.set === state.sets.at(-1)!.id)
        reopen(state, itemKey({ type: 'judge', set: decision.set }));
      return;
    }
    case 'run-broken-off':
      state.brokenOff = { ...act, ...signed };
      return;
    default:
      throw new Error(`Nobody knows the act "${(act as Act).type}".`);
  }
}

export const waitKey = (p: Place & { id: string }): string => itemKey({ type: 'step', ...placeOf(p), id: p.id });

/**
 * A run's state after one more event. What is long is carried over, not copied: the state that was given must not be used again.
 */
export function withEvent(state: RunState, event: RecordedEvent): RunState {
  const next = { ...state };
  apply(next, event);
  advance(next);
  return next;
}

function advance(state: RunState): void {
  while (state.firstOpen < state.plan.length && isDone(state, state.plan[state.firstOpen]!)) state.firstOpen++;
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
  advance(state);
  for (const event of rest) {
    apply(state, event);
    advance(state);
  }
  return state;
}
