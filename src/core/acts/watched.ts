import { id, typed } from '../plan/atoms';
import { at } from '../plan/plan-schema';
import { parseReading } from '../quantity/reading';
import { refuse } from '../state/refusal';
import { waitKey } from '../state/place-keys';
import { actKind } from './act-kind';
import { stepDone } from './common';
import { byStep } from './spreading';

/** What was seen while waiting. */
export const watched = actKind(
  'watched',
  { ...at, id, text: typed },
  {
    admit: (state, act) => {
      const wait = state.waits.get(waitKey(act));
      if (!wait || wait.ended) return refuse('This wait is not running.', 'type');
      const parsed = parseReading(act.text);
      return parsed.ok ? null : refuse(parsed.message, 'text');
    },
    fold: (state, act, signed) => {
      const wait = state.waits.get(waitKey(act));
      if (wait) state.waits.set(waitKey(act), { ...wait, watched: [...wait.watched, { ...signed, text: act.text }] });
    },
    words: (act, state) => `${stepDone(state, act)?.title ?? act.id}: ${act.text} seen`,
    spread: byStep,
  },
);
