import type { RunState } from '../state/run-state';
import type { Turn } from '../set-up/turn';
import { kindOf, type Act } from './registry';

export type SpreadAct = { member: number; act: Act };

/**
 * What an act at the bench means for each run of a set-up. It was made for one of them; what is shared goes into every log that it
 * concerns, at that log's own place.
 * @param from the run for which it was made @param chosen those of the turn for whom it is done, where not for all
 * @example a bath temperature read for three thermometers gives three acts, one a log
 */
export const spreadAct = (
  states: readonly RunState[],
  turn: Turn | null,
  from: number,
  act: Act,
  chosen: readonly number[] = turn?.members ?? [],
): SpreadAct[] => kindOf(act).spread({ states, turn, from, chosen }, act);
