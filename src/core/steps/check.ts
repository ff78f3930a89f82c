import { refuse } from '../state/refusal';
import { limitsIn, numberIn, outsideWords, unitIn, withUnit, type StepKind } from './step-context';

/** A number worked out, not asked; outside its limits going on needs a reason. */
export const check: StepKind<'check'> = {
  admit: (c, act) => {
    const { step } = c;
    const value = numberIn(c, { is: step.is });
    if (value === undefined) return refuse('This cannot be worked out yet: something it needs has not been read.', 'value');
    if (typeof act.value !== 'number' || Math.abs(act.value - value) > 1e-9 * Math.max(1, Math.abs(value)))
      return refuse('The value has changed since it was shown. Look at it again.', 'value');
    const outside = outsideWords(step.title, value, unitIn(c.state, step.unit, c.place), limitsIn(c, step));
    return outside && !act.reason ? refuse(`${outside} Look for the cause, or give the reason for going on.`, 'reason') : null;
  },
  sentence: ({ step }) => step.title,
  said: (step, { value, reason }) =>
    `${typeof value === 'number' && typeof step.unit === 'string' ? withUnit(value, step.unit) : String(value)}${reason ? `: ${reason}` : ''}`,
};
