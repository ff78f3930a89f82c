import { z } from 'zod';
import { calendarDaySchema, timeZoneSchema } from '../core/quantity/calendar-day';

const line = (what: string) =>
  z
    .string({ error: `${what} is missing.` })
    .trim()
    .min(1, `${what} is missing.`)
    .max(120, `${what} is longer than 120 characters.`);
const optionalLine = z.string().trim().max(120).default('');
const length = (what: string) =>
  z
    .number({ error: `${what} is a number in millimetres.` })
    .min(0, `${what} cannot be negative.`)
    .max(5000, `${what} is longer than any micrometer.`);
export const idSchema = z.string().regex(/^[A-Za-z0-9-]{1,64}$/, 'This is not an id.');

/** What a person enters to register an instrument. Lengths in mm. */
export const instrumentEntrySchema = z
  .object({
    identification: line('The identification'),
    kind: z.enum(['outside-micrometer']),
    designation: optionalLine,
    owner: line('The owner'),
    place: optionalLine,
    rangeLower: length('The range'),
    rangeUpper: length('The range'),
    calibratedLower: length('The range to be calibrated'),
    calibratedUpper: length('The range to be calibrated'),
    resolution: z
      .number({ error: 'The resolution is a number in millimetres.' })
      .min(0.00001, 'The resolution is at least 0.000 01 mm.')
      .max(1, 'The resolution is at most 1 mm.'),
    maximumPermissibleError: z.number().positive('The maximum permissible error is greater than 0.').max(1).nullable(),
    adjustmentAllowed: z.boolean(),
    intervalMonths: z.number().int('The interval is a whole number of months.').min(1).max(120).nullable(),
    state: z.enum(['in-use', 'out-of-use']),
    nextDue: calendarDaySchema('The next date').nullable(),
  })
  .superRefine((i, context) => {
    const fault = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    if (i.rangeUpper <= i.rangeLower) fault('rangeUpper', 'The end of the range must be above its start.');
    if (i.calibratedUpper <= i.calibratedLower)
      fault('calibratedUpper', 'The end of the range to be calibrated must be above its start.');
    if (i.calibratedLower < i.rangeLower)
      fault('calibratedLower', 'The range to be calibrated starts below the range of the instrument.');
    if (i.calibratedUpper > i.rangeUpper)
      fault('calibratedUpper', 'The range to be calibrated ends above the range of the instrument.');
  });

export const itemEntrySchema = z.object({
  marking: z.string().trim().max(60).default(''),
  nominal: z
    .number({ error: 'The nominal length is a number in millimetres.' })
    .positive('The nominal length is greater than 0.')
    .max(2000),
  certified: z
    .number({ error: 'The certified length is a number in millimetres.' })
    .positive('The certified length is greater than 0.')
    .max(2000),
  expandedUncertainty: z
    .number({ error: 'The expanded uncertainty is a number in millimetres.' })
    .nonnegative('The expanded uncertainty cannot be negative.')
    .max(1),
  coverageFactor: z
    .number({ error: 'The coverage factor k is a number.' })
    .positive('The coverage factor k is greater than 0.')
    .max(10),
  expansionCoefficient: z
    .number({ error: 'The expansion coefficient is a number per kelvin.' })
    .min(-1e-5)
    .max(1e-4, 'The expansion coefficient is given per kelvin, for instance 0.0000115.'),
});

/** What a person enters to register a gauge-block set from its certificate. */
export const standardEntrySchema = z
  .object({
    identification: line('The identification'),
    kind: z.enum(['gauge-block-set']),
    designation: optionalLine,
    place: optionalLine,
    certificateIssuer: line('The issuer of the certificate'),
    certificateNumber: line('The number of the certificate'),
    certificateDate: calendarDaySchema('The date of the certificate'),
    due: calendarDaySchema('The due date'),
    items: z.array(itemEntrySchema).min(1, 'Give at least one block.').max(500, 'At most 500 blocks.'),
  })
  .superRefine((s, context) => {
    if (s.due < s.certificateDate)
      context.addIssue({ code: 'custom', path: ['due'], message: 'The due date is before the date of the certificate.' });
    s.items.forEach((item, i) => {
      // A nominal typed in place of a certified value passes here; a slipped digit does not.
      if (Math.abs(item.certified - item.nominal) > 0.01)
        context.addIssue({
          code: 'custom',
          path: ['items', i, 'certified'],
          message: `Block ${item.nominal}: the certified length is more than 0.01 mm from the nominal one. Check the digits.`,
        });
    });
  });

export const personEntrySchema = z.object({ name: line('The name') });
export const laboratoryEntrySchema = z.object({
  name: line('The name of the laboratory'),
  address: z.string().trim().max(300).default(''),
  timeZone: timeZoneSchema,
});

export type InstrumentEntry = z.infer<typeof instrumentEntrySchema>;
export type StandardEntry = z.infer<typeof standardEntrySchema>;
