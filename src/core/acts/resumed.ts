import { id } from '../plan/atoms';
import { place } from '../plan/plan-schema';
import { refuse } from '../state/refusal';
import { placeKey } from '../state/place-keys';
import { skipOf } from '../state/progress';
import { actKind } from './act-kind';
import { lower, where } from './common';
import { readsHere } from './reads-here';
import { inTurnAtItsPlace } from './spreading';

/** What was skipped is read after all. */
export const resumed = actKind(
  'resumed',
  { ...place, series: id },
  {
    admit: (state, act) => {
      const here = readsHere(state, act);
      if ('message' in here) return here;
      return skipOf(state, here.place) ? null : refuse('This was not skipped.', 'series');
    },
    fold: (state, act) => {
      state.skipped.delete(placeKey(act));
      state.firstOpen = 0;
    },
    words: (act, state) => `${where(state, act)} taken up again, ${lower(act.set)}`,
    spread: inTurnAtItsPlace,
  },
);
