import * as z from 'zod';

const dof = z.number().min(1, 'Degrees of freedom are at least 1.').optional();
const halfWidth = z.number().nonnegative('A half-width cannot be negative: give its magnitude.');
const mean = z.number();

/** The distributions an input quantity can have (documents.md, `budget`). */
export const distributionSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('constant'), value: z.number() }),
  z
    .object({
      type: z.literal('normal'),
      mean,
      standardUncertainty: z.number().nonnegative('A standard uncertainty cannot be negative.').optional(),
      expandedUncertainty: z.number().nonnegative('An expanded uncertainty cannot be negative.').optional(),
      coverageFactor: z.number().positive('A coverage factor is greater than 0.').optional(),
      dof,
    })
    .superRefine((d, context) => {
      const hasPair = d.expandedUncertainty !== undefined && d.coverageFactor !== undefined;
      if (d.standardUncertainty === undefined && !hasPair)
        context.addIssue({
          code: 'custom',
          path: [d.expandedUncertainty === undefined ? 'standardUncertainty' : 'coverageFactor'],
          message: 'Give the standard uncertainty, or the expanded uncertainty with its coverage factor.',
        });
      if (d.standardUncertainty !== undefined && d.expandedUncertainty !== undefined)
        context.addIssue({
          code: 'custom',
          path: ['expandedUncertainty'],
          message: 'Give either the standard or the expanded uncertainty, not both.',
        });
    }),
  z
    .object({
      type: z.literal('readings'),
      values: z.array(z.number()).min(1, 'Give at least one reading.').max(100_000, 'At most 100 000 readings.'),
      pooled: z
        .object({ standardDeviation: z.number().nonnegative(), dof: z.number().min(1, 'Degrees of freedom are at least 1.') })
        .optional(),
      /** Overrides n − 1, or the pooled degrees of freedom. */
      dof,
      /** The standard uncertainty of the mean is not less than this, for instance a step of the display over √12. */
      floor: z.number().nonnegative('A floor cannot be negative.').optional(),
    })
    .refine((d) => d.values.length > 1 || d.pooled !== undefined, {
      path: ['values'],
      message: 'One reading alone has no scatter: take a second one, or give a pooled standard deviation from earlier work.',
    }),
  z
    .object({
      type: z.literal('rectangular'),
      mean: mean.optional(),
      halfWidth: halfWidth.optional(),
      lower: z.number().optional(),
      upper: z.number().optional(),
      dof,
    })
    .superRefine((d, context) => {
      const byLimits = d.lower !== undefined && d.upper !== undefined;
      const byWidth = d.mean !== undefined && d.halfWidth !== undefined;
      if (!byLimits && !byWidth)
        context.addIssue({
          code: 'custom',
          path: [d.lower !== undefined ? 'upper' : d.mean === undefined ? 'mean' : 'halfWidth'],
          message: 'Give mean and half-width, or lower and upper limit.',
        });
      if (byLimits && d.lower! > d.upper!)
        context.addIssue({ code: 'custom', path: ['upper'], message: 'The upper limit is below the lower one.' });
    }),
  z.object({ type: z.literal('triangular'), mean, halfWidth, dof }),
  z.object({ type: z.literal('arcsine'), mean, halfWidth, dof }),
  z.object({
    type: z.literal('trapezoidal'),
    mean,
    halfWidth,
    shape: z.number().min(0).max(1, 'The shape is top over base, from 0 to 1.'),
    dof,
  }),
  z
    .object({ type: z.literal('curvilinear-trapezoidal'), mean, halfWidth, halfWidthUncertainty: z.number().nonnegative(), dof })
    .refine((d) => d.halfWidthUncertainty <= d.halfWidth, {
      path: ['halfWidthUncertainty'],
      message: 'The uncertainty of the half-width cannot exceed the half-width.',
    }),
  z.object({
    type: z.literal('student-t'),
    mean,
    scale: z.number().nonnegative('A scale cannot be negative.'),
    dof: z.number().gt(2, 'A t distribution has a standard deviation only with more than 2 degrees of freedom.'),
  }),
  z.object({
    type: z.literal('exponential'),
    mean: z.number().nonnegative('The mean of an exponential distribution is not negative.'),
    dof,
  }),
  z.object({ type: z.literal('gamma'), shape: z.number().positive(), scale: z.number().nonnegative(), dof }),
]);

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
