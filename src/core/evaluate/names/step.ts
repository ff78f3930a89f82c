import type { ProcedureDocument, StepDocument } from '../../procedure/document-schema';
import { Absent, DocumentError, LeftOut } from '../../faults';
import { readingNumber } from '../observed';
import { evaluateText, isIn, type Scope, type Setting } from '../setting';
import { known, lastWord, nobody, type Head } from './head';

/** A step of a document, wherever it stands. @example stepNamed(document, 'soak').kind // 'wait' */
export const stepNamed = (doc: ProcedureDocument, id: string): StepDocument | undefined =>
  [
    ...doc.steps,
    ...doc.series.flatMap((s) => s.steps),
    ...doc.adjustments.flatMap((a) => [...(a.steps ?? []), ...(a.afterSteps ?? [])]),
    ...doc.ruleOut.flatMap((r) => r.steps ?? []),
  ].find((s) => s.id === id);

function stepNumber(s: Setting, [id, property]: string[], scope: Scope): number {
  const inSeries = [...(scope.series ? [scope.series.doc.steps] : []), s.doc.steps, ...s.doc.series.map((x) => x.steps)];
  const step = inSeries.flat().find((x) => x.id === id);
  if (!step) throw new DocumentError(`"${id}" is not a step of this procedure.`, scope.path);
  if (!isIn(s, step.when, scope)) throw new LeftOut(`step ${id}`);
  const found = s.observed.stepValue(s, id!, scope);
  if (found === undefined) {
    if (step.kind === 'check') return evaluateText(s, step.is, scope);
    throw new Absent(`step ${id}`, 'record');
  }
  if (property !== undefined) {
    const value = typeof found === 'object' ? found[property] : undefined;
    return known(value, `step ${id}.${property}`, 'record');
  }
  if (typeof found === 'number') return found;
  if (typeof found === 'string') return readingNumber(found, String(id), ['steps', id!]);
  throw new Absent(`number of step ${id}`, 'record');
}

/** Whether a step has numbers of its own beside what was answered: of a connection, keyed in, or settings. */
const offers = (step: StepDocument, property: string): boolean =>
  step.kind === 'connect' ||
  (step.kind === 'do' && step.show?.some((s) => s.id === property) === true) ||
  (step.kind === 'settings' && step.settings.some((s) => s.id === property));

/** What was measured or answered at a step. */
export const step: Head = {
  problem: (doc, rest, _view, name) => {
    const found = stepNamed(doc, rest[0]!);
    return found && (rest.length === 1 || (rest.length === 2 && offers(found, rest[1]!))) ? null : nobody(name);
  },
  value: (s, rest, scope) => stepNumber(s, rest, scope),
  words: lastWord,
  isGrowing: true,
};
