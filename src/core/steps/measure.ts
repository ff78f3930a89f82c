import { refuse } from '../state/refusal';
import { ownFormIn } from '../state/own-units';
import { limitsIn, outsideWords, typedNumber, unitIn, withUnit, type StepContext, type StepKind } from './step-context';

/** The unit in which a number is measured here, and its limits in it: the instrument's own where the document's is meant. */
export function measuredHere(c: StepContext<'measure'>) {
  const limits = limitsIn(c, c.step);
  const form = ownFormIn(c.state, c.step.unit);
  if (!form) return { unit: unitIn(c.state, c.step.unit, c.place), limits, toDocument: (typed: number) => typed };
  const own = (value: number | undefined) => (value === undefined ? undefined : Number(form.toOwn(value).toPrecision(9)));
  const near = limits.near && {
    is: own(limits.near.is)!,
    within: Math.abs(form.toOwn(limits.near.is + limits.near.within) - form.toOwn(limits.near.is)),
  };
  return {
    unit: form.unit,
    limits: { lower: own(limits.lower), upper: own(limits.upper), ...(near ? { near } : {}) },
    toDocument: (typed: number) => Number(form.toDocument(typed).toPrecision(12)),
  };
}

/** A number read once; outside its limits it needs a reason. */
export const measure: StepKind<'measure'> = {
  admit: (c, act) => {
    const typed = typedNumber(act.text);
    if ('message' in typed) return typed;
    const { unit, limits, toDocument } = measuredHere(c);
    if (act.value !== toDocument(typed.value)) return refuse('The number recorded is not the one typed. Type it again.', 'value');
    const outside = outsideWords(c.step.title, typed.value, unit, limits);
    return outside && !act.reason ? refuse(`${outside} Measure again, or give the reason for going on.`, 'reason') : null;
  },
  sentence: ({ step }) => step.ask,
  said: (step, { value, text, reason }) =>
    `${typeof value === 'number' && typeof step.unit === 'string' ? withUnit(value, step.unit) : (text ?? String(value))}${reason ? `: ${reason}` : ''}`,
};
