import * as z from 'zod';
import { decisionRuleSchema } from '../conformity/conformity-schema';
import { instrumentSchema } from '../evaluate/case-schema';
import { standardSchema } from '../standard/standard-schema';
import { day, line } from './atoms';

/** The instrument as it was when the run began; the record never changes when the register does. */
export const instrumentSnapshotSchema = instrumentSchema.extend({
  id: z.string(),
  identification: line,
  serialNumber: z.string().default(''),
  kind: z.string(),
  designation: z.string(),
  owner: z.string(),
  ownerAddress: z.string().optional(),
  place: z.string(),
  unit: z.string(),
  lower: z.number(),
  upper: z.number(),
  usedLower: z.number(),
  usedUpper: z.number(),
  resolution: z.number().positive(),
  /** Serial numbers of its parts. */
  parts: z.record(z.string(), z.string()).default({}),
  /** What it has stored, as far as it is known. */
  stored: z.record(z.string(), z.union([z.number(), z.record(z.string(), z.number())])).default({}),
  /** Settings as the last run left them. */
  settings: z.record(z.string(), z.string()).optional(),
  adjustmentAllowed: z.boolean(),
  intervalMonths: z.number().int().positive().nullable(),
  /** The owner wants the next date on the certificate; logs older than the question printed it. */
  nextDateWanted: z.boolean().optional(),
  /** What was agreed with the owner in place of the procedure's rule. */
  decisionRule: decisionRuleSchema.nullable().default(null),
  lastCalibrated: day.nullable(),
});

export const standardSnapshotSchema = z.object({ id: z.string(), document: standardSchema });

export type InstrumentSnapshot = z.infer<typeof instrumentSnapshotSchema>;
export type StandardSnapshot = z.infer<typeof standardSnapshotSchema>;
