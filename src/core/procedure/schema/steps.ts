import * as z from 'zod';
import { n } from './distributions';
import { text, formulaText, numSchema, nameId, plainId, unitSchema, sets, when, option } from './parts';

/** Steps: what is confirmed, identified, chosen, measured, checked, waited for, done, connected. */

/** The most minutes that a wait may be told to take. */
export const longestWait = 100_000;
const stepMembers = {
  id: nameId,
  title: text,
  caution: text.optional(),
  handsOn: z.number().nonnegative().optional(),
  /** It changes what the instrument would show: not before it is read as found, unless its owner does it before every use. */
  touches: z.boolean().optional(),
  asInUse: z.boolean().optional(),
  /** With several instruments in one set-up: whether it is done once for all of them. */
  shared: z.boolean().optional(),
  when,
  sets: sets.optional(),
  sweeps: z.array(plainId).optional(),
  before: z.enum(['instance', 'sweep', 'point', 'repeat']).optional(),
  after: z.enum(['instance', 'sweep', 'point', 'repeat', 'run']).optional(),
};
export const near = z.strictObject({ is: formulaText, within: n });
export const stepSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('confirm'), ...stepMembers, ask: text }),
  z.strictObject({
    kind: z.literal('identify'),
    ...stepMembers,
    what: z.string(),
    ask: text,
    typed: z.literal('certified').optional(),
  }),
  z.strictObject({
    kind: z.literal('choose'),
    ...stepMembers,
    ask: text,
    options: z.array(option).min(1),
    want: z.string().optional(),
  }),
  z.strictObject({
    kind: z.literal('measure'),
    ...stepMembers,
    ask: text,
    /** Without one, a pure number. */
    unit: unitSchema.default('1'),
    lower: n.optional(),
    upper: n.optional(),
    near: near.optional(),
  }),
  z.strictObject({
    kind: z.literal('check'),
    ...stepMembers,
    is: formulaText,
    unit: unitSchema,
    lower: n.optional(),
    upper: n.optional(),
  }),
  z.strictObject({
    kind: z.literal('wait'),
    ...stepMembers,
    instruction: text,
    minutes: z.union([z.number().nonnegative().max(longestWait), z.strictObject({ is: formulaText })]),
    warnMinutes: z.number().nonnegative().optional(),
    since: nameId.optional(),
    until: z
      .union([
        z.strictObject({ settled: z.string(), within: n, forMinutes: z.number().nonnegative() }),
        z.strictObject({ near: formulaText, of: z.string().optional(), within: n, warnWithin: n.optional() }),
      ])
      .optional(),
  }),
  z.strictObject({
    kind: z.literal('do'),
    ...stepMembers,
    instruction: text,
    /**
     * Numbers that are keyed in, ticked one by one; `step`: what the instrument takes, to which each is rounded. By its `id` the number
     * as keyed is a name in formulas, `step.<step>.<id>`.
     */
    show: z
      .array(
        z.strictObject({ id: nameId.optional(), title: text, unit: unitSchema, is: formulaText, step: numSchema.optional() }),
      )
      .optional(),
  }),
  z.strictObject({
    kind: z.literal('settings'),
    ...stepMembers,
    ask: text.optional(),
    /** What the instrument must hold: expected beside shown. Without `want` it is only recorded. */
    settings: z
      .array(
        z.strictObject({
          id: nameId,
          title: text,
          want: z.union([text, z.number(), z.strictObject({ is: formulaText })]).optional(),
          unit: unitSchema.optional(),
          /** What it takes, to which a wanted number is rounded. */ step: numSchema.optional(),
          options: z.array(text).optional(),
          /** Where it is found. */ hint: text.optional(),
          when,
        }),
      )
      .min(1)
      .max(40),
    /** A step whose settings, as they were found, are wanted again. */
    restores: nameId.optional(),
  }),
  z.strictObject({ kind: z.literal('connect'), ...stepMembers, from: nameId, to: z.string() }),
]);
