import { reason } from '../plan/atoms';
import { refuse } from '../state/refusal';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** Taken out of the set-up: from here on the run goes on alone. */
export const leftSetUp = actKind(
  'left-set-up',
  { reason },
  {
    admit: (state) => (state.setUp && !state.setUp.left ? null : refuse('This run stands alone already.', 'type')),
    fold: (state, act, signed) => {
      if (state.setUp) state.setUp = { ...state.setUp, left: { ...signed, reason: act.reason } };
    },
    words: (act) => `Taken out of the set-up: ${act.reason}`,
    spread: alone,
  },
);
