import { refuse } from '../state/refusal';
import type { StepKind } from './step-context';

/** One of several options; another than the one wanted needs a reason. */
export const choose: StepKind<'choose'> = {
  admit: ({ step }, act) => {
    const option = step.options.find((o) => o.id === act.value);
    if (!option) return refuse(`Choose one of ${step.options.map((o) => o.title).join(', ')}.`, 'value');
    const wanted = step.options.find((o) => o.id === step.want);
    return wanted && wanted !== option && !act.reason
      ? refuse(`The procedure wants ${wanted.title}. Set it so, or give the reason for going on.`, 'reason')
      : null;
  },
  sentence: ({ step }) => step.ask,
  said: (step, { value, reason }) =>
    `${step.options.find((o) => o.id === value)?.title ?? String(value)}${reason ? `: ${reason}` : ''}`,
};
