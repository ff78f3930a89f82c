import { reason } from '../plan/atoms';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** The certificate is taken back for good, and nothing rests on this calibration any more. */
export const certificateWithdrawn = actKind(
  'certificate-withdrawn',
  { reason },
  {
    ofFinished: true,
    ofSigned: true,
    roles: ['reviewer', 'approver'],
    signs: (state) => `The certificate ${state.completed?.certificate ?? ''} is withdrawn.`,
    admit: () => null,
    fold: (state, act, signed) => {
      state.withdrawnIssue = { ...signed, reason: act.reason };
    },
    words: (act, state) => `Certificate ${state.completed?.certificate ?? ''} withdrawn: ${act.reason}`,
    spread: alone,
  },
);
