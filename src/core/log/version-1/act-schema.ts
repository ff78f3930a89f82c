import * as z from 'zod';
import '../../plain-issues';
import { calendarDaySchema, timeZoneSchema } from '../../quantity/calendar-day';
import { procedureSchema } from './procedure-schema';

const line = z.string().trim().min(1).max(300);
const reason = z.string().trim().min(3, 'Give the reason in a few words.').max(500);
const typed = z.string().trim().min(1).max(20);
const pointId = z.string().regex(/^p\d{1,3}$/);
const day = calendarDaySchema('A date');

export const passSchema = z.enum(['as-found', 'as-left']);

/** The instrument as it was when the run began; the record never changes when the register does. */
export const instrumentSnapshotSchema = z.object({
  id: z.string(),
  identification: line,
  kind: z.string(),
  designation: z.string(),
  owner: z.string(),
  place: z.string(),
  /** mm */
  rangeLower: z.number(),
  rangeUpper: z.number(),
  calibratedLower: z.number(),
  calibratedUpper: z.number(),
  resolution: z.number().positive(),
  /** mm, in place of the procedure's tolerance; null when the procedure's applies. */
  maximumPermissibleError: z.number().positive().nullable(),
  adjustmentAllowed: z.boolean(),
  intervalMonths: z.number().int().positive().nullable(),
  lastCalibrated: day.nullable(),
});

export const standardItemSchema = z.object({
  id: z.string(),
  /** mm */
  nominal: z.number().positive(),
  certified: z.number().positive(),
  expandedUncertainty: z.number().nonnegative(),
  coverageFactor: z.number().positive(),
  /** 1/K */
  expansionCoefficient: z.number(),
  marking: z.string().max(60),
});

export const standardSnapshotSchema = z.object({
  id: z.string(),
  identification: line,
  kind: z.string(),
  designation: z.string(),
  certificate: z.object({ issuer: line, number: line, date: day, due: day }),
  items: z.array(standardItemSchema).min(1),
});

/** Everything a person does at the bench, one shape each. Time, person and sequence are added when it is recorded. */
export const actSchema = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('run-started'),
    instrument: instrumentSnapshotSchema,
    standard: standardSnapshotSchema,
    procedure: procedureSchema,
    /** Where the days of this run are reckoned; UTC in logs that do not say. */
    timeZone: timeZoneSchema.optional(),
  }),
  z.object({
    type: z.literal('check-answered'),
    check: z.string().max(60),
    outcome: z.enum(['yes', 'no']),
    note: z.string().trim().max(500),
  }),
  z.object({ type: z.literal('soak-started') }),
  z.object({ type: z.literal('soak-ended'), earlyReason: reason.optional() }),
  z.object({
    type: z.literal('conditions-recorded'),
    room: typed,
    instrument: typed,
    standard: typed,
    reason: reason.optional(),
  }),
  z.object({ type: z.literal('stack-chosen'), point: pointId, items: z.array(z.string().max(80)).min(1).max(8) }),
  z.object({
    type: z.literal('reading-taken'),
    pass: passSchema,
    point: pointId,
    text: typed,
    /** Typed a second time although it looked implausible. */
    confirmed: z.boolean().optional(),
  }),
  z.object({ type: z.literal('reading-struck'), sequence: z.number().int().positive(), reason }),
  z.object({ type: z.literal('point-skipped'), pass: passSchema, point: pointId, reason }),
  z.object({ type: z.literal('point-resumed'), pass: passSchema, point: pointId }),
  z.object({
    type: z.literal('adjustment-decided'),
    adjust: z.boolean(),
    proposed: z.boolean(),
    reason: z.string().trim().max(500),
  }),
  z.object({ type: z.literal('zero-adjusted'), before: typed, after: typed, note: z.string().trim().max(500) }),
  z.object({ type: z.literal('note-added'), text: reason }),
  z.object({ type: z.literal('interval-decided'), next: day, proposed: day, reason: z.string().trim().max(500) }),
  z.object({ type: z.literal('run-completed'), certificate: line, remark: z.string().trim().max(1000) }),
  z.object({ type: z.literal('run-reviewed'), remark: z.string().trim().max(1000) }),
  z.object({ type: z.literal('run-abandoned'), reason }),
]);

/** What was odd about the server's clock when an event was recorded; the log keeps it in sight. */
export const clockMarkSchema = z.object({
  /** Seconds by which this event is earlier than the one before it. */
  earlierBy: z.number().positive().optional(),
  /** Seconds by which the clock had been set forward (or, negative, back) since the event before was recorded. */
  setBy: z.number().optional(),
});

export const recordedEventSchema = z.object({
  sequence: z.number().int().positive(),
  at: z.iso.datetime(),
  person: line,
  act: actSchema,
  clock: clockMarkSchema.optional(),
});

export type Act = z.infer<typeof actSchema>;
export type ActOf<T extends Act['type']> = Extract<Act, { type: T }>;
export type RecordedEvent = z.infer<typeof recordedEventSchema>;
export type ClockMark = z.infer<typeof clockMarkSchema>;
export type Pass = z.infer<typeof passSchema>;
export type InstrumentSnapshot = z.infer<typeof instrumentSnapshotSchema>;
export type StandardSnapshot = z.infer<typeof standardSnapshotSchema>;
export type StandardItem = z.infer<typeof standardItemSchema>;
