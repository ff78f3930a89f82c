import * as z from 'zod';
import { schoolSchema, type SchoolId } from './proposal';

const months = (least: number, most: number) =>
  z.number({ error: 'Type a number of months.' }).min(least, `At least ${least} months.`).max(most, `At most ${most} months.`);

/** What a laboratory holds to when a next date is set. Times in months, shares from 0 to 1. */
export const policySchema = z
  .strictObject({
    school: schoolSchema,
    /** Where nothing is known of the instrument, and of the fixed school; null: the procedure says. */
    months: months(0.25, 120).nullable().default(null),
    /** Of the fixed school after a fail; null: the procedure says. */
    monthsAfterFail: months(0.25, 120).nullable().default(null),
    /** No school goes below or above. */
    floor: months(0.25, 60).default(3),
    ceiling: months(1, 120).default(36),
    /** The share that shall still be inside when it comes back. */
    target: z
      .number()
      .min(0.5, 'A target lies between 50 % and 99.9 %.')
      .max(0.999, 'A target lies between 50 % and 99.9 %.')
      .default(0.95),
    /** Of the staircase. */
    longer: z.number().min(1).max(3).default(1.25),
    shorter: z.number().min(0.1).max(1).default(0.6),
    holdAbove: z.number().min(0.1).max(1).default(0.8),
    /** How much use there may be between two calibrations, where wear is by use. */
    use: z
      .strictObject({
        unit: z.enum(['h', 'cycles']),
        most: z.number().positive('Type how much use there may be.').max(1e9),
      })
      .nullable()
      .default(null),
    /** What a calibration costs, in the laboratory's own money; null: not told. */
    price: z.number().nonnegative().max(1e9).nullable().default(null),
    /** What instruments of a kind are told apart by when kin is looked for. */
    kinBy: z
      .array(z.enum(['designation', 'owner', 'use']))
      .max(3)
      .default([]),
  })
  .refine((p) => p.floor <= p.ceiling, { message: 'The shortest interval is longer than the longest.', path: ['floor'] });
export type Policy = z.infer<typeof policySchema>;

export const policyScopes = ['laboratory', 'family', 'owner', 'instrument'] as const;
export const policyScopeSchema = z.enum(policyScopes);
export type PolicyScope = z.infer<typeof policyScopeSchema>;

/** A policy that was set for something; of a laboratory the subject is empty, of a family its kind, else a name or an id. */
export type SetPolicy = { scope: PolicyScope; subject: string; policy: Policy };

/** What holds where nothing was set: the months of the procedure, as ever. */
export const plainPolicy: Policy = policySchema.parse({ school: 'fixed' });

export type PolicyFor = { policy: Policy; scope: PolicyScope | 'none' };

/**
 * The policy of an instrument: its own, else its owner's, else its family's, else the laboratory's. Months that its own record names are
 * a word of its own: they are fixed, within what else holds for it.
 * @example policyFor({ id: 'm-1', owner: 'Works', kind: 'calliper', intervalMonths: null }, []).policy.school // 'fixed'
 */
export function policyFor(
  instrument: { id: string; owner: string; kind: string; intervalMonths: number | null },
  set: readonly SetPolicy[],
): PolicyFor {
  const subjects: [PolicyScope, string][] = [
    ['instrument', instrument.id],
    ['owner', instrument.owner],
    ['family', instrument.kind],
    ['laboratory', ''],
  ];
  const found = subjects.flatMap(([scope, subject]) => set.filter((p) => p.scope === scope && p.subject === subject))[0];
  const { policy, scope }: PolicyFor = found ?? { policy: plainPolicy, scope: 'none' };
  return scope !== 'instrument' && instrument.intervalMonths !== null
    ? { policy: { ...policy, school: 'fixed' }, scope: 'instrument' }
    : { policy, scope };
}

/**
 * Which kin an instrument belongs to: its kind, and what else the policy tells instruments apart by.
 * @example kinOf({ kind: 'calliper', designation: '150', owner: 'Works', use: 'bench' }, ['use']) // '["calliper","bench"]'
 */
export const kinOf = (
  instrument: { kind: string; designation: string; owner: string; use: string },
  kinBy: Policy['kinBy'],
): string => JSON.stringify([instrument.kind, ...[...kinBy].sort().map((by) => instrument[by])]);

/** Where the page of some kin is. @example kinAddress(JSON.stringify(['calliper'])) // '/families/calliper' */
export function kinAddress(kin: string): string {
  const [kind, ...told] = JSON.parse(kin) as string[];
  const query = told.map((value) => `with=${encodeURIComponent(value)}`).join('&');
  return `/families/${encodeURIComponent(kind!)}${query && `?${query}`}`;
}

/** In which order schools are asked when the chosen one has nothing to go by: own history, then kin, then policy. */
export const fallbacks: readonly SchoolId[] = ['drift', 'reliability', 'react', 'fixed'];

/** A number of months within a policy's bounds. */
export const bounded = (months: number, { floor, ceiling }: Policy): number => Math.min(ceiling, Math.max(floor, months));
