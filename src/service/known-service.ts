import type { ModelCard } from '../core/register/model-card';
import type { CauseCounts } from '../core/run/rule-out';
import type { RunState } from '../core/state/run-state';
import { database } from '../store/database';
import { causesLookedFor } from '../store/run-log';
import { cardFor } from './card-service';

/** What the laboratory knows beside a run: its card of the make and type, and what causes turned out to be elsewhere. */
export async function knownBeside(run: string, state: RunState): Promise<{ card: ModelCard | null; causes: CauseCounts }> {
  const [card, causes] = await Promise.all([
    cardFor(state.instrument),
    causesLookedFor(await database(), state.procedure.id, run),
  ]);
  return { card, causes };
}
