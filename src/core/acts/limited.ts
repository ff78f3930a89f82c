import * as z from 'zod';
import { id, reason } from '../plan/atoms';
import { limitedWords, notHeld } from '../run/limiting';
import { nextItem } from '../run/next-step';
import { refuse } from '../state/refusal';
import { isQuickCheck } from '../state/run-state';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** An instrument that is outside as it was left may still be used for what it holds, as agreed with its owner. */
export const limited = actKind(
  'limited',
  {
    to: z.array(z.strictObject({ series: id, lower: z.number().optional(), upper: z.number().optional() })).max(40),
    /** What was agreed, with whom. */ agreed: reason,
  },
  {
    admit: (state, act) => {
      if (isQuickCheck(state)) return refuse('A quick check limits nothing.', 'type');
      if (!['interval', 'complete'].includes(nextItem(state)?.type ?? ''))
        return refuse('What it is limited to is agreed after the readings.', 'type');
      // Nothing at all takes back what was said before.
      if (act.to.length === 0) return state.limited ? null : refuse('It is not limited to anything.', 'to');
      const why = notHeld(state, act.to);
      return why === null ? null : refuse(why, 'to');
    },
    fold: (state, act, signed) => {
      state.limited = act.to.length === 0 ? null : { ...signed, to: act.to, agreed: act.agreed };
    },
    words: (act, state) =>
      act.to.length === 0 ? `Not limited any more: ${act.agreed}` : `Limited to ${limitedWords(state, act.to)}: ${act.agreed}`,
    spread: alone,
  },
);
