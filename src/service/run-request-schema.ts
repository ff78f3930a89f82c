import { actSchema } from '../core/acts/registry';
import { doneSchema } from '../core/state/logged';
import * as z from 'zod';
import { idSchema } from '../core/register/entry-schemas';

const person = z
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
  person,
});

/** Seconds by which a clock may be off: a device that has lost its date starts in 1970. */
const mostAhead = 100 * 366 * 86_400;

export const appendRequestSchema = z.object({
  /** The sequence number of the last event the client has seen. */
  expectedSequence: z.number().int().positive(),
  /** Chosen once per act; a repeated request with the same key records nothing twice. */
  idempotencyKey: z.uuid('The idempotency key is a UUID.'),
  person,
  /** When it was done, by the clock at the bench. */
  done: doneSchema
    .refine((d) => Math.abs(d.ahead) <= mostAhead, 'No clock of a bench is that far off. Set it, then do this again.')
    .optional(),
  act: actSchema,
});

export type StartRequest = z.infer<typeof startRequestSchema>;
export type AppendRequest = z.infer<typeof appendRequestSchema>;
