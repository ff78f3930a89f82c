import { z } from 'zod';
import { actSchema } from '../core/run/event-schema';
import { idSchema } from './registration-schema';

const person = z
  .string({ error: 'Say who is at the bench.' })
  .trim()
  .min(1, 'Say who is at the bench: choose your name at the top of the page.')
  .max(120);

export const startRequestSchema = z.object({
  run: z.uuid('The id of a run is a UUID.'),
  instrument: idSchema,
  standard: idSchema,
  person,
});

export const appendRequestSchema = z.object({
  /** The sequence number of the last event the client has seen. */
  expectedSequence: z.number().int().positive(),
  /** Chosen once per act; a repeated request with the same key records nothing twice. */
  idempotencyKey: z.uuid('The idempotency key is a UUID.'),
  person,
  act: actSchema,
});

export type StartRequest = z.infer<typeof startRequestSchema>;
export type AppendRequest = z.infer<typeof appendRequestSchema>;
