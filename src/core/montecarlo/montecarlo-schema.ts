import * as z from 'zod';
import '../plain-issues';
import { budgetSchema } from '../uncertainty/budget-schema';

export const maximumTrials = 50_000_000;
const trials = z
  .number()
  .int('The number of trials is whole.')
  .max(maximumTrials, `At most ${maximumTrials} trials fit in memory.`);

/** The question `montecarlo`. */
export const montecarloSchema = z
  .object({
    budget: budgetSchema,
    trials: trials.min(100, 'At least 100 trials.').optional(),
    adaptive: z
      .object({
        digits: z.number().int().min(1).max(4).default(2),
        maximumTrials: trials.min(20_000, 'The adaptive procedure needs room for 20 000 trials.').default(10_000_000),
      })
      .optional(),
    seed: z.number().int('A seed is a whole number.').min(0).max(Number.MAX_SAFE_INTEGER).default(1),
    probability: z
      .number()
      .gt(0, 'A coverage probability lies between 0 and 1.')
      .lt(1, 'A coverage probability lies between 0 and 1.')
      .default(0.95),
    interval: z.enum(['shortest', 'symmetric']).default('symmetric'),
  })
  .superRefine((q, context) => {
    if (q.trials !== undefined && q.adaptive !== undefined)
      context.addIssue({ code: 'custom', path: ['adaptive'], message: 'Give either trials or adaptive, not both.' });
    if (q.trials === undefined && q.adaptive === undefined)
      context.addIssue({ code: 'custom', path: ['trials'], message: 'Give the number of trials, or adaptive.' });
    // Fewer than one trial outside the interval leaves nothing to end it.
    const least = Math.ceil(1 / (1 - q.probability) - 1e-6);
    if (q.trials !== undefined && q.trials < least)
      context.addIssue({
        code: 'custom',
        path: ['trials'],
        message: `An interval at the probability ${q.probability} takes at least ${least} trials, so that one lies outside it; ${least * 100} or more give it digits.`,
      });
  });

export type MontecarloQuestion = z.infer<typeof montecarloSchema>;
