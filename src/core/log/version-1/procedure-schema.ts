import * as z from 'zod';
import '../../plain-issues';
import { coverageSchema, symbolSchema } from '../../uncertainty/budget-schema';
import { decisionRuleSchema, toleranceStatementSchema } from '../../conformity/conformity-schema';

const text = z.string().min(1).max(1000);
const id = z.string().regex(/^[a-z][a-z0-9-]{0,59}$/, 'An id is lower-case letters, digits and hyphens.');

/** A number, or an expression over the inputs that the procedure's model offers. */
export const templateNumberSchema = z.union([z.number(), z.strictObject({ is: z.string().min(1).max(400) })]);

const templateDof = z.number().min(1).optional();
const templateDistributionSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('readings'), floor: templateNumberSchema.optional() }),
  z.object({
    type: z.literal('normal'),
    mean: templateNumberSchema,
    standardUncertainty: templateNumberSchema,
    dof: templateDof,
  }),
  z.object({ type: z.literal('rectangular'), mean: templateNumberSchema, halfWidth: templateNumberSchema, dof: templateDof }),
  z.object({ type: z.literal('triangular'), mean: templateNumberSchema, halfWidth: templateNumberSchema, dof: templateDof }),
  z.object({ type: z.literal('arcsine'), mean: templateNumberSchema, halfWidth: templateNumberSchema, dof: templateDof }),
]);

export const budgetTemplateSchema = z.object({
  output: z.object({ symbol: symbolSchema, unit: z.string() }),
  model: z.string().min(1).max(20_000),
  quantities: z
    .array(
      z.object({ symbol: symbolSchema, name: text, unit: z.string(), source: text, distribution: templateDistributionSchema }),
    )
    .min(1)
    .max(60),
  coverage: coverageSchema.optional(),
});

const checkSchema = z.object({
  id,
  title: text,
  /** What to look at, as a question that "yes" answers well. */
  ask: text,
  caution: text.optional(),
});

const conditionSchema = z.object({
  id: z.enum(['room', 'instrument', 'standard']),
  title: text,
  unit: z.literal('Cel'),
  /** Outside these the reason must be given. */
  lower: z.number(),
  upper: z.number(),
});

/** When the tool proposes an adjustment. Laboratories differ; the document says which school it follows. */
export const adjustmentPolicySchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('never-while-inside') }),
  z.object({ kind: z.literal('beyond-share'), share: z.number().gt(0).max(1) }),
  z.object({ kind: z.literal('always-centre') }),
]);

/** The procedure document: `just-twice/procedure`, version 1. */
export const procedureSchema = z
  .object({
    format: z.literal('just-twice/procedure'),
    version: z.literal(1),
    id,
    /** The laboratory's own version of this procedure; a run pins it. */
    revision: z.number().int().min(1),
    title: text,
    scope: text,
    /** The family's model, by name; it offers the inputs that the budget uses. */
    model: z.enum(['dimensional/length-by-comparison']),
    instrumentKind: z.enum(['outside-micrometer']),
    standardKind: z.enum(['gauge-block-set']),
    indication: z.object({ unit: z.literal('mm'), errorUnit: z.literal('um') }),
    checks: z.array(checkSchema).min(1).max(20),
    soak: z.object({ title: text, instruction: text, minutes: z.number().min(0).max(2880) }),
    conditions: z.object({
      instruction: text,
      quantities: z.array(conditionSchema).min(1),
      maximumDifference: z.number().positive(),
    }),
    points: z.object({
      /** Lengths above the lower end of the range to be calibrated, in the unit of the indication. */
      offsets: z.array(z.number().positive()).min(1).max(60),
      repeats: z.number().int().min(1).max(20),
      instruction: text,
      caution: text.optional(),
    }),
    instrumentExpansionCoefficient: z.number().positive(),
    budget: budgetTemplateSchema,
    tolerance: toleranceStatementSchema,
    decisionRule: decisionRuleSchema,
    decisionRuleStatement: text,
    adjustment: z.object({
      kind: z.literal('zero'),
      title: text,
      instruction: text,
      caution: text.optional(),
      policy: adjustmentPolicySchema,
    }),
    interval: z.object({
      months: z.number().int().min(1).max(120),
      monthsAfterFail: z.number().int().min(1).max(120),
      statement: text,
    }),
    sources: z.array(text),
  })
  .refine((p) => new Set(p.points.offsets).size === p.points.offsets.length, {
    path: ['points', 'offsets'],
    message: 'A point stands twice.',
  });

export type Procedure = z.infer<typeof procedureSchema>;
export type BudgetTemplate = z.infer<typeof budgetTemplateSchema>;
export type TemplateNumber = z.infer<typeof templateNumberSchema>;
