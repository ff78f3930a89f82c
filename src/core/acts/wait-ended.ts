import { id, reason } from '../plan/atoms';
import { at } from '../plan/plan-schema';
import { stepOf, waitingNow } from '../run/next-step';
import { placeTitle } from '../run/place-words';
import { refuse } from '../state/refusal';
import { markDone } from '../state/run-state';
import { waitKey } from '../state/place-keys';
import { actKind } from './act-kind';
import { isNext, joined, notNow, stepDone, stepItem } from './common';
import { byStep } from './spreading';

/** A wait is over, or was ended early with the reason. */
export const waitEnded = actKind(
  'wait-ended',
  { ...at, id, reason: reason.optional() },
  {
    admit: (state, act, { now }) => {
      if (!isNext(state, stepItem(act))) return notNow();
      const standing = waitingNow(state, now);
      if (!standing || standing.state === 'not-begun') return refuse('This wait has not been started.', 'type');
      const title = stepOf(state, stepItem(act))?.title ?? act.id;
      return standing.state === 'running' && !act.reason
        ? refuse(`${title} is still running. To end it early, give the reason.`, 'reason')
        : null;
    },
    fold: (state, act, signed) => {
      const wait = state.waits.get(waitKey(act)) ?? { begun: signed, ended: null, watched: [] };
      state.waits.set(waitKey(act), { ...wait, ended: { ...signed, reason: act.reason ?? null } });
      markDone(state, stepItem(act), signed);
    },
    words: (act, state) =>
      joined(
        placeTitle(state, act),
        `${stepDone(state, act)?.title ?? act.id} ended${act.reason ? ` early: ${act.reason}` : ''}`,
      ),
    spread: byStep,
  },
);
