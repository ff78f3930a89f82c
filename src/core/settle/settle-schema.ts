import * as z from 'zod';

/** Samples of a signal in their order: seconds since a start of its own, and value. */
const sample = z.tuple([z.number(), z.number()]);

/** Whether a signal has settled within a tolerance, from time-stamped samples of it. */
export const settleSchema = z
  .strictObject({
    unit: z.string().max(60).default('1'),
    samples: z.array(sample).min(1).max(100_000),
    tolerance: z.number().positive(),
    noise: z.number().nonnegative().nullable().default(null),
    confidence: z.number().gt(0).lt(1).default(0.95),
  })
  .superRefine(({ samples }, context) => {
    const at = samples.findIndex(([t], i) => i > 0 && t <= samples[i - 1]![0]);
    if (at > 0)
      context.addIssue({ code: 'custom', path: ['samples', at, 0], message: 'Each sample is later than the one before it.' });
  });
export type SettleQuestion = z.output<typeof settleSchema>;
