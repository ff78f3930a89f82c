import { reason } from '../plan/atoms';
import { setName } from '../procedure/schema/parts';
import { refuse } from '../state/refusal';
import { isBeforeAdjusting, isTurned } from '../state/progress';
import { itemKey } from '../state/place-keys';
import { reopen } from '../state/run-state';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** Nothing was changed after all: the decision is taken back, and the set is judged again. */
export const adjustmentAbandoned = actKind(
  'adjustment-abandoned',
  { set: setName, reason },
  {
    admit: (state, act) =>
      isBeforeAdjusting(state, act.set)
        ? null
        : refuse(
            isTurned(state, act.set)
              ? 'Something was turned already: record the adjustment as it stands, and read what it left.'
              : 'Only an adjustment that is about to be made can be given up.',
            'type',
          ),
    fold: (state, act, signed) => {
      const decision = state.decisions.pop()!;
      const brought = new Set(decision.plan.items.map(itemKey));
      for (const key of brought) {
        state.done.delete(key);
        state.index.delete(key);
      }
      state.plan = state.plan.filter((item) => !brought.has(itemKey(item)));
      state.plan.forEach((item, i) => state.index.set(itemKey(item), i));
      state.abandoned.push({ ...signed, set: act.set, reason: act.reason });
      reopen(state, itemKey({ type: 'judge', set: act.set }));
    },
    words: (act) => `Nothing was adjusted after all: ${act.reason}`,
    spread: alone,
  },
);
