import { reason } from '../plan/atoms';
import { reopenDate, reopenFinished } from '../state/run-state';
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
      reopenFinished(state);
      reopenDate(state);
    },
    words: (act) => `Returned in review: ${act.remark}`,
    spread: alone,
  },
);
