import * as z from 'zod';
import '../plain-issues';
import { calendarDaySchema } from '../quantity/calendar-day';

/** The standard document, `just-twice/standard` version 1: what its certificate says, as the certificate says it. */

const properties = z.record(z.string(), z.number()).optional();
const uncertainty = {
  expandedUncertainty: z.number().nonnegative('An expanded uncertainty cannot be negative.'),
  coverageFactor: z.number().positive('A coverage factor is greater than 0.').default(2),
  dof: z.number().min(1).optional(),
};
const correction = z.looseObject({ at: z.number(), correction: z.number(), ...uncertainty });
const value = z.looseObject({ at: z.number(), value: z.number(), ...uncertainty });
const functionSchema = z.strictObject({
  name: z.string(),
  parameters: z.record(z.string(), z.number()).default({}),
  ...uncertainty,
  from: z.number().optional(),
  to: z.number().optional(),
});
const curve = {
  corrections: z.array(correction).min(1).optional(),
  values: z.array(value).min(1).optional(),
  function: functionSchema.optional(),
  argument: z.strictObject({ unit: z.string() }).optional(),
};
const item = z
  .looseObject({
    id: z.string(),
    marking: z.string().optional(),
    nominal: z.number(),
    certified: z.number().optional(),
    expandedUncertainty: z.number().nonnegative().default(0),
    coverageFactor: z.number().positive().default(2),
    dof: z.number().min(1).optional(),
    resolution: z.number().optional(),
    properties,
    ...curve,
  })
  .superRefine((i, context) => {
    if (i.certified === undefined && !i.corrections && !i.values && !i.function)
      context.addIssue({
        code: 'custom',
        path: ['certified'],
        message: 'Give the certified value, or values, corrections or a function.',
      });
  });
const content = {
  unit: z.string().optional(),
  resolution: z.number().nonnegative().optional(),
  items: z.array(item).min(1).optional(),
  ...curve,
  properties,
};
const part = z.strictObject({ id: z.string(), title: z.string().optional(), ...content });

export const standardSchema = z.strictObject({
  format: z.literal('just-twice/standard'),
  version: z.literal(1),
  identification: z.string(),
  kind: z.string(),
  designation: z.string().default(''),
  certificate: z
    .strictObject({
      issuer: z.string(),
      number: z.string(),
      date: calendarDaySchema('The date of the certificate'),
      due: calendarDaySchema('The due date').optional(),
    })
    .optional(),
  ...content,
  parts: z.array(part).min(1).optional(),
  lot: z.string().optional(),
});

export type StandardDocument = z.infer<typeof standardSchema>;
export type StandardContent = z.infer<typeof part>;
export type StandardItem = z.infer<typeof item>;
export type CertifiedPoint = z.infer<typeof correction> | z.infer<typeof value>;
