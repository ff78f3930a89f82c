import * as z from 'zod';
import { causes as looks } from '../diagnose/diagnose-schema';
import '../plain-issues';
import { symbolSchema } from '../uncertainty/budget-schema';
import { decisionRuleSchema } from '../conformity/conformity-schema';
import { adjustmentSchema } from './schema/adjustments';
import type { distributionTemplateSchema } from './schema/distributions';
import { n } from './schema/distributions';
import type { numSchema, whenSchema } from './schema/parts';
import { text, nameId, plainId, unitSchema, when, option, column } from './schema/parts';
import type { resultSchema, aggregateSchema, fitSchema } from './schema/results';
import type { useSchema } from './schema/series';
import { seriesSchema } from './schema/series';
import { near, stepSchema } from './schema/steps';
import type { toleranceTemplateSchema } from './schema/tolerances';

/** The procedure document, `just-twice/procedure` version 2: what is read in what order, and what becomes of it. */

const tableSchema = z.strictObject({
  id: nameId,
  title: text.optional(),
  pick: z.enum(['equal', 'linear', 'first-at-least', 'last-at-most']).default('equal'),
  columns: z.array(z.string()).optional(),
  column: z.union([z.strictObject({ choice: nameId }), z.string()]).optional(),
  rows: z.array(z.array(z.number()).min(2)).min(1).max(2000),
});

const exampleSchema = z.strictObject({
  source: z.string().min(1, 'Say where the example comes from.'),
  input: z.record(z.string(), z.unknown()),
  expect: z
    .array(
      z.strictObject({
        path: z.string(),
        value: z.union([z.number(), z.string(), z.boolean(), z.null()]),
        within: z.number().optional(),
      }),
    )
    .min(1),
});

export const documentSchema = z.strictObject({
  format: z.literal('just-twice/procedure'),
  version: z.literal(2),
  id: plainId,
  revision: z.number().int().min(1),
  title: text,
  scope: text.optional(),
  sources: z.array(text).default([]),
  instrument: z.strictObject({
    kinds: z.array(z.string()).min(1),
    /** The unit in which formulas see the numbers of the register. */
    unit: z.string().max(60).optional(),
    characteristics: z
      .array(
        z.strictObject({
          id: nameId,
          title: text,
          unit: unitSchema.optional(),
          type: z.enum(['number', 'text']).optional(),
          default: z.union([z.number(), z.string()]).optional(),
        }),
      )
      .default([]),
    lists: z.array(z.strictObject({ id: nameId, title: text, columns: z.array(column).default([]) })).default([]),
    parts: z.array(z.strictObject({ id: nameId, title: text })).default([]),
  }),
  standards: z
    .array(
      z.strictObject({
        role: nameId,
        title: text,
        kinds: z.array(z.string()).min(1).optional(),
        optional: z.boolean().optional(),
        /** The unit in which its uses are read, where they name none. */
        unit: z.string().max(60).optional(),
        several: z.boolean().optional(),
        independent: z.boolean().optional(),
        auxiliary: z.boolean().optional(),
        properties: z.array(z.strictObject({ id: nameId, title: text, unit: unitSchema.optional() })).default([]),
        when,
      }),
    )
    .default([]),
  choices: z
    .array(z.strictObject({ id: nameId, title: text, options: z.array(option).min(1), default: z.string().optional(), when }))
    .default([]),
  tables: z.array(tableSchema).default([]),
  /** What is laid out beside the standards: holders, lids, leads, liquids, gloves. */
  kit: z.array(text.min(1)).max(40).optional(),
  steps: z.array(stepSchema).default([]),
  conditions: z
    .array(
      z.strictObject({
        id: nameId,
        title: text,
        unit: unitSchema,
        lower: n.optional(),
        upper: n.optional(),
        recorded: z.enum(['set', 'series', 'point']).default('set'),
        near: near.optional(),
        when,
      }),
    )
    .default([]),
  series: z.array(seriesSchema).default([]),
  decisionRule: decisionRuleSchema.optional(),
  adjustments: z.array(adjustmentSchema).default([]),
  ruleOut: z
    .array(
      z.strictObject({
        id: plainId,
        title: text,
        instruction: text.optional(),
        caution: text.optional(),
        /** Whose the cause is; a cause that is not the instrument's takes the readings that it spoilt with it. */
        whose: z.enum(['instrument', 'standard', 'setting', 'operator']).optional(),
        /** What looking for it takes. */ minutes: z.number().positive().max(10_000).optional(),
        /** Of runs whose errors look so, the share in which this was it. */
        explains: z.partialRecord(z.enum(looks), z.number().nonnegative().max(1)).optional(),
        steps: z.array(stepSchema).optional(),
        when,
      }),
    )
    .default([]),
  /** What errors of this family look like: what is expected of each pattern, and what it means in words of the trade. */
  looks: z
    .strictObject({
      priors: z
        .partialRecord(z.enum(looks), z.number().nonnegative().max(1))
        .refine((p) => Object.values(p).reduce((sum, x) => sum + x, 0) <= 1 + 1e-12, 'Priors add to 1 at the most.')
        .optional(),
      means: z.partialRecord(z.enum(looks), text).optional(),
    })
    .optional(),
  interval: z
    .strictObject({
      months: z.number().int().min(1).max(240),
      monthsAfterFail: z.number().int().min(1).max(240).optional(),
      statement: text.optional(),
    })
    .optional(),
  leastMinutes: z.number().nonnegative().optional(),
  /** Several instruments may be calibrated in one set-up, so many at the most. */
  /** How often the quick set is wanted between calibrations, by the clock; without it, when somebody asks. */
  quick: z
    .strictObject({
      every: z.number().positive().max(400),
      unit: z.enum(['days', 'hours']),
      statement: text.optional(),
      /** Which run rules its charts watch; the quietest, where nothing is said. */
      rules: z.enum(['limits', 'limits-and-shift', 'limits-and-zones', 'all-eight']).optional(),
      /** Limits of charts that are stated, in the unit of the result; others are told from their own first checks. */
      limits: z
        .array(z.strictObject({ series: nameId, result: symbolSchema, centre: z.number(), sigma: z.number().positive() }))
        .optional(),
    })
    .optional(),
  setUp: z.strictObject({ most: z.number().int().min(2).max(24) }).optional(),
  example: z.union([exampleSchema, z.array(exampleSchema)]).optional(),
});

export type ProcedureDocument = z.infer<typeof documentSchema>;
export type SeriesDocument = z.infer<typeof seriesSchema>;
export type ResultDocument = z.infer<typeof resultSchema>;
export type AggregateDocument = z.infer<typeof aggregateSchema>;
export type FitDocument = z.infer<typeof fitSchema>;
export type StepDocument = z.infer<typeof stepSchema>;
export type UseDocument = z.infer<typeof useSchema>;
export type AdjustmentDocument = z.infer<typeof adjustmentSchema>;
export type ToleranceTemplate = z.infer<typeof toleranceTemplateSchema>;
export type DistributionTemplate = z.infer<typeof distributionTemplateSchema>;
export type When = z.infer<typeof whenSchema>;
export type Num = z.infer<typeof numSchema>;
