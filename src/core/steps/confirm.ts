import { refuse } from '../state/refusal';
import type { StepKind } from './step-context';

/** A question that "yes" answers well. */
export const confirm: StepKind<'confirm'> = {
  admit: (_c, act) => {
    if (typeof act.value !== 'boolean') return refuse('Answer yes or no.', 'value');
    return act.value || act.reason ? null : refuse('Say in a few words what is wrong.', 'reason');
  },
  sentence: ({ step }) => step.ask,
  said: (_step, { value, reason }) =>
    value === true ? (reason ? `yes, after this was put right: ${reason}` : 'yes') : `no: ${reason ?? ''}`,
};
