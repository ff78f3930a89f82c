import * as z from 'zod';
import { competenceEntrySchema } from '../core/register/competence';
import { personEntrySchema } from '../core/register/entry-schemas';
import { roles, rolesSchema } from '../core/register/roles';
import { digitsSchema, passwordSchema } from '../core/register/secrets';
import type { Endpoint } from './endpoint';

/* People, how they sign in, and what is noted of them. */

const name = z.string({ error: 'Type your name.' }).trim().min(1, 'Type your name.').max(120);
/** What is typed to show who one is, whatever it should have been: nothing is said of it beforehand. */
const shown = (what: string) => z.string({ error: what }).min(1, what).max(128);
const at = z.iso.datetime();
const acts = z.object({ person: z.string() });
const done = z.object({ done: z.literal(true) });
const anybody = [...roles];

export const firstSchema = z.object({ name, password: passwordSchema, digits: digitsSchema });
export const signInSchema = z.object({ name, password: shown('Type your password.') });
export const takeOverSchema = z.object({ person: shown('Choose who you are.'), digits: shown('Type your digits.') });
export const codeSchema = z.object({ name, code: shown('Type the code.'), password: passwordSchema, digits: digitsSchema });
export const ownSecretsSchema = z
  .object({
    current: shown('Type the password as it is now.'),
    password: passwordSchema.optional(),
    digits: digitsSchema.optional(),
  })
  .refine((o) => o.password !== undefined || o.digits !== undefined, 'Type another password, or other digits.');
export const rolesEntrySchema = z
  .object({ name, roles: rolesSchema, owner: z.string().trim().max(120).nullable().default(null) })
  .refine((r) => !r.roles.includes('owner') || (r.roles.length === 1 && r.owner), {
    error: 'An owner has no other role here; choose whose instruments are to be seen.',
    path: ['owner'],
  });
export const benchSchema = z.object({ name: z.string().trim().min(1, 'Give the bench a name.').max(60) });
export const tokenEntrySchema = z.object({
  name,
  roles: rolesSchema,
  days: z.number({ error: 'For how many days?' }).int('Whole days.').min(1, 'At least a day.').max(3650, 'At most ten years.'),
});

export const peopleEndpoints = {
  'POST /api/sign-in': {
    what: 'Signs in with name and password',
    request: signInSchema,
    answer: acts,
    isOpen: true,
    codes: [401, 422, 429],
  },
  'POST /api/sign-in/first': {
    what: 'Makes the first administrator of a laboratory',
    request: firstSchema,
    answer: acts,
    isOpen: true,
    codes: [409, 422, 429],
  },
  'POST /api/sign-in/code': {
    what: 'Takes a code that was handed over for a new password',
    request: codeSchema,
    answer: acts,
    isOpen: true,
    codes: [401, 422, 429],
  },
  'GET /api/sign-in/bench': {
    what: 'Who acts at this device, and who may take it over',
    answer: z.object({
      name: z.string(),
      isBench: z.boolean(),
      person: z.string().nullable(),
      last: z.string().nullable(),
      people: z.array(z.string()),
      minutes: z.number(),
    }),
    isOpen: true,
    codes: [401],
  },
  'POST /api/sign-in/bench': {
    what: 'Takes a bench over with digits',
    request: takeOverSchema,
    answer: acts,
    isOpen: true,
    codes: [401, 422, 429],
  },
  'DELETE /api/sign-in/bench': {
    what: 'Hands a bench on: nobody acts until somebody takes it over',
    answer: done,
    isOpen: true,
    codes: [401],
  },
  'POST /api/sign-in/here': {
    what: 'Says that somebody is at the bench',
    answer: acts,
    roles: anybody,
    isNoDeed: true,
    codes: [401],
  },
  'DELETE /api/sign-in': { what: 'Signs a device out', answer: done, isOpen: true, codes: [401, 403] },
  'POST /api/me/confirm': {
    what: 'Shows again who acts, for a signature',
    request: z.object({ digits: shown('Type your digits or password.') }),
    answer: done,
    roles: anybody,
    isNoDeed: true,
    codes: [401, 422, 429],
  },
  'PUT /api/me': {
    what: 'Changes one’s own password or digits',
    request: ownSecretsSchema,
    answer: done,
    roles: anybody,
    codes: [401, 422, 429],
  },
  'DELETE /api/me/sessions/[id]': {
    what: 'Ends one of one’s own sessions',
    answer: done,
    roles: anybody,
    codes: [401, 404],
  },
  'POST /api/benches': {
    what: 'Makes a bench of this device',
    request: benchSchema,
    answer: z.object({ name: z.string() }),
    roles: ['administrator'],
    codes: [401, 422],
  },
  'DELETE /api/benches/[id]': {
    what: 'Signs a bench out, wherever it is',
    answer: done,
    roles: ['administrator'],
    codes: [401, 404],
  },
  'GET /api/people': {
    what: 'Who can sign',
    answer: z.object({ people: z.array(z.looseObject({ id: z.string(), name: z.string() })) }),
    codes: [401],
  },
  'POST /api/people': {
    what: 'Adds somebody who can sign',
    request: personEntrySchema,
    answer: personEntrySchema,
    status: 201,
    roles: ['administrator'],
    codes: [401, 409, 422],
  },
  'PUT /api/people/roles': {
    what: 'Says what somebody may do',
    request: rolesEntrySchema,
    answer: z.object({ name: z.string(), roles: z.array(z.enum(roles)) }),
    roles: ['administrator'],
    codes: [401, 404, 409, 422],
  },
  'POST /api/people/code': {
    what: 'Makes a code that is good once, for a password',
    request: z.object({ name }),
    answer: z.object({ code: z.string(), until: at }),
    roles: ['administrator'],
    codes: [401, 404, 422],
  },
  'POST /api/people/retire': {
    what: 'Takes a name out of those who can sign',
    request: personEntrySchema,
    answer: personEntrySchema,
    roles: ['administrator'],
    codes: [401, 404, 409, 422],
  },
  'POST /api/competences': {
    what: 'Notes that somebody may run, review or approve a family',
    request: competenceEntrySchema,
    answer: z.object({ ids: z.array(z.string()) }),
    status: 201,
    roles: ['administrator'],
    codes: [401, 404, 422],
  },
  'DELETE /api/competences/[id]': {
    what: 'Ends it, with today as its last day',
    answer: done,
    roles: ['administrator'],
    codes: [401, 404],
  },
  'POST /api/tokens': {
    what: 'Makes a token by which a program acts as a person; it is shown this once',
    request: tokenEntrySchema,
    answer: z.object({ id: z.string(), token: z.string() }),
    status: 201,
    roles: ['administrator'],
    codes: [401, 422],
  },
  'DELETE /api/tokens/[id]': { what: 'Ends a token', answer: done, roles: ['administrator'], codes: [401, 404] },
  'POST /api/people/link': {
    what: 'Makes a link by which an owner sees his own instruments until it ends; it is shown this once',
    request: z.object({ name, days: tokenEntrySchema.shape.days }),
    answer: z.object({ id: z.string(), path: z.string() }),
    status: 201,
    roles: ['administrator'],
    codes: [401, 404, 409, 422],
  },
  'GET /api/mine/[id]/certificate.pdf': {
    what: 'A certificate of an owner’s own instrument, by its run',
    answer: 'application/pdf',
    roles: ['owner'],
    codes: [401, 404],
  },
  'GET /api/deeds.csv': {
    what: 'Who did what, as a table',
    query: z.object({
      person: z.string().max(120).optional(),
      text: z.string().max(120).optional(),
      from: z.string().max(10).optional(),
      to: z.string().max(10).optional(),
    }),
    answer: 'text/csv',
    roles: ['administrator', 'approver', 'reviewer'],
    codes: [401, 422],
  },
} as const satisfies Record<string, Endpoint>;
