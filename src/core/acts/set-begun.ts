import { note } from '../plan/atoms';
import { setPlan } from '../plan/bench-plan';
import { setName } from '../procedure/schema/parts';
import { settingIn } from '../run/run-results';
import { affectedBy } from '../run/sets';
import { insert } from '../state/run-state';
import { itemKey } from '../state/place-keys';
import { actKind, addedPlan } from './act-kind';
import { isNext, lower, notNow } from './common';
import { byItem } from './spreading';

/** Another set of readings begins: as left, the check, as found once more. */
export const setBegun = actKind(
  'set-begun',
  { set: setName, why: note, plan: addedPlan },
  {
    plan: (state, act) => setPlan(settingIn(state, state.sets.at(-1)!.id), act.set, affectedBy(state, act.set)),
    admit: (state, act) => (isNext(state, { type: 'begin', set: act.set }) ? null : notNow()),
    fold: (state, act, signed) => {
      state.sets.push({ id: act.set, why: act.why, begun: signed, ended: null });
      const key = itemKey({ type: 'begin', set: act.set });
      state.done.set(key, signed);
      insert(state, act.plan, act.set, (state.index.get(key) ?? state.firstOpen) + 1);
    },
    words: (act) => `Readings ${lower(act.set)} begun${act.why ? ` (${act.why})` : ''}`,
    spread: byItem((act) => ({ type: 'begin', set: act.set })),
  },
);
