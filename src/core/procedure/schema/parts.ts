import * as z from 'zod';

/** What every part of a procedure document is made of: names, numbers, units, conditions. */

export const text = z.string().max(2000);
export const formulaText = z.string().min(1, 'A formula is empty.').max(4000);
/** A number, or a formula for one. */
export const numSchema = z.union([z.number(), z.strictObject({ is: formulaText })]);
/** An id that formulas name. */
export const nameId = z
  .string()
  .regex(/^[\p{L}][\p{L}\p{N}_]*$/u, 'An id that formulas name is letters and digits, starting with a letter.');
/** An id of a document, a set, an option or a row. */
export const plainId = z.string().regex(/^[\p{L}\p{N}][\p{L}\p{N}_.+-]{0,79}$/u, 'An id is letters, digits and hyphens.');
export const unitSchema = z.union([z.string().max(60), z.strictObject({ of: z.string() })]);

export const setName = z
  .string()
  .regex(/^(as-found|as-left|check|quick)(-\d+)?$/, 'A set is as-found, as-left, check or quick, perhaps with a number.');
export const sets = z.array(z.enum(['as-found', 'as-left', 'check', 'quick'])).min(1);

const condition = z.union([
  z.strictObject({ choice: nameId, is: z.union([z.string(), z.array(z.string())]) }),
  z.strictObject({ step: nameId, is: z.union([z.string(), z.array(z.string())]) }),
  z.strictObject({ positive: formulaText }),
]);
/** What leaves something out; of a list all must hold. */
export const whenSchema = z.union([condition, z.array(condition)]);
export const when = whenSchema.optional();

export const option = z.looseObject({ id: plainId, title: text, caution: text.optional() });
export const column = z.strictObject({
  id: nameId,
  title: text,
  unit: unitSchema.optional(),
  type: z.enum(['number', 'text']).optional(),
});
