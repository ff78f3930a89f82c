import { caseSchema } from '../evaluate/case-schema';
import { caseOf } from '../state/run-case';
import type { RunState } from '../state/run-state';

/**
 * What the command-line door would be asked about a set of a run, as its file.
 * @example caseFile(run, 'as-found').set // 'as-found'
 */
export const caseFile = (state: RunState, set: string): unknown => ({
  procedure: state.procedure,
  ...caseSchema.parse(caseOf(state, set)),
});
