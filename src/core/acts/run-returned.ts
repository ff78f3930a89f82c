import { reason } from '../plan/atoms';
import { itemKey } from '../state/place-keys';
import { reopen } from '../state/run-state';
import { actKind } from './act-kind';
import { admitReview } from './admit-review';
import { alone } from './spreading';

/** Review sends it back to the bench: what was finished is open again, and gets another certificate. */
export const runReturned = actKind(
  'run-returned',
  { remark: reason },
  {
    ofFinished: true,
    roles: ['reviewer'],
    admit: admitReview,
    fold: (state, act, signed) => {
      state.returned.push({ ...signed, remark: act.remark, certificate: state.completed?.certificate ?? '' });
      state.completed = null;
      state.interval = null;
      const first = state.sets[0]!.id;
      reopen(state, itemKey({ type: 'complete', set: first }));
      reopen(state, itemKey({ type: 'interval', set: first }));
      // Readings of the last set can be struck out and taken again, where they were left as they were.
      const decision = state.decisions.at(-1);
      if (decision && decision.adjustment === null && decision.set === state.sets.at(-1)!.id)
        reopen(state, itemKey({ type: 'judge', set: decision.set }));
    },
    words: (act) => `Returned in review: ${act.remark}`,
    spread: alone,
  },
);
