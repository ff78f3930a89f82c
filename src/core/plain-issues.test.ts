import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import './plain-issues';
import { standardEntrySchema } from './register/entry-schemas';

const said = (schema: z.ZodType, value: unknown): string | undefined => schema.safeParse(value).error?.issues[0]?.message;

describe('what is wrong with a value', () => {
  it.each<[z.ZodType, unknown, string]>([
    [z.string(), undefined, 'This is missing.'],
    [z.string(), 3, 'A text belongs here.'],
    [z.number(), 'x', 'A number belongs here.'],
    [z.number(), Infinity, 'This number is too great, or none at all.'],
    [z.array(z.number()), {}, 'A list belongs here.'],
    [z.literal('just-twice/standard'), 'x', '"just-twice/standard" belongs here.'],
    [z.enum(['pass', 'fail']), 'x', 'One of "pass", "fail" belongs here.'],
    [z.string().min(1), '', 'This is empty.'],
    [z.array(z.number()).min(2), [1], 'At least 2 entries must stand here.'],
    [z.number().positive(), 0, 'More than 0 must stand here.'],
    [z.string().max(3), 'abcd', 'At most 3 characters may stand here.'],
    [z.strictObject({ a: z.number() }), { a: 1, b: 2 }, 'Nothing here is called "b".'],
    [z.union([z.number(), z.boolean()]), 'x', 'None of the forms that may stand here fits.'],
    [z.number({ error: 'The range is a number.' }), 'x', 'The range is a number.'],
  ])('is said in plain words (%#)', (schema, value, words) => expect(said(schema, value)).toBe(words));
  it('of a whole entry, at its place', () => {
    const issue = standardEntrySchema.safeParse({ document: { format: 'just-twice/standard', version: 1 } }).error!.issues[0]!;
    expect([issue.path.join('.'), issue.message]).toEqual(['document.identification', 'This is missing.']);
  });
});
