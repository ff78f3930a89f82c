import * as z from 'zod';
import '../plain-issues';
import { decisionRuleSchema } from '../conformity/conformity-schema';
import { calendarDaySchema, timeZoneSchema } from '../quantity/calendar-day';
import { standardSchema } from '../standard/standard-schema';

const line = (what: string) =>
  z
    .string({ error: `${what} is missing.` })
    .trim()
    .min(1, `${what} is missing.`)
    .max(120, `${what} is longer than 120 characters.`);
const optionalLine = z.string().trim().max(120).default('');
const greatest = 1e12;
const number = (what: string) =>
  z
    .number({ error: `${what} is a number.` })
    .min(-greatest, `${what} is too great to be meant.`)
    .max(greatest, `${what} is too great to be meant.`);
export const idSchema = z.string().regex(/^[A-Za-z0-9-]{1,64}$/, 'This is not an id.');
const kind = z
  .string({ error: 'Choose what kind of thing it is.' })
  .trim()
  .regex(/^[a-z][a-z0-9-]{1,60}$/, 'A kind is written in small letters with hyphens, for instance pressure-gauge.');
const unit = z
  .string({ error: 'The unit is missing.' })
  .trim()
  .min(1, 'The unit is missing.')
  .max(20, 'A unit has at most 20 characters.');
const member = z.union([z.number(), z.string().trim().max(120)]);
const row = z.looseObject({
  id: z.string().trim().min(1, 'Every row has an id.').max(60),
  title: z.string().trim().max(120).optional(),
});

/** What a person enters to register an instrument; numbers in its own unit. */
export const instrumentEntrySchema = z
  .object({
    identification: line('The identification'),
    serialNumber: optionalLine,
    kind,
    designation: optionalLine,
    owner: line('The owner'),
    ownerAddress: z.string().trim().max(300).default(''),
    place: optionalLine,
    use: optionalLine,
    unit,
    lower: number('The range'),
    upper: number('The range'),
    usedLower: number('The range to be calibrated'),
    usedUpper: number('The range to be calibrated'),
    resolution: number('The resolution').positive('The resolution is greater than 0.'),
    characteristics: z.record(z.string().max(60), member).default({}),
    lists: z.record(z.string().max(60), z.array(row).max(300, 'A list has at most 300 rows.')).default({}),
    parts: z.record(z.string().max(60), z.string().trim().max(120)).default({}),
    /** Stored values that were typed: null is not known; what is left out stays as it is. */
    stored: z.record(z.string().max(60), number('A stored value').nullable()).default({}),
    decisionRule: decisionRuleSchema.nullable().default(null),
    adjustmentAllowed: z.boolean(),
    nextDateWanted: z.boolean().default(false),
    intervalMonths: z.number().int('The interval is a whole number of months.').min(1).max(120).nullable(),
    state: z.enum(['in-use', 'out-of-use']),
    nextDue: calendarDaySchema('The next date').nullable(),
  })
  .superRefine((i, context) => {
    const fault = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    // What has one value only, a fixed volume or one level, begins where it ends.
    if (i.upper < i.lower) fault('upper', 'The end of the range must not be below its start.');
    if (i.upper === 0 && i.lower === 0) fault('upper', 'A range from 0 to 0 holds nothing: type its end.');
    if (i.usedUpper < i.usedLower) fault('usedUpper', 'The end of the range to be calibrated must not be below its start.');
    if (i.usedLower < i.lower) fault('usedLower', 'The range to be calibrated starts below the range of the instrument.');
    if (i.usedUpper > i.upper) fault('usedUpper', 'The range to be calibrated ends above the range of the instrument.');
    // What is made for one value, such as a fixed pipette, has no range but that value.
    if (i.resolution > (i.upper - i.lower || Math.abs(i.upper)) / 2)
      fault('resolution', 'The resolution is coarser than half the range. Check the digits.');
    for (const [id, rows] of Object.entries(i.lists))
      if (new Set(rows.map((r) => r.id)).size !== rows.length) fault('lists', `Two rows of ${id} have the same id.`);
  });

/** How far a certified value may lie from its nominal one before somebody looks at the digits again, as a share of it. */
const nominalShare = 0.05;

type Item = { nominal: number; certified?: number | undefined };

const isFar = ({ nominal, certified }: Item): boolean =>
  certified !== undefined && nominal !== 0 && Math.abs(certified - nominal) > nominalShare * Math.max(Math.abs(nominal), 1e-9);
/** Whether it is the nominal value but for a power of ten. */
function isSlip({ nominal, certified }: Item): boolean {
  const power = Math.log10(Math.abs((certified ?? 0) / nominal));
  return Math.abs(power - Math.round(power)) < 0.01;
}

/** What a person enters to register a standard: its document, and where it is kept. */
export const standardEntrySchema = z
  .object({
    place: optionalLine,
    document: standardSchema,
    /** Values that jumped against the former certificate were looked at, and stand. */
    jumpsSeen: z.boolean().optional(),
  })
  .superRefine(({ document: d }, context) => {
    const fault = (path: (string | number)[], message: string) =>
      context.addIssue({ code: 'custom', path: ['document', ...path], message });
    for (const member of ['identification', 'kind'] as const) {
      const parsed = (member === 'kind' ? kind : line('The identification')).safeParse(d[member]);
      if (!parsed.success) fault([member], parsed.error.issues[0]!.message);
    }
    const { certificate } = d;
    if (certificate && (certificate.issuer.trim() === '' || certificate.number.trim() === ''))
      fault(['certificate', certificate.issuer.trim() === '' ? 'issuer' : 'number'], 'A certificate has an issuer and a number.');
    if (certificate?.due !== undefined && certificate.due < certificate.date)
      fault(['certificate', 'due'], 'The due date is before the date of the certificate.');
    const contents = [
      { content: d as Pick<typeof d, 'items' | 'corrections' | 'values' | 'function'>, path: [] as (string | number)[] },
    ];
    d.parts?.forEach((p, i) => contents.push({ content: p, path: ['parts', i] }));
    for (const { content, path } of contents) {
      for (const list of ['items', 'corrections', 'values'] as const)
        content[list]?.forEach((entry, i) => {
          // Without a certificate nothing is certified: an item says what it is, such as a capacity.
          if (
            entry.expandedUncertainty === 0 &&
            certificate &&
            !('corrections' in entry || 'values' in entry || 'function' in entry)
          )
            fault(
              [...path, list, i, 'expandedUncertainty'],
              'An expanded uncertainty of 0 states no uncertainty. Type the one of the certificate.',
            );
        });
      const ids = new Set<string>();
      // Where most are, the nominal only names them: the angle at which a gloss is certified.
      const areFar = 2 * (content.items?.filter(isFar).length ?? 0) > (content.items?.length ?? 0);
      content.items?.forEach((item, i) => {
        if (ids.has(item.id)) fault([...path, 'items', i, 'id'], `Two items have the id ${item.id}.`);
        ids.add(item.id);
        // A nominal typed in place of a certified value passes here; a slipped digit does not.
        if (isFar(item) && (!areFar || isSlip(item)))
          fault(
            [...path, 'items', i, 'certified'],
            `Item ${item.nominal}: the certified value is far from the nominal one. Check the digits.`,
          );
      });
    }
  });

export const personEntrySchema = z.object({ name: line('The name') });
export const laboratoryEntrySchema = z.object({
  name: line('The name of the laboratory'),
  address: z.string().trim().max(300).default(''),
  conditionInstruments: z.string().trim().max(300).default(''),
  timeZone: timeZoneSchema,
});

/** What is asked of whoever acts in a laboratory. */
export const peopleRulesSchema = z.object({
  signOffMinutes: z
    .number({ error: 'Type a number of minutes.' })
    .int('Type whole minutes.')
    .min(1, 'At least one minute.')
    .max(480, 'At most 480 minutes, a working day.'),
  asksCompetence: z.boolean(),
  isOfOne: z.boolean(),
});
export type PeopleRules = z.infer<typeof peopleRulesSchema>;

export type LaboratoryEntry = z.infer<typeof laboratoryEntrySchema>;
export type InstrumentEntry = z.infer<typeof instrumentEntrySchema>;
export type StandardEntry = z.infer<typeof standardEntrySchema>;
