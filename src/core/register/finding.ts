import * as z from 'zod';
import '../plain-issues';
import { calendarDaySchema } from '../quantity/calendar-day';

/** What was found of an instrument beside its calibrations, or done to it. */
export const findingKinds = {
  damage: 'Damage',
  worn: 'Worn part',
  maintenance: 'Maintenance',
  repair: 'Repair',
} as const;

/** What follows from it. */
export const findingOutcomes = {
  none: 'Nothing further',
  adjust: 'To be adjusted',
  repair: 'To be repaired',
  restrict: 'Restricted in its use',
  replace: 'To be replaced',
  withdraw: 'Withdrawn',
} as const;

export type FindingKind = keyof typeof findingKinds;
export type FindingOutcome = keyof typeof findingOutcomes;

/** Outcomes after which nobody measures with it until somebody says so. @example takesOutOfUse('repair') // true */
export const takesOutOfUse = (outcome: FindingOutcome): boolean => ['repair', 'replace', 'withdraw'].includes(outcome);

export const findingSchema = z.object({
  day: calendarDaySchema('The day'),
  kind: z.enum(Object.keys(findingKinds) as [FindingKind, ...FindingKind[]], { error: 'Choose what kind of finding it is.' }),
  text: z.string().trim().min(3, 'Say what was found or done.').max(500, 'This is longer than 500 characters.'),
  outcome: z.enum(Object.keys(findingOutcomes) as [FindingOutcome, ...FindingOutcome[]], {
    error: 'Choose what follows from it.',
  }),
});
export type Finding = z.infer<typeof findingSchema> & { person: string };

/**
 * What calibrated before a finding says of the instrument after it: a repair, or a part exchanged, is not covered by it.
 * @param lastCalibrated ISO day; null where it never was
 * @returns the finding since which it wants calibrating anew; null where none does
 * @example uncoveredSince([{ day: '2026-05-02', kind: 'repair', text: 'New spindle', outcome: 'none', person: 'A' }], '2026-01-10')?.day // '2026-05-02'
 */
export const uncoveredSince = (findings: readonly Finding[], lastCalibrated: string | null): Finding | null =>
  findings.find((f) => f.kind === 'repair' && (lastCalibrated === null || f.day > lastCalibrated)) ?? null;
