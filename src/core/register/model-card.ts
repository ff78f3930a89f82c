import * as z from 'zod';
import '../plain-issues';

/** What to do on one make and type at a moment of a procedure: keys, menus, holder, what the display says. */
const cardLineSchema = z.object({
  /** The step, observation, series or adjustment of the procedure that it belongs to, by its id. */
  at: z.string().trim().min(1, 'Say at which moment.').max(80),
  text: z.string().trim().min(1, 'Say how it is done.').max(1000, 'This is longer than 1000 characters.'),
});

/** The laboratory's card of a make and type: the procedure stays what it is, the card says how it is done on this model. */
export const cardLinesSchema = z.array(cardLineSchema).max(80, 'A card has at most 80 lines.');

export type CardLine = z.infer<typeof cardLineSchema>;
export type ModelCard = { kind: string; model: string; version: number; lines: CardLine[]; at: string; person: string };

/**
 * What a card says at some moments, in its own order.
 * @example cardTexts({ lines: [{ at: 'zero', text: 'Hold ZERO' }] }, ['zero']) // ['Hold ZERO']
 */
export const cardTexts = (card: Pick<ModelCard, 'lines'> | null, moments: readonly string[]): string[] =>
  (card?.lines ?? []).filter((l) => moments.includes(l.at)).map((l) => l.text);
