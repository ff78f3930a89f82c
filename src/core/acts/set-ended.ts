import { reason } from '../plan/atoms';
import { setName } from '../procedure/schema/parts';
import { refuse } from '../state/refusal';
import { setOf } from '../state/progress';
import { actKind } from './act-kind';
import { isReading, lower } from './common';
import { inTurn } from './spreading';

/** Stopped early: what is there is kept, and the record says that it is not complete. */
export const setEnded = actKind(
  'set-ended',
  { set: setName, reason },
  {
    admit: (state, act) =>
      state.sets.at(-1)!.id === act.set && !setOf(state, act.set)!.ended && isReading(state, act.set)
        ? null
        : refuse('Only the set that is being read can be ended early.', 'set'),
    fold: (state, act, signed) => {
      state.sets = state.sets.map((s) => (s.id === act.set ? { ...s, ended: { ...signed, reason: act.reason } } : s));
    },
    words: (act) => `Readings ${lower(act.set)} ended early: ${act.reason}`,
    spread: inTurn,
  },
);
