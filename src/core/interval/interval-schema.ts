import * as z from 'zod';
import '../plain-issues';
import { calendarDaySchema } from '../quantity/calendar-day';
import { policySchema } from './policy';

const day = calendarDaySchema('A day');
const measured = z.strictObject({
  value: z.number(),
  standardUncertainty: z.number().nonnegative(),
  expandedUncertainty: z.number().nonnegative(),
  sharedUncertainty: z.number().nonnegative().default(0),
  lower: z.number().nullable().default(null),
  upper: z.number().nullable().default(null),
  acceptLower: z.number().nullable().default(null),
  acceptUpper: z.number().nullable().default(null),
});
const pair = z.strictObject({
  key: z.string().min(1).max(300),
  unit: z.string().max(60),
  what: z.string().max(200).optional(),
  point: z.string().max(200).optional(),
  shownIn: z.string().max(60).optional(),
  found: measured.nullable(),
  left: measured.nullable().default(null),
  isCheck: z.boolean().optional(),
});
const visit = z.strictObject({
  day,
  run: z.string().max(100).optional(),
  isInside: z.boolean().nullable(),
  isRenewed: z.boolean().default(false),
  /** Most of a tolerance that was used as found; without it, told from the pairs. */ share: z
    .number()
    .nonnegative()
    .nullable()
    .optional(),
  pairs: z.array(pair).max(2000).default([]),
  certificates: z.array(z.string().max(200)).max(100).default([]),
});
const months = z.number().positive().max(240);

/** When to come back: an instrument's visits, what its procedure and policy say, its kin, counts of use and quick checks. */
export const intervalSchema = z.strictObject({
  today: day,
  from: day,
  instrument: z.strictObject({ months: months.nullable().default(null) }).default({ months: null }),
  procedure: z.strictObject({ months: months.optional(), monthsAfterFail: months.optional() }).optional(),
  policy: policySchema,
  visits: z.array(visit).max(500).default([]),
  /** Visits of each of the others that are like it. */ kin: z.array(z.array(visit).max(500)).max(20_000).default([]),
  counts: z
    .array(z.strictObject({ day, count: z.number().nonnegative(), isSetBack: z.boolean().optional() }))
    .max(5000)
    .default([]),
  checks: z
    .array(
      z.strictObject({
        day,
        at: z.iso.datetime().optional(),
        run: z.string().max(100).optional(),
        value: z.number(),
        lower: z.number().nullable().default(null),
        upper: z.number().nullable().default(null),
      }),
    )
    .max(5000)
    .default([]),
});
export type IntervalQuestion = z.output<typeof intervalSchema>;
