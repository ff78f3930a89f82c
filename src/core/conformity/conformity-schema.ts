import * as z from 'zod';
import '../plain-issues';

const magnitude = z.number().nonnegative('A tolerance term is a magnitude: it cannot be negative.');

/** One term of an accuracy statement: "0.05 % of reading", "2 counts", "4 µm per metre". */
export const toleranceTermSchema = z.union([
  z.strictObject({ absolute: magnitude }),
  z.strictObject({ ofReading: magnitude }),
  z.strictObject({ ofReference: magnitude }),
  z.strictObject({ ofRange: magnitude, range: magnitude }),
  z.strictObject({ counts: magnitude, resolution: magnitude }),
  z.strictObject({ perLength: magnitude, length: magnitude }),
]);

export const toleranceStatementSchema = z.object({
  terms: z.array(toleranceTermSchema).min(1, 'A tolerance statement needs at least one term.').max(20),
  combine: z.enum(['sum', 'greatest']).default('sum'),
});

export const toleranceLimitsSchema = z
  .strictObject({ lower: z.number().optional(), upper: z.number().optional() })
  .refine((t) => t.lower !== undefined || t.upper !== undefined, 'Give at least one limit.')
  .refine((t) => t.lower === undefined || t.upper === undefined || t.lower < t.upper, {
    path: ['upper'],
    message: 'The upper limit must be above the lower one.',
  });

export const toleranceSchema = z.union([toleranceStatementSchema, toleranceLimitsSchema]);

/** The decision rules a laboratory can agree with its customer (ILAC-G8; JCGM 106, clause 8). */
const minimumRatio = z.number().positive('A ratio is greater than 0.').optional();
export const decisionRuleSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('simple'), minimumRatio }),
  z.object({
    kind: z.literal('guard-band'),
    factor: z.number().nonnegative().default(1),
    binary: z.boolean().optional(),
    minimumRatio,
  }),
  z.object({ kind: z.literal('maximum-false-accept'), probability: z.number().gt(0).lt(1), minimumRatio }),
]);

export const conformitySchema = z.object({
  reference: z.number(),
  indicated: z.number(),
  expandedUncertainty: z.number().nonnegative('An expanded uncertainty cannot be negative.'),
  coverageFactor: z.number().positive().default(2),
  /** Effective degrees of freedom of u = U/k; infinitely many when absent. Risks then follow Student's t. */
  effectiveDof: z.number().min(1, 'Degrees of freedom are at least 1.').nullable().optional(),
  tolerance: toleranceSchema,
  rule: decisionRuleSchema,
});

export type ToleranceStatement = z.infer<typeof toleranceStatementSchema>;
export type Tolerance = z.infer<typeof toleranceSchema>;
export type DecisionRule = z.infer<typeof decisionRuleSchema>;
export type ConformityQuestion = z.infer<typeof conformitySchema>;
