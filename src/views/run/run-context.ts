import type { NewAct } from '../../core/acts/registry';
import { createContext, useContext } from 'react';
import type { ModelCard } from '../../core/register/model-card';
import type { CauseCounts } from '../../core/run/rule-out';
import type { Refusal } from '../../core/state/refusal';
import type { RunState } from '../../core/state/run-state';

/** What the laboratory knows beside the run. */
export type KnownAtBench = {
  /** Its card of the make and type; null where there is none. */ card: ModelCard | null;
  /** What looking for causes gave in other runs of the procedure. */ causes: CauseCounts;
};

/** What every part of the run screen works with. */
export type RunContext = {
  /** Id of the run. */ run: string;
  state: RunState;
  /** It and all that are worked on with it in one set-up. */ together: readonly RunState[];
  /** The time by the server's clock. */ now: string;
  /** Records an act, or says why not. */
  act: (act: NewAct) => Refusal | null;
  known: KnownAtBench;
  /** Goes elsewhere once all is recorded. */ leaveFor: (address: string) => void;
};

export const RunContextProvider = createContext<RunContext | null>(null);

export function useRun(): RunContext {
  const context = useContext(RunContextProvider);
  if (!context) throw new Error('This part belongs inside a run.');
  return context;
}
