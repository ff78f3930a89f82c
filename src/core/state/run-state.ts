import type { StepValue } from '../evaluate/case-schema';
import type { Proposal, SchoolId } from '../interval/proposal';
import type { Place, Places, PlacedPoint, Plan, PlanItem } from '../plan/plan-schema';
import type { InstrumentSnapshot, StandardSnapshot } from '../plan/snapshots';
import type { ProcedureDocument } from '../procedure/document-schema';

import { itemKey, placesKey } from './place-keys';
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
  value: StepValue;
  text: string | null;
  reason: string | null;
  /** Settings as shown, or numbers as keyed in. */ shown?: Record<string, string>;
};
export type WaitRecord = {
  begun: Signed;
  ended: (Signed & { reason: string | null }) | null;
  watched: (Signed & { text: string })[];
};
export type ConditionRecord = Signed & { set: string; id: string; text: string; value: number; reason: string | null };
export type SetRecord = { id: string; why: string; begun: Signed; ended: (Signed & { reason: string }) | null };
export type Withdrawn = Signed & Place & { reason: string };
/** A set was judged: what is adjusted, or null where it is left. */
export type Decision = Signed & {
  set: string;
  adjustment: string | null;
  each?: string | undefined;
  proposed: string | null;
  reason: string;
  plan: Plan;
};
export type Ruling = Signed & { set: string; id: string; note: string; plan: Plan };
/** A cause that was looked for, and what was read afterwards at one point of the set. */
export type RungRecord = Signed & {
  id: string;
  note: string;
  place: Place;
  /** Values by observation, as typed and as numbers; none where nothing was read. */
  look: (Signed & { values: Record<string, number>; texts: Record<string, string> }) | null;
};
/** What a point read while two settings were turned in rounds. */
export type TurnRecord = Signed & { id: string; place: Place; values: Record<string, number>; texts: Record<string, string> };
export type AdjustedRecord = Signed & {
  set: string;
  id: string;
  each?: string | undefined;
  stored: Record<string, { before?: string | undefined; after: string; readBack?: string | undefined }>;
  note: string;
};
export type IntervalRecord = Signed & {
  next: string;
  proposed: string;
  reason: string;
  school?: SchoolId | undefined;
  advice?: Proposal[] | undefined;
};
export type LimitedRecord = Signed & {
  to: { series: string; lower?: number | undefined; upper?: number | undefined }[];
  agreed: string;
};
export type Completion = Signed & {
  certificate: string;
  remark: string;
  issued?: { content: Record<string, unknown>; digest: string; log?: string | undefined } | undefined;
};
/** What a run begins with. */
export type RunBeginning = {
  instrument: InstrumentSnapshot;
  standards: Record<string, StandardSnapshot[]>;
  procedure: ProcedureDocument;
  choices: Record<string, string>;
  plan: Plan;
  received?: string | undefined;
  timeZone: string;
  setUp?: { id: string; place: number; of: number } | undefined;
  /** The cause that a quick check looks for. */ looksFor?: string | undefined;
  /** How repeats scattered in former runs, by series, result and instance, as `scatterKey` names them. */
  formerScatter?: Record<string, Scatter> | undefined;
};

/** How far repeats scatter: a standard deviation in the unit of the result, and what it rests on. */
export type Scatter = { standardDeviation: number; dof: number };

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
  setUp: (NonNullable<RunBeginning['setUp']> & { left: (Signed & { reason: string }) | null }) | null;
  /** The cause that a quick check looks for; null where it looks for none. */ looksFor: string | null;
  /** How its repeats, or those of its kin, scattered in former runs; nothing where that was not known when it began. */
  formerScatter: Readonly<Record<string, Scatter>>;
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
  decisions: Decision[];
  /** Decisions that were taken back before anything was changed. */
  abandoned: (Signed & { set: string; reason: string })[];
  rulings: Ruling[];
  rungs: RungRecord[];
  turns: TurnRecord[];
  adjusted: AdjustedRecord[];
  notes: (Signed & { text: string })[];
  interval: IntervalRecord | null;
  /** What it may be used for although it is outside as it was left, as agreed; null: nothing was. */ limited: LimitedRecord | null;
  completed: Completion | null;
  reviewed: (Signed & { remark: string }) | null;
  /** Each time review sent it back, with the certificate that this took away. */
  returned: (Signed & { remark: string; certificate: string })[];
  /** Each time a mistake was found after it was signed: the certificate that another issue then replaces, as it was issued. */
  corrections: (Signed & {
    reason: string;
    certificate: string;
    /** When that one was finished. */ finishedAt: string;
    issued: Record<string, unknown> | null;
  })[];
  /** Names that were mistyped, and what they are. */
  amended: (Signed & { member: string; title: string; before: string; after: string; reason: string })[];
  /** The certificate was taken back for good. */
  withdrawnIssue: (Signed & { reason: string }) | null;
  brokenOff: (Signed & { reason: string; outOfUse?: true | undefined }) | null;
};

/** The resolved point of a place; undefined where the plan has not resolved it. @example placedPoint(run, place).nominal // 7.7 */
export const placedPoint = (state: RunState, p: Place): PlacedPoint | undefined =>
  state.places.get(placesKey(p.set, p.series ?? '', p.each))?.points.find((point) => point.id === p.point);

/** Puts a part into the plan, after so many of its items. */
export function insert(state: RunState, plan: Plan, set: string, after: number): void {
  for (const p of plan.places) state.places.set(placesKey(set, p.series, p.each), p);
  // One after the other: a call with a long list would overflow the stack.
  state.plan = [...state.plan.slice(0, after), ...plan.items, ...state.plan.slice(after)];
  state.plan.forEach((item, i) => state.index.set(itemKey(item), i));
  state.firstOpen = Math.min(state.firstOpen, after);
}

/** A run of which nothing has been done: its plan is still to be put in. */
export function emptyState(act: RunBeginning, signed: Signed): RunState {
  return {
    sequence: signed.sequence,
    startedAt: signed.at,
    startedBy: signed.person,
    timeZone: act.timeZone,
    instrument: act.instrument,
    standards: act.standards,
    procedure: act.procedure,
    choices: act.choices,
    received: act.received ?? null,
    setUp: act.setUp ? { ...act.setUp, left: null } : null,
    looksFor: act.looksFor ?? null,
    formerScatter: act.formerScatter ?? {},
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
    abandoned: [],
    rulings: [],
    rungs: [],
    turns: [],
    adjusted: [],
    notes: [],
    interval: null,
    limited: null,
    completed: null,
    reviewed: null,
    returned: [],
    corrections: [],
    amended: [],
    withdrawnIssue: null,
    brokenOff: null,
  };
}

export const markDone = (state: RunState, item: PlanItem, signed: Signed): void => {
  state.done.set(itemKey(item), signed);
};
/** A finished run is at the bench again: what was finished is open, and readings of the last set can be taken anew where they were left. */
export function reopenFinished(state: RunState): void {
  state.completed = null;
  reopen(state, itemKey({ type: 'complete', set: state.sets[0]!.id }));
  const decision = state.decisions.at(-1);
  if (decision && decision.adjustment === null && decision.set === state.sets.at(-1)!.id)
    reopen(state, itemKey({ type: 'judge', set: decision.set }));
}
/** The next date is asked for again: what it rested on is another. */
export function reopenDate(state: RunState): void {
  state.interval = null;
  reopen(state, itemKey({ type: 'interval', set: state.sets[0]!.id }));
}
/** What was done is open again. */
export const reopen = (state: RunState, key: string): void => {
  state.done.delete(key);
  const at = state.index.get(key);
  if (at !== undefined) state.firstOpen = Math.min(state.firstOpen, at);
};

/** Whether a run is a quick check between calibrations. @example isQuickCheck(run) // false */
export const isQuickCheck = (state: Pick<RunState, 'sets'>): boolean => state.sets[0]!.id === 'quick';
