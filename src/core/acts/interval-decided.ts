import * as z from 'zod';
import { proposeNextDate } from '../run/next-date';
import { proposalSchema, schoolSchema, schoolTitles } from '../interval/proposal';
import { day, note } from '../plan/atoms';
import { dayIn } from '../quantity/day-in-zone';
import { nextItem } from '../run/next-step';
import { refuse } from '../state/refusal';
import { verdictAsFound } from '../run/run-results';
import { isQuickCheck, markDone } from '../state/run-state';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** When it comes back was set. */
export const intervalDecided = actKind(
  'interval-decided',
  {
    next: day,
    proposed: day,
    reason: note,
    /** By which school the date was proposed; absent where only the document and the record were asked. */
    school: schoolSchema.optional(),
    /** What every school said then; the server's part. */
    advice: z.array(proposalSchema).max(12).optional(),
  },
  {
    admit: (state, act, { now }) => {
      if (isQuickCheck(state)) return refuse('A quick check sets no date.', 'type');
      if (!['interval', 'complete'].includes(nextItem(state)?.type ?? ''))
        return refuse('The next date is set after the readings.', 'type');
      const today = dayIn(now, state.timeZone);
      if (act.next <= today) return refuse('The next date must lie in the future.', 'next');
      if (act.next > `${Number(today.slice(0, 4)) + 10}${today.slice(4)}`)
        return refuse('The next date is more than ten years away.', 'next');
      // What a school proposed rests on more than this log: whoever keeps the histories holds it against them.
      const date = act.school === undefined ? proposeNextDate(state, verdictAsFound(state), today).date : act.proposed;
      if (act.proposed !== date) return refuse('The proposed date has changed since this was shown. Read it again.', 'proposed');
      return act.next !== date && act.reason.length < 3
        ? refuse('This date differs from the proposed one: give the reason.', 'reason')
        : null;
    },
    fold: (state, act, signed) => {
      state.interval = { ...act, ...signed };
      markDone(state, { type: 'interval', set: state.sets[0]!.id }, signed);
    },
    words: (act) =>
      `Next date ${act.next}${act.next === act.proposed ? '' : ` in place of ${act.proposed}`}: ${act.reason}${act.school ? ` (${schoolTitles[act.school].toLowerCase()})` : ''}`,
    spread: alone,
  },
);
