import type { ProcedureDocument, StepDocument } from '../procedure/document-schema';

/** A moment that a line of a card can be attached to. */
export type CardMoment = { id: string; title: string; where: string };

/**
 * The moments of procedures, in the order in which they come: their steps, what is read, their adjustments. Of two procedures that name
 * a moment alike it stands once.
 * @example momentsOf([document])[0].title // 'Identity'
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
