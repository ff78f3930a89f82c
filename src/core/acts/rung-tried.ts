import { id, note } from '../plan/atoms';
import { rungPlan } from '../plan/bench-plan';
import { place } from '../plan/plan-schema';
import { nextItem } from '../run/next-step';
import { lookedAt } from '../run/rungs';
import { itemKey, placeOf } from '../state/place-keys';
import { refuse } from '../state/refusal';
import { insert } from '../state/run-state';
import { actKind, addedPlan, none } from './act-kind';
import { notNow, where } from './common';
import { alone } from './spreading';

/** A cause is looked for, and one point is read again before the set is judged: everything is only where that helped. */
export const rungTried = actKind(
  'rung-tried',
  { ...place, series: id, point: id, id, note, plan: addedPlan },
  {
    plan: (state, act) => {
      const doc = state.procedure.ruleOut.find((r) => r.id === act.id);
      return doc ? rungPlan(doc, placeOf(act)) : none;
    },
    admit: (state, act) => {
      const next = nextItem(state);
      if (!state.procedure.ruleOut.some((r) => r.id === act.id)) return refuse('The procedure has no such cause.', 'id');
      if (next?.type !== 'judge' || next.set !== act.set) return notNow();
      if (state.rungs.some((r) => r.id === act.id && r.place.set === act.set))
        return refuse('This was looked for in these readings. Read everything again, or look for another cause.', 'id');
      return lookedAt(state, placeOf(act)).length > 0 ? null : refuse('The procedure reads nothing there.', 'point');
    },
    fold: (state, act, signed) => {
      state.rungs = [...state.rungs, { ...signed, id: act.id, note: act.note, place: placeOf(act), look: null }];
      // The set is judged after it.
      insert(state, act.plan, act.set, state.index.get(itemKey({ type: 'judge', set: act.set }))!);
    },
    words: (act, state) =>
      `Looked for: ${state.procedure.ruleOut.find((r) => r.id === act.id)?.title ?? act.id}; then ${where(state, act)} again`,
    spread: alone,
  },
);
