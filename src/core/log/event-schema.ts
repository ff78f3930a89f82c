import * as z from 'zod';
import '../plain-issues';
import { decisionRuleSchema } from '../conformity/conformity-schema';
import { instrumentSchema } from '../evaluate/case-schema';
import { proposalSchema, schoolSchema } from '../interval/proposal';
import { documentSchema, setName } from '../procedure/document-schema';
import { calendarDaySchema, timeZoneSchema } from '../quantity/calendar-day';
import { standardSchema } from '../standard/standard-schema';

/** The log of a run, version 2 (procedure.md, section 9): everything a person does at the bench, one shape each. */

const line = z.string().trim().min(1).max(300);
const reason = z.string().trim().min(3, 'Give the reason in a few words.').max(500);
const note = z.string().trim().max(500);
const nothingTyped = 'Nothing was typed. Type the number, then press Enter.';
const typed = z.string().trim().min(1, nothingTyped).max(20, 'That is longer than any number. Type at most 20 characters.');
const id = z.string().min(1).max(80);
const day = calendarDaySchema('A date');
/** What a file observation holds at the most, in characters. */
const mostText = 400_000;

/** Where something stands: as much of it as applies. */
const place = { set: setName, series: id.optional(), each: id.optional(), point: id.optional(), sweep: id.optional() };
const repeat = z.number().int().positive();

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
  adjustmentAllowed: z.boolean(),
  intervalMonths: z.number().int().positive().nullable(),
  /** The owner wants the next date on the certificate; logs older than the question printed it. */
  nextDateWanted: z.boolean().optional(),
  /** What was agreed with the owner in place of the procedure's rule. */
  decisionRule: decisionRuleSchema.nullable().default(null),
  lastCalibrated: day.nullable(),
});

export const standardSnapshotSchema = z.object({ id: z.string(), document: standardSchema });

const shownLimits = z.object({ lower: z.number().optional(), upper: z.number().optional() });
/** A point as it was resolved: what later code could derive otherwise is kept. */
const placedPoint = z.object({
  id,
  index: z.number().int(),
  label: z.string().optional(),
  nominal: z.number().optional(),
  columns: z.record(z.string(), z.unknown()).default({}),
  /** The item that a point of items uses. */
  item: z.string().optional(),
  /** Items of each use that picks some: a stack, or one. */
  items: z.record(z.string(), z.array(z.string())).default({}),
  /** Limits of each result that do not depend on readings, in its unit. */
  limits: z.record(z.string(), shownLimits).default({}),
});
export const placesSchema = z.object({
  series: id,
  /** Null where nothing is read for each of anything. */
  each: id.nullable(),
  points: z.array(placedPoint),
});

const at = { ...place, repeat: repeat.optional() };
/** One thing to do, in its order. */
export const planItemSchema = z.discriminatedUnion('type', [
  /** `of`: the adjustment or the cause ruled out whose step it is. */
  z.object({ type: z.literal('step'), ...at, id, of: id.optional() }),
  z.object({ type: z.literal('condition'), ...at, id }),
  z.object({ type: z.literal('reading'), ...at, id }),
  /** A result or aggregate that must pass before the plan goes on. */
  z.object({ type: z.literal('gate'), ...at, id }),
  /** Points that earlier steps decide. */
  z.object({ type: z.literal('open'), ...place, id }),
  z.object({ type: z.literal('judge'), ...place }),
  z.object({ type: z.literal('adjust'), ...place, id }),
  z.object({ type: z.literal('begin'), ...place }),
  z.object({ type: z.literal('interval'), ...place }),
  z.object({ type: z.literal('complete'), ...place }),
]);
export const planSchema = z.object({ items: z.array(planItemSchema).max(200_000), places: z.array(placesSchema) });

const version = z.literal(2).default(2);
/** What an act adds to the plan: the core works it out (`withPlan`), so whoever asks for the act may leave it out. */
const addedPlan = planSchema.default(() => ({ items: [], places: [] }));
const stepValue = z.union([z.number(), z.string().max(300), z.boolean(), z.record(z.string(), z.number())]);
const slot = { ...place, series: id, point: id, repeat, observation: id };

export const actSchema = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('run-started'),
    version,
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
  }),
  z.object({
    type: z.literal('step-done'),
    version,
    ...at,
    id,
    value: stepValue,
    /** A number as it was typed. */
    text: z.string().max(300).optional(),
    reason: reason.optional(),
  }),
  z.object({ type: z.literal('wait-begun'), version, ...at, id }),
  /** What was seen while waiting. */
  z.object({ type: z.literal('watched'), version, ...at, id, text: typed }),
  z.object({ type: z.literal('wait-ended'), version, ...at, id, reason: reason.optional() }),
  z.object({
    type: z.literal('conditions-recorded'),
    version,
    ...at,
    values: z.record(z.string(), typed),
    reason: reason.optional(),
  }),
  z.object({
    type: z.literal('items-chosen'),
    version,
    ...place,
    series: id,
    point: id,
    use: id,
    items: z.array(z.string().max(80)).min(1).max(12),
  }),
  z.object({
    type: z.literal('observed'),
    version,
    ...slot,
    text: z.string().trim().min(1, nothingTyped).max(mostText),
    /** The unit in which a standard was read, where that is not the document's; worked out by the core (`withPlan`). */
    unit: z.string().max(60).optional(),
    /** Kept as typed although it looked implausible. */
    confirmed: z.boolean().optional(),
    reason: reason.optional(),
  }),
  z.object({ type: z.literal('struck'), version, sequence: z.number().int().positive(), reason }),
  z.object({ type: z.literal('skipped'), version, ...place, series: id, reason: note }),
  z.object({ type: z.literal('resumed'), version, ...place, series: id }),
  z.object({ type: z.literal('plan-resolved'), version, ...place, series: id, plan: addedPlan }),
  z.object({ type: z.literal('gate-passed'), version, ...at, id, passes: z.boolean(), reason: reason.optional() }),
  z.object({ type: z.literal('set-begun'), version, set: setName, why: note, plan: addedPlan }),
  /** Stopped early: what is there is kept, and the record says that it is not complete. */
  z.object({ type: z.literal('set-ended'), version, set: setName, reason }),
  z.object({ type: z.literal('withdrawn'), version, set: setName, series: id, each: id.optional(), reason }),
  z.object({
    type: z.literal('adjustment-decided'),
    version,
    set: setName,
    /** What is done; null: it is left as it is. */
    adjustment: id.nullable(),
    each: id.optional(),
    proposed: id.nullable(),
    reason: note,
    plan: addedPlan,
  }),
  /** Nothing was changed after all: the decision is taken back, and the set is judged again. */
  z.object({ type: z.literal('adjustment-abandoned'), version, set: setName, reason }),
  z.object({ type: z.literal('ruling-out'), version, set: setName, id, note, plan: addedPlan }),
  z.object({
    type: z.literal('adjusted'),
    version,
    set: setName,
    id,
    each: id.optional(),
    stored: z.record(z.string(), z.object({ before: typed.optional(), after: typed, readBack: typed.optional() })),
    note,
  }),
  z.object({ type: z.literal('note-added'), version, text: reason }),
  /** Taken out of the set-up: from here on the run goes on alone. */
  z.object({ type: z.literal('left-set-up'), version, reason }),
  z.object({
    type: z.literal('interval-decided'),
    version,
    next: day,
    proposed: day,
    reason: note,
    /** By which school the date was proposed; absent where only the document and the record were asked. */
    school: schoolSchema.optional(),
    /** What every school said then; the server's part. */
    advice: z.array(proposalSchema).max(12).optional(),
  }),
  z.object({
    type: z.literal('run-completed'),
    version,
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
  }),
  z.object({ type: z.literal('run-reviewed'), version, remark: z.string().trim().max(1000) }),
  /** Review sends it back to the bench: what was finished is open again, and gets another certificate. */
  z.object({ type: z.literal('run-returned'), version, remark: reason }),
  /** `outOfUse`: it is damaged, and nothing is measured with it until it is repaired. */
  z.object({ type: z.literal('run-broken-off'), version, reason, outOfUse: z.literal(true).optional() }),
]);

/** What was odd about the server's clock when an event was recorded; the log keeps it in sight. */
export const clockMarkSchema = z.object({
  /** Seconds by which this event is earlier than the one before it. */
  earlierBy: z.number().positive().optional(),
  /** Seconds by which the clock had been set forward (or, negative, back) since the event before was recorded. */
  setBy: z.number().optional(),
});
/** When an act was done by the clock at the bench, and by how many seconds that clock was ahead of the server's. */
export const doneSchema = z.object({
  at: z.iso.datetime(),
  ahead: z.number(),
  /** When the server had last answered that bench, by its own clock: what came after it rests on the device alone. */
  contact: z.iso.datetime().optional(),
});

export const recordedEventSchema = z.object({
  sequence: z.number().int().positive(),
  /** When it was recorded, by the server's clock. */
  at: z.iso.datetime(),
  done: doneSchema.optional(),
  person: line,
  act: actSchema,
  clock: clockMarkSchema.optional(),
});

export type Act = z.infer<typeof actSchema>;
/** An act as it may be given: without its version, and with what has a default left out. */
export type NewAct = z.input<typeof actSchema>;
export type ActOf<T extends Act['type']> = Extract<Act, { type: T }>;
export type RecordedEvent = z.infer<typeof recordedEventSchema>;
export type ClockMark = z.infer<typeof clockMarkSchema>;
export type PlanItem = z.infer<typeof planItemSchema>;
export type Plan = z.infer<typeof planSchema>;
export type Places = z.infer<typeof placesSchema>;
export type PlacedPoint = Places['points'][number];
export type InstrumentSnapshot = z.infer<typeof instrumentSnapshotSchema>;
export type StandardSnapshot = z.infer<typeof standardSnapshotSchema>;
export type Place = { set: string; series?: string; each?: string; point?: string; sweep?: string; repeat?: number };
