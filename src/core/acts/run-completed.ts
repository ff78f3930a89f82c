import * as z from 'zod';
import { line } from '../plan/atoms';
import { nextItem } from '../run/next-step';
import { refuse } from '../state/refusal';
import { isQuickCheck, markDone } from '../state/run-state';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** The run is finished, and its certificate made. */
export const runCompleted = actKind(
  'run-completed',
  {
    certificate: line,
    remark: z.string().trim().max(1000),
    /** The certificate as issued and the SHA-256 of its text; the server's part. Absent in logs older than it. */
    issued: z
      .object({
        content: z.record(z.string(), z.unknown()),
        digest: z.string(),
        /** SHA-256 of the entries before this one, as they lie in the store. */ log: z.string().optional(),
      })
      .optional(),
  },
  {
    signs: (state) => (isQuickCheck(state) ? null : `${state.instrument.identification} is measured, as its record says.`),
    admit: (state) =>
      nextItem(state)?.type === 'complete'
        ? null
        : refuse('The run is not complete yet. Do the step that is shown first.', 'type'),
    fold: (state, act, signed) => {
      state.completed = { ...act, ...signed };
      markDone(state, { type: 'complete', set: state.sets[0]!.id }, signed);
    },
    words: (act, state) =>
      `${isQuickCheck(state) ? 'Quick check finished' : `Finished, certificate ${act.certificate}`}${act.remark ? `. ${act.remark}` : ''}`,
    spread: alone,
  },
);
