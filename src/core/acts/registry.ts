import * as z from 'zod';
import { line } from '../plan/atoms';
import type { Role } from '../register/roles';
import { clockMarkSchema, doneSchema } from '../state/logged';
import type { Refusal } from '../state/refusal';
import type { RunState, Signed } from '../state/run-state';
import { adjusted } from './adjusted';
import { adjustmentAbandoned } from './adjustment-abandoned';
import { adjustmentDecided } from './adjustment-decided';
import { amended } from './amended';
import { certificateWithdrawn } from './certificate-withdrawn';
import { correctionBegun } from './correction-begun';
import { conditionsRecorded } from './conditions-recorded';
import { gatePassed } from './gate-passed';
import { intervalDecided } from './interval-decided';
import { itemsChosen } from './items-chosen';
import { leftSetUp } from './left-set-up';
import { moreAsked } from './more-asked';
import { noteAdded } from './note-added';
import { observed } from './observed';
import { planResolved } from './plan-resolved';
import { resumed } from './resumed';
import { rulingOut } from './ruling-out';
import { limited } from './limited';
import { looked } from './looked';
import { runBrokenOff } from './run-broken-off';
import { runCompleted } from './run-completed';
import { runReturned } from './run-returned';
import { runReviewed } from './run-reviewed';
import { runStarted } from './run-started';
import { rungTried } from './rung-tried';
import { setBegun } from './set-begun';
import { setEnded } from './set-ended';
import { skipped } from './skipped';
import { stepDone } from './step-done';
import { struck } from './struck';
import { turnRead } from './turn-read';
import { waitBegun } from './wait-begun';
import { waitEnded } from './wait-ended';
import { watched } from './watched';
import { withdrawn } from './withdrawn';
import type { Moment } from './act-kind';
import type { Spreading } from './spreading';
import type { Plan } from '../plan/plan-schema';

/** Every act of the log, version 2: everything a person does at the bench, one kind each. */
const kinds = [
  runStarted,
  stepDone,
  waitBegun,
  watched,
  waitEnded,
  conditionsRecorded,
  itemsChosen,
  observed,
  struck,
  skipped,
  resumed,
  planResolved,
  gatePassed,
  setBegun,
  setEnded,
  withdrawn,
  adjustmentDecided,
  adjustmentAbandoned,
  rulingOut,
  rungTried,
  looked,
  moreAsked,
  turnRead,
  adjusted,
  noteAdded,
  leftSetUp,
  limited,
  intervalDecided,
  runCompleted,
  runReviewed,
  runReturned,
  runBrokenOff,
  correctionBegun,
  amended,
  certificateWithdrawn,
] as const;

export const actSchemas = kinds.map((k) => k.schema);
const [first, ...others] = actSchemas;
export const actSchema = z.discriminatedUnion('type', [first!, ...others]);

export const recordedEventSchema = z.object({
  sequence: z.number().int().positive(),
  /** When it was recorded, by the server's clock. */
  at: z.iso.datetime(),
  done: doneSchema.optional(),
  person: line,
  act: actSchema,
  clock: clockMarkSchema.optional(),
  /** The token by which the person did it; none where it was done at a screen. */
  token: z.string().optional(),
});

export type Act = z.infer<typeof actSchema>;
/** An act as it may be given: without its version, and with what has a default left out. */
export type NewAct = z.input<typeof actSchema>;
export type ActOf<T extends Act['type']> = Extract<Act, { type: T }>;
export type RecordedEvent = z.infer<typeof recordedEventSchema>;

/** What is known of an act, whichever it is. */
export type AnyKind = {
  type: Act['type'];
  admit: (state: RunState, act: Act, at: Moment) => Refusal | null;
  fold: (state: RunState, act: Act, signed: Signed) => void;
  words: (act: Act, state: RunState) => string;
  spread: (s: Spreading, act: Act) => { member: number; act: Act }[];
  plan?: (state: RunState, act: Act) => Plan | null;
  kept?: (state: RunState, act: Act) => Act;
  ofFinished?: true;
  ofSigned?: true;
  signs?: (state: RunState) => string | null;
  roles?: readonly Role[];
};

const byType = new Map<string, AnyKind>(kinds.map((k) => [k.type, k as unknown as AnyKind]));

/** What is known of an act. @throws Error for one that nobody knows @example kindOf({ type: 'observed' }).type // 'observed' */
export function kindOf(act: { type: string }): AnyKind {
  const kind = byType.get(act.type);
  if (!kind) throw new Error(`Nobody knows the act "${act.type}".`);
  return kind;
}

/**
 * An act in the shape in which a log keeps it, with its version and what has a default. What was typed is looked at by `admit`, and the
 * shape by the schema where it arrives.
 * @example asAct({ type: 'note-added', text: 'warm' }).version // 2
 */
export const asAct = (entry: NewAct): Act =>
  ({ ...(kindOf(entry).plan ? { plan: { items: [], places: [] } } : {}), ...entry, version: 2 }) as Act;
