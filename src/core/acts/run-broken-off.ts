import * as z from 'zod';
import { reason } from '../plan/atoms';
import { refuse } from '../state/refusal';
import { actKind } from './act-kind';
import { inTurn } from './spreading';

/** Broken off: there is no certificate. */
export const runBrokenOff = actKind(
  'run-broken-off',
  {
    reason,
    /** It is damaged, and nothing is measured with it until it is repaired. */
    outOfUse: z.literal(true).optional(),
  },
  {
    admit: (state) =>
      state.corrections.length > 0
        ? refuse('What was signed is being corrected: finish it. Then its certificate can be withdrawn.', 'type')
        : null,
    fold: (state, act, signed) => {
      state.brokenOff = { ...act, ...signed };
    },
    words: (act) => `Broken off: ${act.reason}${act.outOfUse ? '. It is out of use until it is repaired' : ''}`,
    spread: inTurn,
  },
);
