import * as z from 'zod';
import '../plain-issues';
import type { ProcedureDocument, StepDocument } from '../procedure/document-schema';

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

/** A moment that a line of a card can be attached to. */
export type CardMoment = { id: string; title: string; where: string };

/**
 * The moments of procedures, in the order in which they come: their steps, what is read, their adjustments. Of two procedures that name
 * a moment alike it stands once.
 */
export function momentsOf(documents: readonly ProcedureDocument[]): CardMoment[] {
  const moments = new Map<string, CardMoment>();
  const add = (id: string, title: string, where: string) => {
    if (!moments.has(id)) moments.set(id, { id, title, where });
  };
  const steps = (list: readonly StepDocument[], where: string) => list.forEach((s) => add(s.id, s.title, where));
  for (const d of documents) {
    steps(
      d.steps.filter((s) => s.after !== 'run'),
      'Prepare',
    );
    for (const s of d.series) {
      steps(s.steps, s.title);
      for (const o of s.observe) if (o.of === 'instrument') add(`${s.id}.${o.id}`, o.title ?? o.id, s.title);
    }
    for (const a of d.adjustments) {
      steps(a.steps ?? [], a.title);
      add(a.id, a.title, 'Adjust');
      steps(a.afterSteps ?? [], a.title);
    }
    steps(
      d.steps.filter((s) => s.after === 'run'),
      'Finish',
    );
    for (const r of d.ruleOut) steps(r.steps ?? [], r.title);
  }
  return [...moments.values()];
}

/** What a card says at some moments, in its own order. */
export const cardTexts = (card: Pick<ModelCard, 'lines'> | null, moments: readonly string[]): string[] =>
  (card?.lines ?? []).filter((l) => moments.includes(l.at)).map((l) => l.text);
