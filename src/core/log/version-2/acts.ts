import * as z from 'zod';
import { documentSchema, rule } from './document';

/**
 * The acts of version 2 as they lie in the store. Frozen, and written out here: what an act must hold to be read, and what a member that
 * is not there stands for. Members that this does not know pass unchanged; sizes and wording were looked at when it was recorded.
 */

const text = z.string();
const place = { set: text, series: text.optional(), each: text.optional(), point: text.optional(), sweep: text.optional() };
const at = { ...place, repeat: z.number().optional() };

const certified = { expandedUncertainty: z.number(), coverageFactor: z.number().default(2) };
const fn = z.looseObject({ name: text, parameters: z.record(text, z.number()).default({}), ...certified });
const curve = {
  corrections: z.array(z.looseObject({ at: z.number(), correction: z.number(), ...certified })).optional(),
  values: z.array(z.looseObject({ at: z.number(), value: z.number(), ...certified })).optional(),
  function: fn.optional(),
};
const item = z.looseObject({
  id: text,
  nominal: z.number(),
  expandedUncertainty: z.number().default(0),
  coverageFactor: z.number().default(2),
  ...curve,
});
const content = { items: z.array(item).optional(), ...curve };
const standard = z.looseObject({
  identification: text,
  kind: text,
  designation: text.default(''),
  ...content,
  parts: z.array(z.looseObject({ id: text, ...content })).optional(),
});

const instrument = z.looseObject({
  id: text,
  identification: text,
  serialNumber: text.default(''),
  kind: text,
  designation: text,
  owner: text,
  place: text,
  unit: text,
  lower: z.number(),
  upper: z.number(),
  usedLower: z.number(),
  usedUpper: z.number(),
  resolution: z.number(),
  characteristics: z.record(text, z.union([z.number(), text])).default({}),
  lists: z.record(text, z.array(z.looseObject({ id: text }))).default({}),
  parts: z.record(text, text).default({}),
  stored: z.record(text, z.union([z.number(), z.record(text, z.number())])).default({}),
  adjustmentAllowed: z.boolean(),
  intervalMonths: z.number().nullable(),
  decisionRule: rule.nullable().default(null),
  lastCalibrated: text.nullable(),
});

const places = z.looseObject({
  series: text,
  each: text.nullable(),
  points: z.array(
    z.looseObject({
      id: text,
      index: z.number(),
      columns: z.record(text, z.unknown()).default({}),
      items: z.record(text, z.array(text)).default({}),
      limits: z.record(text, z.looseObject({ lower: z.number().optional(), upper: z.number().optional() })).default({}),
    }),
  ),
});
const plan = z.looseObject({ items: z.array(z.looseObject({ type: text, ...at })), places: z.array(places) });
const added = plan.default({ items: [], places: [] });

const act = <T extends string, S extends z.ZodRawShape>(type: T, shape: S) =>
  z.looseObject({ type: z.literal(type), version: z.literal(2), ...shape });

export const actSchema = z.discriminatedUnion('type', [
  act('run-started', {
    instrument,
    standards: z.record(text, z.array(z.looseObject({ id: text, document: standard }))),
    procedure: documentSchema,
    choices: z.record(text, text),
    plan,
    timeZone: text,
    setUp: z.looseObject({ id: text, place: z.number(), of: z.number() }).optional(),
  }),
  act('step-done', { ...at, id: text, value: z.union([z.number(), text, z.boolean(), z.record(text, z.number())]) }),
  act('wait-begun', { ...at, id: text }),
  act('watched', { ...at, id: text, text }),
  act('wait-ended', { ...at, id: text, reason: text.optional() }),
  act('conditions-recorded', { ...at, values: z.record(text, text) }),
  act('items-chosen', { ...place, series: text, point: text, use: text, items: z.array(text) }),
  act('observed', { ...place, series: text, point: text, repeat: z.number(), observation: text, text }),
  act('struck', { sequence: z.number(), reason: text }),
  act('skipped', { ...place, series: text, reason: text }),
  act('resumed', { ...place, series: text }),
  act('plan-resolved', { ...place, series: text, plan: added }),
  act('gate-passed', { ...at, id: text, passes: z.boolean() }),
  act('set-begun', { set: text, why: text, plan: added }),
  act('set-ended', { set: text, reason: text }),
  act('withdrawn', { set: text, series: text, each: text.optional(), reason: text }),
  act('adjustment-decided', {
    set: text,
    adjustment: text.nullable(),
    each: text.optional(),
    proposed: text.nullable(),
    reason: text,
    plan: added,
  }),
  act('adjustment-abandoned', { set: text, reason: text }),
  act('ruling-out', { set: text, id: text, note: text, plan: added }),
  act('adjusted', {
    set: text,
    id: text,
    each: text.optional(),
    stored: z.record(text, z.looseObject({ before: text.optional(), after: text, readBack: text.optional() })),
    note: text,
  }),
  act('note-added', { text }),
  act('left-set-up', { reason: text }),
  act('interval-decided', { next: text, proposed: text, reason: text }),
  act('run-completed', {
    certificate: text,
    remark: text,
    issued: z.looseObject({ content: z.record(text, z.unknown()), digest: text, log: text.optional() }).optional(),
  }),
  act('run-reviewed', { remark: text }),
  act('run-returned', { remark: text }),
  act('run-broken-off', { reason: text }),
]);
