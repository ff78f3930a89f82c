import * as z from 'zod';
import '../plain-issues';
import { decisionRuleSchema } from '../conformity/conformity-schema';
import { setName } from '../procedure/schema/parts';
import { calendarDaySchema } from '../quantity/calendar-day';
import { standardSchema } from '../standard/standard-schema';

/** What a procedure is applied to: the question `evaluate` without the procedure. */

const number = z.union([
  z.number(),
  z
    .string()
    .trim()
    .regex(/^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/, 'This is not a number.')
    .transform(Number),
]);
const stepValue = z.union([z.number(), z.string(), z.boolean(), z.record(z.string(), z.number())]);
const reading = z.record(z.string(), z.union([z.number(), z.string()]));

export const instrumentSchema = z.looseObject({
  kind: z.string().optional(),
  unit: z.string().optional(),
  lower: z.number().optional(),
  upper: z.number().optional(),
  usedLower: z.number().optional(),
  usedUpper: z.number().optional(),
  resolution: z.number().optional(),
  characteristics: z.record(z.string(), z.union([z.number(), z.string()])).default({}),
  lists: z.record(z.string(), z.array(z.looseObject({ id: z.string(), title: z.string().optional() }))).default({}),
  parts: z.unknown().optional(),
});

export const observationSchema = z.strictObject({
  series: z.string(),
  set: setName.optional(),
  each: z.string().nullable().optional(),
  point: z.string().optional(),
  sweep: z.string().nullable().optional(),
  conditions: z.record(z.string(), number).default({}),
  steps: z.record(z.string(), stepValue).default({}),
  items: z.record(z.string(), z.array(z.string())).default({}),
  readings: z.array(reading).default([]),
});

export const caseSchema = z.strictObject({
  date: calendarDaySchema('The date').optional(),
  set: setName.default('as-found'),
  instrument: instrumentSchema.prefault({}),
  standards: z.record(z.string(), z.union([standardSchema, z.array(standardSchema)])).default({}),
  choices: z.record(z.string(), z.string()).default({}),
  steps: z.record(z.string(), stepValue).default({}),
  stored: z.record(z.string(), z.union([z.number(), z.record(z.string(), z.number())])).default({}),
  conditions: z.record(z.string(), number).default({}),
  observations: z.array(observationSchema).max(20_000).default([]),
  decisionRule: decisionRuleSchema.optional(),
});

export type Case = z.infer<typeof caseSchema>;
export type StepValue = z.infer<typeof stepValue>;
export type InstrumentRecord = z.infer<typeof instrumentSchema>;
