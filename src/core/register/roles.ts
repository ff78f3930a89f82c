import * as z from 'zod';
import '../plain-issues';

/** What somebody may do. An owner sees his own instruments and nothing else. */
export const roles = ['technician', 'reviewer', 'approver', 'administrator', 'owner'] as const;
export type Role = (typeof roles)[number];

export const rolesSchema = z
  .array(z.enum(roles, { error: `A role is one of ${roles.join(', ')}.` }))
  .min(1, `Name at least one role: ${roles.join(', ')}.`)
  .transform((named) => [...new Set(named)]);

/**
 * Whether one of some roles allows what any of others is needed for.
 * @param held null: nobody has said yet who acts, as before there were roles
 * @example mayAct(['technician'], ['reviewer']) // false
 */
export const mayAct = (held: readonly Role[] | null, needed: readonly Role[]): boolean =>
  held === null || needed.some((role) => held.includes(role));

/** Whether somebody looks at his own instruments, and does nothing else. @example isOwnerOnly(['owner']) // true */
export const isOwnerOnly = (held: readonly Role[]): boolean => held.every((role) => role === 'owner');

/** Roles as a sentence names them. @example roleWords(['technician', 'reviewer']) // 'a technician or a reviewer' */
export const roleWords = (needed: readonly Role[]): string =>
  needed.map((role) => `${/^[aeo]/.test(role) ? 'an' : 'a'} ${role}`).join(' or ');
