import { id } from '../plan/atoms';
import { openedPlan } from '../plan/bench-plan';
import { place } from '../plan/plan-schema';
import { seriesOf } from '../run/place-words';
import { refuse } from '../state/refusal';
import { settingIn } from '../run/run-results';
import { insert } from '../state/run-state';
import { itemKey, placeOf } from '../state/place-keys';
import { actKind, addedPlan } from './act-kind';
import { isNext, notNow } from './common';
import { byItem } from './spreading';

/** Points that earlier steps decide can be told now. */
export const planResolved = actKind(
  'plan-resolved',
  { ...place, series: id, plan: addedPlan },
  {
    plan: (state, act) => {
      const s = settingIn(state, act.set);
      const series = s.series.get(act.series);
      return series ? openedPlan(s, series, act.set) : null;
    },
    admit: (state, act) =>
      !isNext(state, { type: 'open', ...placeOf(act), id: act.series })
        ? notNow()
        : act.plan.items.length > 0
          ? null
          : refuse('The points of this series cannot be told yet.', 'series'),
    fold: (state, act, signed) => {
      const key = itemKey({ type: 'open', ...placeOf(act), id: act.series });
      const at = state.index.get(key) ?? state.firstOpen;
      state.done.set(key, signed);
      insert(state, act.plan, act.set, at + 1);
    },
    words: (act, state) => `${seriesOf(state, act.series)?.title ?? act.series}: its points were resolved`,
    spread: byItem((act) => ({ type: 'open', ...placeOf(act), id: act.series })),
  },
);
