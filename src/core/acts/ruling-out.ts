import { kindOfSet } from '../evaluate/completeness';
import { id, note } from '../plan/atoms';
import { rulingPlan } from '../plan/bench-plan';
import { setName } from '../procedure/schema/parts';
import { gateStanding } from '../run/gates';
import { nextItem } from '../run/next-step';
import { refuse } from '../state/refusal';
import { insert } from '../state/run-state';
import { itemKey } from '../state/place-keys';
import { nextSet } from '../run/sets';
import { actKind, addedPlan, none } from './act-kind';
import { notNow } from './common';
import { alone } from './spreading';

/** A cause other than the instrument is looked for, and everything is read again. */
export const rulingOut = actKind(
  'ruling-out',
  { set: setName, id, note, plan: addedPlan },
  {
    plan: (state, act) => {
      const doc = state.procedure.ruleOut.find((r) => r.id === act.id);
      const isLookedFor = state.rungs.some((r) => r.id === act.id && r.place.set === act.set);
      return doc ? rulingPlan(doc, act.set, nextSet(state, 'as-found'), isLookedFor) : none;
    },
    admit: (state, act) => {
      const next = nextItem(state);
      if (!state.procedure.ruleOut.some((r) => r.id === act.id)) return refuse('The procedure has no such cause.', 'id');
      const isHere =
        next?.set === act.set && (next.type === 'judge' || (next.type === 'gate' && !gateStanding(state, next).passes));
      if (!isHere) return notNow();
      return kindOfSet(act.set) === 'as-found' || kindOfSet(act.set) === 'as-left' ? null : notNow();
    },
    fold: (state, act, signed) => {
      state.rulings.push({ ...act, ...signed });
      // Begun at a gate: what the set has not read yet is passed over; the set that follows reads it.
      if (state.plan[state.firstOpen]?.type !== 'judge')
        state.sets = state.sets.map((s) => (s.id === act.set ? { ...s, ended: { ...signed, reason: act.note } } : s));
      const key = itemKey({ type: 'judge', set: act.set });
      state.done.set(key, signed);
      insert(state, act.plan, act.set, (state.index.get(key) ?? state.firstOpen) + 1);
    },
    words: (act, state) => `To be ruled out: ${state.procedure.ruleOut.find((r) => r.id === act.id)?.title ?? act.id}`,
    spread: alone,
  },
);
