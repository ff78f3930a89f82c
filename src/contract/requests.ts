import * as z from 'zod';
import { findingSchema } from '../core/register/finding';
import { cardLinesSchema } from '../core/register/model-card';
import { actSchema } from '../core/acts/registry';
import { policySchema, policyScopeSchema } from '../core/interval/policy';
import { calendarDaySchema } from '../core/quantity/calendar-day';
import { faultKindSchema } from '../core/practice/debrief-shape';
import { idSchema } from '../core/register/entry-schemas';
import { doneSchema } from '../core/state/logged';

/** What the server is asked, beyond entries of the register and documents, which the core describes. */

/** Whoever acts. */
const person = z.string().trim().min(1, 'Say who you are: choose your name at the top of the page.').max(120);
const amount = (title: string) =>
  z
    .number({ error: `Type ${title}.` })
    .min(0, 'A counter shows nothing below 0.')
    .max(1e12, 'That is more than any counter shows.');

export const countRequestSchema = z.object({
  day: calendarDaySchema('The day'),
  count: amount('what the counter shows'),
  person,
  /** It was set back or exchanged: less than before is right. */ isSetBack: z.boolean().optional(),
});
export const findingRequestSchema = findingSchema.extend({ person });
export const cardRequestSchema = z.object({
  lines: cardLinesSchema,
  person,
  /** The version that was seen; 0 where there was none. */ seen: z.number().int().nonnegative(),
});
export const outRequestSchema = z.object({ place: z.string().trim().max(120).default(''), person });
export const backRequestSchema = z.object({ used: amount('how much it was used'), person });

export const policyRequestSchema = z.object({
  scope: policyScopeSchema,
  subject: z.string().trim().max(120),
  /** Null takes it back. */
  policy: policySchema.nullable(),
});
export const setPolicyRequestSchema = policyRequestSchema.extend({
  person,
});

export const clockRightSchema = z.strictObject({
  person: z.string().trim().min(1).max(80),
  reason: z.string().trim().min(3, 'Say in a few words what happened to the clock.').max(300),
});

export const impactSchema = z.strictObject({
  /** Runs begun from that day on: since the standard was last known to be right. */
  since: calendarDaySchema('The day'),
});

/** Which issue of a certificate; the latest where nothing is said. */
export const issueSchema = z.object({ number: z.string().max(60).optional() });

export const sealCheckSchema = z.strictObject({
  /** Texts in which heads of the chain stand, a line each; nothing: the chain is held against itself. */
  heads: z.string().max(20_000, 'These are more heads than can be compared at once.'),
});

export const retirementSchema = z.strictObject({
  person: z.string().trim().min(1).max(120),
  reason: z.string().trim().min(3, 'Say in a few words why it is no longer used.').max(300),
});
export const linesRequestSchema = z.object({
  owner: z.string().max(120).optional(),
  place: z.string().max(120).optional(),
  /** The Monday of a week; without it all of the year. */ week: calendarDaySchema('The week').optional(),
  after: z.coerce.number().int().min(0).max(1_000_000).default(0),
});

export const moveRequestSchema = z.object({
  instruments: z.array(idSchema).min(1, 'Choose what is to be moved.').max(200),
  to: calendarDaySchema('The new date'),
  reason: z.string().trim().min(3, 'Give the reason in a few words.').max(300),
  person,
});

const atTheBench = z
  .string({ error: 'Say who is at the bench.' })
  .trim()
  .min(1, 'Say who is at the bench: choose your name at the top of the page.')
  .max(120);

export const startRequestSchema = z.object({
  run: z.uuid('The id of a run is a UUID.'),
  instrument: idSchema,
  procedure: z.string().max(80),
  /** A calibration, where nothing is said. */
  purpose: z.enum(['calibration', 'quick']).optional(),
  /** The cause that was looked for before a quick check, to see whether it was that. */
  looksFor: z.string().max(60).optional(),
  /** Ids of standards by the role that they fill. */
  standards: z.record(z.string().max(60), z.array(idSchema).max(12)).default({}),
  choices: z.record(z.string().max(60), z.string().max(60)).default({}),
  /** Day on which the instrument was received. */
  received: z.iso.date('The day of receipt is a day of the calendar.').optional(),
  /** Other instruments in the same set-up, in their order, each with the id of its run. */
  setUp: z
    .object({
      id: z.uuid('The id of a set-up is a UUID.'),
      with: z
        .array(z.object({ run: z.uuid('The id of a run is a UUID.'), instrument: idSchema }))
        .min(1)
        .max(23),
    })
    .optional(),
  person: atTheBench,
});

/** Seconds by which a clock may be off: a device that has lost its date starts in 1970. */
const mostAhead = 100 * 366 * 86_400;

export const appendRequestSchema = z.object({
  /** The sequence number of the last event the client has seen. */
  expectedSequence: z.number().int().positive(),
  /** Chosen once per act; a repeated request with the same key records nothing twice. */
  idempotencyKey: z.uuid('The idempotency key is a UUID.'),
  person: atTheBench,
  /** When it was done, by the clock at the bench. */
  done: doneSchema
    .refine((d) => Math.abs(d.ahead) <= mostAhead, 'No clock of a bench is that far off. Set it, then do this again.')
    .optional(),
  act: actSchema,
});

export const practiceRequestSchema = z.object({
  case: z.string().max(60),
  person: atTheBench,
  /** What sizes and places are drawn from; chosen by the server where none is told. */ seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31)
    .optional(),
});
export const assistRequestSchema = z.object({
  person: atTheBench,
  expectedSequence: z.number().int().positive(),
  /** The next thing, or everything up to the next decision. */ until: z.enum(['next', 'decision']),
});
export const practiceEndRequestSchema = z.object({
  /** What is said to have been wrong; nothing: it was in order. */ named: z.array(faultKindSchema).max(20),
});

export type PracticeRequest = z.infer<typeof practiceRequestSchema>;
export type AssistRequest = z.infer<typeof assistRequestSchema>;
export type PracticeEndRequest = z.infer<typeof practiceEndRequestSchema>;
export type StartRequest = z.infer<typeof startRequestSchema>;
export type AppendRequest = z.infer<typeof appendRequestSchema>;

export type CountRequest = z.infer<typeof countRequestSchema>;
export type FindingRequest = z.infer<typeof findingRequestSchema>;
export type CardRequest = z.infer<typeof cardRequestSchema>;
export type OutRequest = z.infer<typeof outRequestSchema>;
export type BackRequest = z.infer<typeof backRequestSchema>;
export type PolicyRequest = z.infer<typeof policyRequestSchema>;
export type SetPolicyRequest = z.infer<typeof setPolicyRequestSchema>;
export type ClockRightRequest = z.infer<typeof clockRightSchema>;
export type RetirementRequest = z.infer<typeof retirementSchema>;
export type LinesRequest = z.infer<typeof linesRequestSchema>;
export type MoveRequest = z.infer<typeof moveRequestSchema>;
