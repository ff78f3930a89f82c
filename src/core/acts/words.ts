import type { RunState } from '../state/run-state';
import { kindOf, type Act } from './registry';

/** One entry of the log as a sentence. */
export const actWords = (act: Act, state: RunState): string => kindOf(act).words(act, state);
