import * as z from 'zod';
import { actKind } from './act-kind';
import { admitReview } from './admit-review';
import { alone } from './spreading';

/** A second person read it and signed. */
export const runReviewed = actKind(
  'run-reviewed',
  { remark: z.string().trim().max(1000) },
  {
    ofFinished: true,
    roles: ['reviewer'],
    signs: (state) =>
      `The record of ${state.instrument.identification} is reviewed, and its certificate ${state.completed?.certificate ?? ''} released.`,
    admit: admitReview,
    fold: (state, act, signed) => {
      state.reviewed = { ...act, ...signed };
    },
    words: (act) => `Reviewed and signed${act.remark ? `: ${act.remark}` : ''}`,
    spread: alone,
  },
);
