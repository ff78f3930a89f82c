import * as z from 'zod';
import { coverageSchema, symbolSchema } from '../../uncertainty/budget-schema';
import { decisionRuleSchema } from '../../conformity/conformity-schema';
import { n, distributionTemplateSchema } from './distributions';
import { text, formulaText, nameId, unitSchema, when } from './parts';
import { toleranceTemplateSchema, schools } from './tolerances';

/** Results, what is told over several of them, and fits. */

const quantity = z.strictObject({
  symbol: symbolSchema,
  name: text.optional(),
  unit: z.string().max(60),
  source: text.optional(),
  distribution: distributionTemplateSchema,
  when,
});
const budgetMembers = {
  where: z.array(z.strictObject({ symbol: symbolSchema, is: formulaText })).optional(),
  model: formulaText,
  quantities: z.array(quantity).max(60).default([]),
  correlations: z.array(z.strictObject({ between: z.tuple([symbolSchema, symbolSchema]), coefficient: n })).optional(),
  coverage: coverageSchema.optional(),
};
const judgedMembers = {
  tolerance: toleranceTemplateSchema.optional(),
  tolerances: schools.optional(),
  decisionRule: decisionRuleSchema.optional(),
  gate: z.boolean().optional(),
  when,
};
/** A number that is shown beside a result, in a unit of its own where it says so. */
const shownNumber = z.union([z.number(), z.strictObject({ is: formulaText, unit: unitSchema.optional() })]);
const dimension = z.enum(['repeats', 'sweeps', 'points', 'instances']);
export const resultSchema = z.strictObject({
  symbol: nameId,
  title: text,
  unit: unitSchema,
  shownIn: unitSchema.optional(),
  reference: shownNumber.optional(),
  indication: shownNumber.optional(),
  ...budgetMembers,
  ...judgedMembers,
  over: z.array(z.literal('sweeps')).optional(),
});

export const statistics = [
  'mean',
  'standard-deviation',
  'range',
  'least',
  'greatest',
  'greatest-magnitude',
  'greatest-residual',
  'greatest-deviation-from',
  'greatest-change',
  'greatest-step',
  'count',
] as const;
export const aggregateSchema = z
  .strictObject({
    id: nameId,
    title: text,
    unit: unitSchema,
    of: z.string().optional(),
    over: z.array(dimension).min(1),
    among: z.array(z.string()).optional(),
    statistic: z.enum(statistics).optional(),
    is: formulaText.optional(),
    fit: nameId.optional(),
    from: z.string().optional(),
    x: formulaText.optional(),
    within: n.optional(),
    result: z
      .strictObject({
        symbol: nameId.optional(),
        title: text.optional(),
        reference: shownNumber.optional(),
        indication: shownNumber.optional(),
        ...budgetMembers,
      })
      .optional(),
    ...judgedMembers,
  })
  .superRefine((a, context) => {
    const fault = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    if (a.is === undefined && a.statistic === undefined) fault('statistic', 'Give a statistic, or a formula in "is".');
    if (a.is !== undefined && a.statistic !== undefined) fault('is', 'Give either a statistic or a formula, not both.');
    if (a.statistic !== undefined && a.statistic !== 'greatest-residual' && a.of === undefined)
      fault('of', 'Say what the statistic is of.');
    if (a.statistic === 'greatest-residual' && a.fit === undefined) fault('fit', 'Name the fit that leaves the residuals.');
    if (a.statistic === 'greatest-deviation-from' && a.from === undefined)
      fault('from', 'Name the point from which it deviates.');
    if (a.statistic === 'greatest-change' && (a.x === undefined || a.within === undefined))
      fault(a.x === undefined ? 'x' : 'within', 'A greatest change needs x and within.');
  });

export const fitSchema = z.strictObject({
  id: nameId,
  title: text.optional(),
  y: formulaText,
  x: formulaText,
  basis: z.array(formulaText).min(1).max(12),
  over: z.array(dimension).min(1),
  among: z.array(z.string()).optional(),
  when,
});
