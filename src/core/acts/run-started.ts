import * as z from 'zod';
import { day, id } from '../plan/atoms';
import { planSchema } from '../plan/plan-schema';
import { instrumentSnapshotSchema, standardSnapshotSchema } from '../plan/snapshots';
import { documentSchema } from '../procedure/document-schema';
import { timeZoneSchema } from '../quantity/calendar-day';
import { refuse } from '../state/refusal';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** The instrument, the standards, the procedure and the resolved plan with which a run begins. */
export const runStarted = actKind(
  'run-started',
  {
    instrument: instrumentSnapshotSchema,
    standards: z.record(z.string(), z.array(standardSnapshotSchema)),
    procedure: documentSchema,
    choices: z.record(z.string(), z.string()),
    plan: planSchema,
    /** Day on which the instrument was received. */
    received: day.optional(),
    /** Where the days of this run are reckoned. */
    timeZone: timeZoneSchema,
    /** The set-up that it shares with other instruments, and which of how many it is. */
    setUp: z.object({ id, place: z.number().int().positive(), of: z.number().int().positive() }).optional(),
    /** The cause that is looked for by a quick check. */
    looksFor: id.optional(),
    /** How repeats scattered in former runs; the server's part. */
    formerScatter: z
      .record(z.string(), z.object({ standardDeviation: z.number().nonnegative(), dof: z.number().positive() }))
      .optional(),
  },
  {
    admit: () => refuse('This run has already been started.', 'type'),
    fold: () => {
      throw new Error('A run starts once.');
    },
    words: (act) => {
      const used = Object.values(act.standards).flatMap((list) => list.map((s) => s.document.identification));
      return `Put on the bench with ${used.join(', ') || 'no standard'}; ${act.procedure.id} revision ${act.procedure.revision}${
        act.setUp ? `; number ${act.setUp.place} of ${act.setUp.of} in one set-up` : ''
      }${act.looksFor ? `; looked for: ${act.procedure.ruleOut.find((r) => r.id === act.looksFor)?.title ?? act.looksFor}` : ''}`;
    },
    spread: alone,
  },
);
