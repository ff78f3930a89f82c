import * as z from 'zod';
import { text, numSchema, plainId } from './parts';

/** Limits: a sum or the greatest of terms, or two bounds; schools side by side where trades differ. */

const termSchema = z.union([
  z.strictObject({ absolute: numSchema }),
  z.strictObject({ ofReading: numSchema }),
  z.strictObject({ ofReference: numSchema }),
  z.strictObject({ ofRange: numSchema, range: numSchema }),
  z.strictObject({ counts: numSchema, resolution: numSchema }),
  z.strictObject({ perLength: numSchema, length: numSchema }),
]);
export const statementSchema = z.strictObject({
  terms: z.array(termSchema).min(1),
  combine: z.enum(['sum', 'greatest']).default('sum'),
});
export const toleranceTemplateSchema = z.union([
  statementSchema,
  z.strictObject({ lower: numSchema.optional(), upper: numSchema.optional() }),
]);
export const schools = z.array(z.strictObject({ id: plainId, title: text, tolerance: toleranceTemplateSchema })).min(1);
