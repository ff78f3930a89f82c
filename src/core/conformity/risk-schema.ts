import * as z from 'zod';
import '../plain-issues';

/** The question `risk`. */
export const riskSchema = z
  .object({
    tolerance: z.number().positive('The tolerance is greater than 0.'),
    expandedUncertainty: z.number().nonnegative('An expanded uncertainty cannot be negative.'),
    coverageFactor: z.number().positive('A coverage factor is greater than 0.').default(2),
    reliability: z.number().gt(0, 'The reliability lies between 0 and 1.').lt(1, 'The reliability lies between 0 and 1.'),
    guardBand: z.number().optional(),
    solve: z
      .object({
        falseAccept: z.number().gt(0, 'The probability lies between 0 and 1.').lt(1, 'The probability lies between 0 and 1.'),
      })
      .optional(),
  })
  .refine((q) => q.guardBand === undefined || q.solve === undefined, {
    path: ['solve'],
    message: 'Give either the guard band or what to solve for, not both.',
  });

export type RiskQuestion = z.infer<typeof riskSchema>;
