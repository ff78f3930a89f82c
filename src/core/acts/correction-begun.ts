import { reason } from '../plan/atoms';
import { reopenFinished } from '../state/run-state';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** A mistake was found after it was signed: the run is at the bench again, and another issue of its certificate replaces this one. */
export const correctionBegun = actKind(
  'correction-begun',
  { reason },
  {
    ofSigned: true,
    roles: ['technician', 'reviewer'],
    admit: () => null,
    fold: (state, act, signed) => {
      const { certificate, issued, at: finishedAt } = state.completed!;
      state.corrections.push({ ...signed, reason: act.reason, certificate, finishedAt, issued: issued?.content ?? null });
      state.reviewed = null;
      // The date stands until something that it rests on is another.
      reopenFinished(state);
    },
    words: (act) => `To be corrected: ${act.reason}`,
    spread: alone,
  },
);
