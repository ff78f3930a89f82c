import * as z from 'zod';

/** When something was done, by which clock. */

/** What was odd about the server's clock when an event was recorded; the log keeps it in sight. */
export const clockMarkSchema = z.object({
  /** Seconds by which this event is earlier than the one before it. */
  earlierBy: z.number().positive().optional(),
  /** Seconds by which the clock had been set forward (or, negative, back) since the event before was recorded. */
  setBy: z.number().optional(),
});
/** When an act was done by the clock at the bench, and by how many seconds that clock was ahead of the server's. */
export const doneSchema = z.object({
  at: z.iso.datetime(),
  ahead: z.number(),
  /** When the server had last answered that bench, by its own clock: what came after it rests on the device alone. */
  contact: z.iso.datetime().optional(),
});

export type ClockMark = z.infer<typeof clockMarkSchema>;
export type Done = z.infer<typeof doneSchema>;

/** An entry of a log, whatever was done. */
export type Logged = {
  sequence: number;
  at: string;
  done?: Done | undefined;
  clock?: ClockMark | undefined;
  person: string;
  token?: string | undefined;
  act: { type: string };
};

/**
 * When an act was done: by the bench's clock set right by what it was ahead, else when it was recorded.
 * @example doneAt({ at: '2026-11-24T08:00:00Z' }) // '2026-11-24T08:00:00Z'
 */
export const doneAt = (event: Pick<Logged, 'at' | 'done'>): string =>
  event.done ? new Date(Date.parse(event.done.at) - 1000 * event.done.ahead).toISOString() : event.at;
