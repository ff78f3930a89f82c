import * as z from 'zod';
import '../plain-issues';
import { calendarDaySchema } from '../quantity/calendar-day';
import { isSamePerson } from './person-name';

/** What somebody can be found able to do with the procedures of a family (ISO/IEC 17025:2017, 6.2.6). */
export const ableTo = ['run', 'review', 'approve'] as const;
export type AbleTo = (typeof ableTo)[number];

/** Every family. */
export const everyKind = '*';

/** Who was found able to do what with a family, from when to when. */
export type Competence = { person: string; kind: string; may: AbleTo; from: string; until: string | null };

export const competenceEntrySchema = z
  .object({
    name: z.string().trim().min(1, 'Say who.').max(120),
    kind: z.union([z.literal(everyKind), z.string().regex(/^[a-z][a-z0-9-]{1,60}$/, 'Choose a family.')]),
    may: z.array(z.enum(ableTo)).min(1, 'Choose at least one of run, review, approve.'),
    from: calendarDaySchema('From'),
    until: calendarDaySchema('Until').nullable(),
    ground: z.string().trim().min(3, 'Say in a few words on what it rests.').max(300),
  })
  .refine((c) => c.until === null || c.until >= c.from, { error: 'It ends before it begins.', path: ['until'] });

/**
 * Whether somebody was found able to do something with a family on a day.
 * @param day ISO day; the first and the last of a time count
 * @example isAble([{ person: 'Ada', kind: '*', may: 'run', from: '2026-01-01', until: null }], 'Ada', 'micrometer', 'run', '2026-05-01') // true
 */
export const isAble = (all: readonly Competence[], person: string, kind: string, may: AbleTo, day: string): boolean =>
  all.some(
    (c) =>
      isSamePerson(c.person, person) &&
      (c.kind === everyKind || c.kind === kind) &&
      c.may === may &&
      c.from <= day &&
      (c.until === null || day <= c.until),
  );

/**
 * Those who can do something with a family on a day, each once, in the order in which they are noted.
 * @example ableNow([{ person: 'Ada', kind: '*', may: 'run', from: '2026-01-01', until: null }], 'calliper', 'run', '2026-06-01') // ['Ada']
 */
export const ableNow = (all: readonly Competence[], kind: string, may: AbleTo, day: string): string[] => [
  ...new Set(all.filter((c) => isAble([c], c.person, kind, may, day)).map((c) => c.person)),
];
