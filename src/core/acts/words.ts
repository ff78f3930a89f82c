import type { RunState } from '../state/run-state';
import { kindOf, type Act } from './registry';

/** One entry of the log as a sentence. @example actWords({ type: 'note-added', version: 2, text: 'warm' }, run) // 'warm' */
export const actWords = (act: Act, state: RunState): string => kindOf(act).words(act, state);
