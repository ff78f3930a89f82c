import * as z from 'zod';
import { numSchema, nameId } from './parts';

/** What a quantity of a budget may be distributed like; every number may be a formula. */

export const n = numSchema;
const dof = numSchema.optional();
export const distributionTemplateSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('constant'), value: n }),
  z.strictObject({
    type: z.literal('normal'),
    mean: n,
    standardUncertainty: n.optional(),
    expandedUncertainty: n.optional(),
    coverageFactor: n.optional(),
    dof,
  }),
  z.strictObject({
    type: z.literal('readings'),
    of: z.string(),
    pool: z
      .union([
        z.enum(['none', 'instance', 'set']),
        z.strictObject({ series: nameId, of: z.string() }),
        z.strictObject({ standardDeviation: n, dof: n }),
      ])
      .optional(),
    floor: n.optional(),
    dof,
  }),
  z.strictObject({
    type: z.literal('rectangular'),
    mean: n.optional(),
    halfWidth: n.optional(),
    lower: n.optional(),
    upper: n.optional(),
    dof,
  }),
  z.strictObject({ type: z.literal('triangular'), mean: n, halfWidth: n, dof }),
  z.strictObject({ type: z.literal('arcsine'), mean: n, halfWidth: n, dof }),
  z.strictObject({ type: z.literal('trapezoidal'), mean: n, halfWidth: n, shape: n, dof }),
  z.strictObject({ type: z.literal('curvilinear-trapezoidal'), mean: n, halfWidth: n, halfWidthUncertainty: n, dof }),
  z.strictObject({ type: z.literal('student-t'), mean: n, scale: n, dof: n }),
  z.strictObject({ type: z.literal('exponential'), mean: n, dof }),
  z.strictObject({ type: z.literal('gamma'), shape: n, scale: n, dof }),
]);
