import * as z from 'zod';
import '../plain-issues';

/** What may have made errors look as they do; the names of the answer. */
export const causes = [
  'none',
  'offset',
  'span',
  'offset-and-span',
  'curvature',
  'hysteresis',
  'odd-point',
  'scatter',
  'drift',
  'not-settled',
  'factor',
  'exchanged',
  'nominal-for-certified',
] as const;
export type Cause = (typeof causes)[number];

const reading = z.strictObject({
  error: z.number(),
  direction: z.enum(['up', 'down']).optional(),
  minute: z.number().optional(),
});
const limits = z.strictObject({ lower: z.number().nullable().optional(), upper: z.number().nullable().optional() });

/** Errors of an instrument at its points, with what is known of their scatter and their references. */
export const diagnoseSchema = z.strictObject({
  unit: z.string().max(60).default('1'),
  resolution: z.number().nonnegative().nullable().default(null),
  /** Standard deviation of one reading of a sound instrument; null: not known. */
  noise: z.number().positive('Give the noise as a number above 0, or null where it is not known.').nullable().default(null),
  /** What all points have in common. */ shared: z.number().nonnegative().default(0),
  zero: z.number().default(0),
  factors: z.array(z.number()).max(50).default([]),
  priors: z.partialRecord(z.enum(causes), z.number().nonnegative().max(1)).default({}),
  points: z
    .array(
      z.strictObject({
        id: z.string().min(1).max(100),
        nominal: z.number(),
        reference: z.number(),
        standardUncertainty: z.number().nonnegative().default(0),
        limits: limits.default({}),
        readings: z.array(reading).max(1000).default([]),
      }),
    )
    .min(1)
    .max(200),
});
export type DiagnoseQuestion = z.output<typeof diagnoseSchema>;
