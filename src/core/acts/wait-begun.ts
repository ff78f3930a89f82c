import { id } from '../plan/atoms';
import { at } from '../plan/plan-schema';
import { placeTitle } from '../run/place-words';
import { refuse } from '../state/refusal';
import { waitKey } from '../state/place-keys';
import { actKind } from './act-kind';
import { isNext, joined, notNow, stepDone, stepItem } from './common';
import { byStep } from './spreading';

/** A wait was begun. */
export const waitBegun = actKind(
  'wait-begun',
  { ...at, id },
  {
    admit: (state, act) =>
      !isNext(state, stepItem(act))
        ? notNow()
        : state.waits.has(waitKey(act))
          ? refuse('This wait is already running.', 'type')
          : null,
    fold: (state, act, signed) => {
      state.waits.set(waitKey(act), { begun: signed, ended: null, watched: [] });
    },
    words: (act, state) => joined(placeTitle(state, act), `${stepDone(state, act)?.title ?? act.id} begun`),
    spread: byStep,
  },
);
