import * as z from 'zod';
import { n } from './distributions';
import { text, formulaText, nameId, unitSchema, when } from './parts';
import { stepSchema } from './steps';

/** Adjustments: what an instrument stores, what is proposed for it, and how it is done. */

const policySchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('never-while-inside') }),
  z.strictObject({ kind: z.literal('beyond-share'), share: z.number().gt(0).max(1) }),
  z.strictObject({ kind: z.literal('always-centre') }),
  z.strictObject({ kind: z.literal('beyond'), is: formulaText }),
]);
export const adjustmentSchema = z.strictObject({
  id: nameId,
  title: text,
  kind: z.enum(['offset', 'span', 'offset-and-span', 'percent', 'table', 'coefficients', 'values', 'mechanical']),
  of: z.array(nameId).min(1),
  result: nameId.optional(),
  separately: z.boolean().optional(),
  instruction: text.optional(),
  caution: text.optional(),
  steps: z.array(stepSchema).optional(),
  afterSteps: z.array(stepSchema).optional(),
  takes: z.array(z.string()).optional(),
  /** Where a span turns: the x at which it changes nothing. */
  about: n.optional(),
  affects: z.array(nameId).optional(),
  stored: z
    .array(
      z.strictObject({
        id: nameId,
        title: text,
        unit: unitSchema.optional(),
        proposed: n.optional(),
        step: n.optional(),
        lower: n.optional(),
        upper: n.optional(),
      }),
    )
    .default([]),
  enough: z.number().positive().optional(),
  rounds: z.strictObject({ points: z.array(z.string()).min(1), within: n, most: z.number().int().positive() }).optional(),
  policy: policySchema.optional(),
  handsOn: z.number().nonnegative().optional(),
  when,
});
