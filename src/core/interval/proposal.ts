import * as z from 'zod';

/** How a next date is told. */
export const schools = ['fixed', 'react', 'drift', 'reliability', 'use', 'quick'] as const;
export const schoolSchema = z.enum(schools);
export type SchoolId = z.infer<typeof schoolSchema>;

export const schoolTitles: Record<SchoolId, string> = {
  fixed: 'Fixed months',
  react: 'Steps by the last result',
  drift: 'Drift of this instrument',
  reliability: 'Reliability of similar instruments',
  use: 'Hours or cycles of use',
  quick: 'Quick checks',
};

/** The date that one school gives, with what it rests on; or why it gives none. */
export const proposalSchema = z.object({
  school: schoolSchema,
  /** ISO day; null where the school has nothing to go by. */
  date: z.string().nullable(),
  months: z.number().nullable(),
  /** In a sentence. */
  reason: z.string(),
  assumes: z.string(),
  /** How sure it is. */
  sure: z.string(),
});
export type Proposal = z.infer<typeof proposalSchema>;

/** A school that cannot say anything of this instrument. */
export const silent = (school: SchoolId, reason: string, assumes: string): Proposal => ({
  school,
  date: null,
  months: null,
  reason,
  assumes,
  sure: 'says nothing',
});

/** A number of months in words: whole ones without decimals. @example monthsInWords(13) // '13 months' */
export function monthsInWords(months: number): string {
  const text = months >= 10 || Number.isInteger(Number(months.toFixed(1))) ? months.toFixed(0) : months.toFixed(1);
  return `${text} month${text === '1' ? '' : 's'}`;
}

/** @example percent(0.123) // '12 %' */
export const percent = (share: number, digits = 0): string => `${(100 * share).toFixed(digits)} %`;
