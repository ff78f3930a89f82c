import * as z from 'zod';
import { planSchema, type Plan } from '../plan/plan-schema';
import type { Role } from '../register/roles';
import type { Refusal } from '../state/refusal';
import type { RunState, Signed } from '../state/run-state';
import type { Spread } from './spreading';

/** Who acts, and when by the clock at the bench (ISO time). */
export type Moment = {
  person: string;
  now: string;
  /** There is nobody else who could review. */ isOfOne: boolean;
};

type Rules<A> = {
  /** Whether it may be added to a run as it stands: null when it may, else what to tell the person. */
  admit: (state: RunState, act: A, at: Moment) => Refusal | null;
  /** What it changes in the state. */
  fold: (state: RunState, act: A, signed: Signed) => void;
  /** It, as a sentence of the record. */
  words: (act: A, state: RunState) => string;
  /** What it means for the other runs of a set-up. */
  spread: Spread<A>;
  /** The part of the plan that it brings; null where nothing can be told yet. Its shape then has a `plan`. */
  plan?: (state: RunState, act: A) => Plan | null;
  /** It, with what the core adds to it before it is kept. */
  kept?: (state: RunState, act: A) => A;
  /** It belongs to a run that is finished, and to no other. */
  ofFinished?: true;
  /** It belongs to a run that is signed. */
  ofSigned?: true;
  /** What whoever does it signs by it, in words; null where nothing is signed. */
  signs?: (state: RunState) => string | null;
  /** Who may do it; a technician where nothing is said. */
  roles?: readonly Role[];
};

const version = z.literal(2).default(2);

/** What an act adds to the plan: the core works it out (`withPlan`), so whoever asks for the act may leave it out. */
export const none: Plan = { items: [], places: [] };
export const addedPlan = planSchema.default(() => none);

/** An act: its shape, and everything that the core knows of it. */
export function actKind<const T extends string, S extends z.ZodRawShape>(
  type: T,
  shape: S,
  rules: Rules<z.output<z.ZodObject<{ type: z.ZodLiteral<T>; version: typeof version } & S>>>,
) {
  const schema = z.object({ type: z.literal(type), version, ...shape }) as unknown as z.ZodObject<
    { type: z.ZodLiteral<T>; version: typeof version } & S
  >;
  return { type, schema, ...rules };
}
