import type { StepKind } from './step-context';

/** Something to be done. */
export const doStep: StepKind<'do'> = {
  admit: () => null,
  sentence: ({ step }) => step.instruction,
  said: () => 'done',
};
