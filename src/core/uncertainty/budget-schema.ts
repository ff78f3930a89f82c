import * as z from 'zod';
import '../plain-issues';
import { distributionFault } from './distribution-fault';

const dof = z.number().optional();
const mean = z.number();
const halfWidth = z.number();

/** The distributions an input quantity can have; what their numbers may be is told by `distributionFault`. */
export const distributionSchema = z
  .discriminatedUnion('type', [
    z.object({ type: z.literal('constant'), value: z.number() }),
    z.object({
      type: z.literal('normal'),
      mean,
      standardUncertainty: z.number().optional(),
      expandedUncertainty: z.number().optional(),
      coverageFactor: z.number().optional(),
      dof,
    }),
    z.object({
      type: z.literal('readings'),
      values: z.array(z.number()).min(1, 'Give at least one reading.').max(100_000, 'At most 100 000 readings.'),
      pooled: z
        .object({ standardDeviation: z.number().nonnegative(), dof: z.number().min(1, 'Degrees of freedom are at least 1.') })
        .optional(),
      /** Overrides n − 1, or the pooled degrees of freedom. */
      dof,
      /** The standard uncertainty of the mean is not less than this, for instance a step of the display over √12. */
      floor: z.number().optional(),
    }),
    z.object({
      type: z.literal('rectangular'),
      mean: mean.optional(),
      halfWidth: halfWidth.optional(),
      lower: z.number().optional(),
      upper: z.number().optional(),
      dof,
    }),
    z.object({ type: z.literal('triangular'), mean, halfWidth, dof }),
    z.object({ type: z.literal('arcsine'), mean, halfWidth, dof }),
    z.object({ type: z.literal('trapezoidal'), mean, halfWidth, shape: z.number(), dof }),
    z.object({ type: z.literal('curvilinear-trapezoidal'), mean, halfWidth, halfWidthUncertainty: z.number(), dof }),
    z.object({ type: z.literal('student-t'), mean, scale: z.number(), dof: z.number() }),
    z.object({ type: z.literal('exponential'), mean, dof }),
    z.object({ type: z.literal('gamma'), shape: z.number(), scale: z.number(), dof }),
  ])
  .superRefine((d, context) => {
    const fault = distributionFault(d);
    if (fault) context.addIssue({ code: 'custom', path: [fault.path], message: fault.message });
  });

export type Distribution = z.infer<typeof distributionSchema>;

export const symbolSchema = z
  .string()
  .max(40)
  .regex(/^[\p{L}_][\p{L}\p{N}_]*$/u, 'A symbol is a letter followed by letters, digits or underscores.');

export const quantitySchema = z.object({
  symbol: symbolSchema,
  unit: z.string().max(40),
  /** What the quantity is, in words. */
  name: z.string().max(200).optional(),
  /** Where the value comes from: a certificate, a manual, a judgement. */
  source: z.string().max(400).optional(),
  distribution: distributionSchema,
});

export const coverageSchema = z.union([
  z.strictObject({
    probability: z
      .number()
      .gt(0, 'A coverage probability lies between 0 and 1.')
      .lt(1, 'A coverage probability lies between 0 and 1.'),
  }),
  z.strictObject({ factor: z.number().positive('A coverage factor is greater than 0.') }),
]);

export const correlationSchema = z.object({
  between: z.tuple([symbolSchema, symbolSchema]),
  coefficient: z
    .number()
    .min(-1, 'A correlation coefficient lies between −1 and 1.')
    .max(1, 'A correlation coefficient lies between −1 and 1.'),
});

/** The budget document: `just-twice/budget`, version 1. */
export const budgetSchema = z.object({
  format: z.literal('just-twice/budget'),
  version: z.literal(1),
  name: z.string().max(200),
  output: z.object({ symbol: symbolSchema, unit: z.string().max(40) }),
  model: z
    .string()
    .min(1, 'The model is empty: write how the result follows from the inputs.')
    .max(20_000, 'The model is longer than 20 000 characters. Split it, or shorten the symbols.'),
  quantities: z.array(quantitySchema).min(1, 'A budget needs at least one quantity.').max(200),
  correlations: z.array(correlationSchema).max(2000).optional(),
  coverage: coverageSchema.optional(),
});

export type Budget = z.infer<typeof budgetSchema>;
export type Quantity = z.infer<typeof quantitySchema>;
export type Coverage = z.infer<typeof coverageSchema>;
