import { refuse } from '../state/refusal';
import type { StepKind } from './step-context';

/** The chain of adapters between two things; the properties recorded are their sums. */
export const connect: StepKind<'connect'> = {
  admit: (_c, act) =>
    typeof act.value === 'object' && Object.values(act.value).every(Number.isFinite)
      ? null
      : refuse('Give each property of the adapters as a number.', 'value'),
  sentence: ({ step, state }) => {
    const from = state.procedure.standards.find((r) => r.role === step.from)?.title ?? step.from;
    const to =
      step.to === 'instrument'
        ? 'the instrument'
        : (state.procedure.instrument.parts.find((p) => p.id === step.to)?.title ?? step.to);
    return `Connect ${from} to ${to}.`;
  },
  said: (_step, { value, text }) =>
    [text, ...(typeof value === 'object' ? Object.entries(value).map(([id, n]) => `${id} ${n}`) : [])]
      .filter(Boolean)
      .join(', ') || 'directly',
};
