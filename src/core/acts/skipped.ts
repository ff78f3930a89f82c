import { id, note } from '../plan/atoms';
import { place } from '../plan/plan-schema';
import { refuse } from '../state/refusal';
import { placeKey } from '../state/place-keys';
import { skipOf } from '../state/progress';
import { actKind } from './act-kind';
import { lower, where } from './common';
import { readsHere } from './reads-here';
import { inTurnAtItsPlace } from './spreading';

/** A series, or a part of it, is not read, with the reason. */
export const skipped = actKind(
  'skipped',
  { ...place, series: id, reason: note },
  {
    admit: (state, act) => {
      const here = readsHere(state, act);
      if ('message' in here) return here;
      if (skipOf(state, here.place)) return refuse('This is skipped already.', 'series');
      return act.reason.length >= 3 || here.series.optional ? null : refuse('Give the reason in a few words.', 'reason');
    },
    fold: (state, act, signed) => {
      state.skipped.set(placeKey(act), { ...signed, reason: act.reason });
    },
    words: (act, state) => `${where(state, act)} skipped, ${lower(act.set)}${act.reason ? `: ${act.reason}` : ''}`,
    spread: inTurnAtItsPlace,
  },
);
