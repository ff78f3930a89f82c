import { refuse } from '../run/refusal';
import { limitsIn, outsideWords, typedNumber, unitIn, withUnit, type StepKind } from './step-context';

/** A number read once; outside its limits it needs a reason. */
export const measure: StepKind<'measure'> = {
  admit: (c, act) => {
    const typed = typedNumber(act.text);
    if ('message' in typed) return typed;
    if (act.value !== typed.value) return refuse('The number recorded is not the one typed. Type it again.', 'value');
    const { step } = c;
    const outside = outsideWords(step.title, typed.value, unitIn(c.state, step.unit, c.place), limitsIn(c, step));
    return outside && !act.reason ? refuse(`${outside} Measure again, or give the reason for going on.`, 'reason') : null;
  },
  sentence: ({ step }) => step.ask,
  said: (step, { value, text, reason }) =>
    `${typeof value === 'number' && typeof step.unit === 'string' ? withUnit(value, step.unit) : (text ?? String(value))}${reason ? `: ${reason}` : ''}`,
};
