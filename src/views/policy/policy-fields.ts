import * as z from 'zod';
import { policySchema, type Policy, type PolicyScope } from '../../core/interval/policy';
import { schoolSchema } from '../../core/interval/proposal';
import { shownNumber, typedNumber } from '../../ui/form/typed';
import type { FormField } from '../../ui/form/FormFields';

/** What stands in the fields: text as typed, and what is chosen. */
export type PolicyTyped = {
  policy: Record<
    'months' | 'monthsAfterFail' | 'floor' | 'ceiling' | 'target' | 'longer' | 'shorter' | 'holdAbove' | 'useMost' | 'price',
    string
  > & { school: Policy['school']; useUnit: 'h' | 'cycles'; byDesignation: boolean; byOwner: boolean; byUse: boolean };
};

const hundredfold = (share: number): string => shownNumber(Number((100 * share).toPrecision(6)));

/** A policy as its fields show it. */
export const typedPolicy = (p: Policy): PolicyTyped => ({
  policy: {
    school: p.school,
    months: shownNumber(p.months),
    monthsAfterFail: shownNumber(p.monthsAfterFail),
    floor: shownNumber(p.floor),
    ceiling: shownNumber(p.ceiling),
    target: hundredfold(p.target),
    longer: shownNumber(p.longer),
    shorter: shownNumber(p.shorter),
    holdAbove: hundredfold(p.holdAbove),
    useUnit: p.use?.unit ?? 'h',
    useMost: shownNumber(p.use?.most),
    price: shownNumber(p.price),
    byDesignation: p.kinBy.includes('designation'),
    byOwner: p.kinBy.includes('owner'),
    byUse: p.kinBy.includes('use'),
  },
});

const kinNames = { designation: 'byDesignation', owner: 'byOwner', use: 'byUse' } as const;
const kinParts = ['designation', 'owner', 'use'] as const;

const share = (n: number | null) => (n === null ? undefined : n / 100);
const orDefault = (n: number | null) => n ?? undefined;

/** What was typed, as the policy that is sent; faults stand at their fields. */
export const policyFormSchema = (scope: PolicyScope, subject: string) =>
  z
    .object({
      policy: z
        .object({
          school: schoolSchema,
          months: typedNumber,
          monthsAfterFail: typedNumber,
          floor: typedNumber,
          ceiling: typedNumber,
          target: typedNumber,
          longer: typedNumber,
          shorter: typedNumber,
          holdAbove: typedNumber,
          useUnit: z.enum(['h', 'cycles']),
          useMost: typedNumber,
          price: typedNumber,
          byDesignation: z.boolean(),
          byOwner: z.boolean(),
          byUse: z.boolean(),
        })
        .transform((t): z.input<typeof policySchema> => ({
          school: t.school,
          months: t.months,
          monthsAfterFail: t.monthsAfterFail,
          floor: orDefault(t.floor),
          ceiling: orDefault(t.ceiling),
          target: share(t.target),
          longer: orDefault(t.longer),
          shorter: orDefault(t.shorter),
          holdAbove: share(t.holdAbove),
          use: t.useMost === null ? null : { unit: t.useUnit, most: t.useMost },
          price: t.price,
          kinBy: kinParts.filter((part) => t[kinNames[part]]),
        }))
        .pipe(policySchema),
    })
    .transform(({ policy }) => ({ scope, subject, policy }));

const field = (name: string, title: string, hint?: string, unit?: string): FormField => ({
  name: `policy.${name}`,
  title,
  type: 'number',
  ...(hint ? { hint } : {}),
  ...(unit ? { unit } : {}),
});

/** The fields of a policy, those of every school first. */
export const policyFields = {
  bounds: [
    field('floor', 'Shortest interval, months', 'Empty: 3'),
    field('ceiling', 'Longest interval, months', 'Empty: 36'),
    field('target', 'Target: still inside when it comes back, %', 'Empty: 95'),
  ],
  fixed: [
    field('months', 'Fixed months', "Empty: the procedure's"),
    field('monthsAfterFail', 'Fixed months after a fail', "Empty: the procedure's"),
  ],
  steps: [
    field('longer', 'Longer: times', 'Empty: 1.25'),
    field('shorter', 'Shorter: times', 'Empty: 0.6'),
    field('holdAbove', 'Held above, % of tolerance', 'Empty: 80'),
  ],
  use: field('useMost', 'Most use between two calibrations', 'Empty: not by use'),
  price: field('price', 'Price of a calibration', 'In your own money; for what a target costs'),
};
