import * as z from 'zod';
import { decisionRuleSchema } from '../../conformity/conformity-schema';
import { n } from './distributions';
import { text, formulaText, nameId, plainId, unitSchema, sets, when } from './parts';
import { resultSchema, aggregateSchema, fitSchema } from './results';
import { stepSchema } from './steps';

/** Series: which points are read, what is observed there, and what becomes of it. */

export const useSchema = z.strictObject({
  role: nameId.optional(),
  part: z.string().optional(),
  item: formulaText.optional(),
  pick: z.enum(['equal', 'nearest', 'at-least', 'at-most']).optional(),
  where: z.record(z.string(), formulaText).optional(),
  stack: formulaText.optional(),
  at: formulaText.optional(),
  unit: z.string().optional(),
});
const tableRow = z.looseObject({ nominal: n.optional(), label: z.string().optional(), when });
const pointMembers = {
  unit: unitSchema.optional(),
  nearest: nameId.optional(),
  list: z.union([z.array(n).min(1), z.string()]).optional(),
  fractions: z.array(n).min(1).optional(),
  offsets: z.array(n).min(1).optional(),
  from: n.optional(),
  to: n.optional(),
  step: n.optional(),
  items: nameId.optional(),
  table: z.array(tableRow).min(1).optional(),
};
const pointsSchema = z.strictObject({
  ...pointMembers,
  /** Points for an instrument that is registered in another unit: literals in that unit, formulas in the document's. */
  inUnit: z.record(z.string(), z.strictObject(pointMembers)).optional(),
});
const observeSchema = z.strictObject({
  id: nameId,
  title: text.optional(),
  of: z.string(),
  unit: unitSchema.optional(),
  resolution: n.optional(),
  type: z.enum(['number', 'choice', 'file']).default('number'),
  options: z
    .array(z.looseObject({ id: plainId, title: text, accept: z.boolean().optional(), caution: text.optional() }))
    .optional(),
  per: z.enum(['repeat', 'point', 'sweep', 'instance']).default('repeat'),
  lower: n.optional(),
  upper: n.optional(),
  /** Ends of the scale: a reading there says only that the indication lies at or beyond it. */
  saturates: z.strictObject({ lower: n.optional(), upper: n.optional() }).optional(),
  capture: z.enum(['last', 'least', 'greatest']).optional(),
  instruction: text.optional(),
  caution: text.optional(),
  settleSeconds: z.number().nonnegative().optional(),
  /** An eye estimates toward what it has seen: while this is asked, what else was read at its point stays hidden. */
  blind: z.boolean().optional(),
  /** With several instruments in one set-up: whether it is read once for all of them. */
  shared: z.boolean().optional(),
  when,
});
export const seriesSchema = z.strictObject({
  id: nameId,
  title: text,
  sketch: z.string().optional(),
  /** Each point is a thing of its own, such as a block of a set: nothing is told of a line through them. */
  separate: z.boolean().optional(),
  sets: sets.default(['as-found', 'as-left']),
  optional: z.boolean().optional(),
  when,
  uses: z.record(nameId, useSchema).default({}),
  forEach: z
    .union([
      z.strictObject({ list: z.string(), by: z.literal('point').optional() }),
      z.strictObject({
        of: z.array(z.looseObject({ id: plainId, title: text.optional(), when })).min(1),
        by: z.literal('point').optional(),
      }),
      z.strictObject({ items: nameId, by: z.literal('point').optional() }),
    ])
    .optional(),
  with: nameId.optional(),
  steps: z.array(stepSchema).default([]),
  conditions: z.array(nameId).optional(),
  handsOn: z.number().nonnegative().optional(),
  gate: z.boolean().optional(),
  points: pointsSchema.optional(),
  sweeps: z.array(z.strictObject({ id: plainId, title: text, backwards: z.boolean().optional(), when })).optional(),
  by: z.literal('point').optional(),
  repeats: n.default(1),
  order: z.enum(['point', 'round']).default('point'),
  observe: z.array(observeSchema).default([]),
  analyses: z
    .array(z.strictObject({ use: z.string(), of: nameId, as: nameId, with: z.record(z.string(), n).optional(), when }))
    .default([]),
  computed: z
    .array(z.strictObject({ id: nameId, title: text.optional(), unit: unitSchema.optional(), is: formulaText, when }))
    .default([]),
  results: z.array(resultSchema).default([]),
  aggregates: z.array(aggregateSchema).default([]),
  fits: z.array(fitSchema).default([]),
  decisionRule: decisionRuleSchema.optional(),
});
