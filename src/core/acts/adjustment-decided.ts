import { id, note } from '../plan/atoms';
import { adjustmentPlan } from '../plan/bench-plan';
import { setName } from '../procedure/schema/parts';
import { adjustmentAdvice, notWorkedOut } from '../run/adjustment-advice';
import { scatterOf } from '../run/diagnosis';
import { instanceTitle } from '../run/place-words';
import { refuse } from '../state/refusal';
import { faultIn, settingIn } from '../run/run-results';
import { insert, reopenDate } from '../state/run-state';
import { isClosed } from '../state/progress';
import { itemKey } from '../state/place-keys';
import { nextSet } from '../run/sets';
import { actKind, addedPlan, none } from './act-kind';
import { isNext } from './common';
import { alone } from './spreading';

/** A set was judged: something is adjusted, or it is left as it is. */
export const adjustmentDecided = actKind(
  'adjustment-decided',
  {
    set: setName,
    /** What is done; null: it is left as it is. */
    adjustment: id.nullable(),
    each: id.optional(),
    proposed: id.nullable(),
    reason: note,
    plan: addedPlan,
  },
  {
    plan: (state, act) => {
      const doc = state.procedure.adjustments.find((a) => a.id === act.adjustment);
      return doc ? adjustmentPlan(doc, act.set, act.each, nextSet(state, 'as-left')) : none;
    },
    admit: (state, act) => {
      if (!isNext(state, { type: 'judge', set: act.set }))
        return isClosed(state, act.set)
          ? refuse('This has been decided.', 'type')
          : refuse('The readings are not complete. Take the missing ones, or skip a point with the reason.', 'type');
      if (![...state.live.values()].some((r) => r.slot.set === act.set))
        return refuse('Everything was skipped: there is nothing to judge. Break the run off, or take a point up again.', 'type');
      const fault = faultIn(state, act.set);
      if (fault !== null) return refuse(notWorkedOut(fault), 'set');
      if (act.adjustment !== null) {
        const doc = state.procedure.adjustments.find((a) => a.id === act.adjustment);
        if (!doc) return refuse('The procedure has no such adjustment.', 'adjustment');
        if (!state.instrument.adjustmentAllowed)
          return refuse('The owner wants a check only: this instrument is not to be adjusted.', 'adjustment');
        if (doc.separately && act.each === undefined && settingIn(state, act.set).series.get(doc.of[0]!)!.instances.length > 1)
          return refuse('Say which one is adjusted.', 'each');
      }
      const advice = adjustmentAdvice(state, act.set);
      if (act.proposed !== advice.adjustment)
        return refuse('The advice has changed since this was shown. Read it again.', 'proposed');
      const follows =
        act.adjustment === advice.adjustment && (act.each ?? null) === (act.adjustment === null ? null : advice.each);
      if (act.reason.length >= 3) return null;
      if (!follows) return refuse('This goes against the advice: give the reason.', 'reason');
      // Pooled with the others it would count for less than it is: somebody answers for that.
      const scatter = scatterOf(state, act.set);
      return scatter
        ? refuse(`Scatter at ${scatter}. Strike those readings out and read the point again, or say why it may stand.`, 'reason')
        : null;
    },
    fold: (state, act, signed) => {
      state.decisions.push({ ...act, ...signed });
      const key = itemKey({ type: 'judge', set: act.set });
      state.done.set(key, signed);
      if (state.corrections.length > 0 && act.adjustment !== null) reopenDate(state);
      insert(state, act.plan, act.set, (state.index.get(key) ?? state.firstOpen) + 1);
    },
    words: (act, state) => {
      const doc = state.procedure.adjustments.find((a) => a.id === act.adjustment);
      const of = act.each ? ` (${instanceTitle(state, doc?.of[0] ?? '', act.each)})` : '';
      return `${doc ? `Decided: ${doc.title}${of}` : 'Decided to leave it'}${act.adjustment === act.proposed ? ', as advised' : `, against the advice: ${act.reason}`}`;
    },
    spread: alone,
  },
);
