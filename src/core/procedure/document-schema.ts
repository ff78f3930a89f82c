import * as z from 'zod';
import '../plain-issues';
import { coverageSchema, symbolSchema } from '../uncertainty/budget-schema';
import { decisionRuleSchema } from '../conformity/conformity-schema';

/** The procedure document, `just-twice/procedure` version 2: what is read in what order, and what becomes of it. */

const text = z.string().max(2000);
const formulaText = z.string().min(1, 'A formula is empty.').max(4000);
/** A number, or a formula for one. */
export const numSchema = z.union([z.number(), z.strictObject({ is: formulaText })]);
/** An id that formulas name. */
const nameId = z
  .string()
  .regex(/^[\p{L}][\p{L}\p{N}_]*$/u, 'An id that formulas name is letters and digits, starting with a letter.');
/** An id of a document, a set, an option or a row. */
const plainId = z.string().regex(/^[\p{L}\p{N}][\p{L}\p{N}_.+-]{0,79}$/u, 'An id is letters, digits and hyphens.');
const unitSchema = z.union([z.string().max(60), z.strictObject({ of: z.string() })]);

export const setName = z
  .string()
  .regex(/^(as-found|as-left|check|quick)(-\d+)?$/, 'A set is as-found, as-left, check or quick, perhaps with a number.');
const sets = z.array(z.enum(['as-found', 'as-left', 'check', 'quick'])).min(1);

const condition = z.union([
  z.strictObject({ choice: nameId, is: z.union([z.string(), z.array(z.string())]) }),
  z.strictObject({ step: nameId, is: z.union([z.string(), z.array(z.string())]) }),
  z.strictObject({ positive: formulaText }),
]);
/** What leaves something out; of a list all must hold. */
export const whenSchema = z.union([condition, z.array(condition)]);
const when = whenSchema.optional();

const option = z.looseObject({ id: plainId, title: text, caution: text.optional() });
const column = z.strictObject({
  id: nameId,
  title: text,
  unit: unitSchema.optional(),
  type: z.enum(['number', 'text']).optional(),
});

// --- tolerances ---
const termSchema = z.union([
  z.strictObject({ absolute: numSchema }),
  z.strictObject({ ofReading: numSchema }),
  z.strictObject({ ofReference: numSchema }),
  z.strictObject({ ofRange: numSchema, range: numSchema }),
  z.strictObject({ counts: numSchema, resolution: numSchema }),
  z.strictObject({ perLength: numSchema, length: numSchema }),
]);
export const statementSchema = z.strictObject({
  terms: z.array(termSchema).min(1),
  combine: z.enum(['sum', 'greatest']).default('sum'),
});
export const toleranceTemplateSchema = z.union([
  statementSchema,
  z.strictObject({ lower: numSchema.optional(), upper: numSchema.optional() }),
]);
const schools = z.array(z.strictObject({ id: plainId, title: text, tolerance: toleranceTemplateSchema })).min(1);

// --- budgets ---
const n = numSchema;
const dof = numSchema.optional();
export const distributionTemplateSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('constant'), value: n }),
  z.strictObject({
    type: z.literal('normal'),
    mean: n,
    standardUncertainty: n.optional(),
    expandedUncertainty: n.optional(),
    coverageFactor: n.optional(),
    dof,
  }),
  z.strictObject({
    type: z.literal('readings'),
    of: z.string(),
    pool: z
      .union([
        z.enum(['none', 'instance', 'set']),
        z.strictObject({ series: nameId, of: z.string() }),
        z.strictObject({ standardDeviation: n, dof: n }),
      ])
      .optional(),
    floor: n.optional(),
    dof,
  }),
  z.strictObject({
    type: z.literal('rectangular'),
    mean: n.optional(),
    halfWidth: n.optional(),
    lower: n.optional(),
    upper: n.optional(),
    dof,
  }),
  z.strictObject({ type: z.literal('triangular'), mean: n, halfWidth: n, dof }),
  z.strictObject({ type: z.literal('arcsine'), mean: n, halfWidth: n, dof }),
  z.strictObject({ type: z.literal('trapezoidal'), mean: n, halfWidth: n, shape: n, dof }),
  z.strictObject({ type: z.literal('curvilinear-trapezoidal'), mean: n, halfWidth: n, halfWidthUncertainty: n, dof }),
  z.strictObject({ type: z.literal('student-t'), mean: n, scale: n, dof: n }),
  z.strictObject({ type: z.literal('exponential'), mean: n, dof }),
  z.strictObject({ type: z.literal('gamma'), shape: n, scale: n, dof }),
]);
const quantity = z.strictObject({
  symbol: symbolSchema,
  name: text.optional(),
  unit: z.string().max(60),
  source: text.optional(),
  distribution: distributionTemplateSchema,
  when,
});
const budgetMembers = {
  where: z.array(z.strictObject({ symbol: symbolSchema, is: formulaText })).optional(),
  model: formulaText,
  quantities: z.array(quantity).max(60).default([]),
  correlations: z.array(z.strictObject({ between: z.tuple([symbolSchema, symbolSchema]), coefficient: n })).optional(),
  coverage: coverageSchema.optional(),
};
const judgedMembers = {
  tolerance: toleranceTemplateSchema.optional(),
  tolerances: schools.optional(),
  decisionRule: decisionRuleSchema.optional(),
  gate: z.boolean().optional(),
  when,
};
/** A number that is shown beside a result, in a unit of its own where it says so. */
const shownNumber = z.union([z.number(), z.strictObject({ is: formulaText, unit: unitSchema.optional() })]);
const dimension = z.enum(['repeats', 'sweeps', 'points', 'instances']);
export const resultSchema = z.strictObject({
  symbol: nameId,
  title: text,
  unit: unitSchema,
  shownIn: unitSchema.optional(),
  reference: shownNumber.optional(),
  indication: shownNumber.optional(),
  ...budgetMembers,
  ...judgedMembers,
  over: z.array(z.literal('sweeps')).optional(),
});

export const statistics = [
  'mean',
  'standard-deviation',
  'range',
  'least',
  'greatest',
  'greatest-magnitude',
  'greatest-residual',
  'greatest-deviation-from',
  'greatest-change',
  'greatest-step',
  'count',
] as const;
export const aggregateSchema = z
  .strictObject({
    id: nameId,
    title: text,
    unit: unitSchema,
    of: z.string().optional(),
    over: z.array(dimension).min(1),
    among: z.array(z.string()).optional(),
    statistic: z.enum(statistics).optional(),
    is: formulaText.optional(),
    fit: nameId.optional(),
    from: z.string().optional(),
    x: formulaText.optional(),
    within: n.optional(),
    result: z
      .strictObject({
        symbol: nameId.optional(),
        title: text.optional(),
        reference: shownNumber.optional(),
        indication: shownNumber.optional(),
        ...budgetMembers,
      })
      .optional(),
    ...judgedMembers,
  })
  .superRefine((a, context) => {
    const fault = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    if (a.is === undefined && a.statistic === undefined) fault('statistic', 'Give a statistic, or a formula in "is".');
    if (a.is !== undefined && a.statistic !== undefined) fault('is', 'Give either a statistic or a formula, not both.');
    if (a.statistic !== undefined && a.statistic !== 'greatest-residual' && a.of === undefined)
      fault('of', 'Say what the statistic is of.');
    if (a.statistic === 'greatest-residual' && a.fit === undefined) fault('fit', 'Name the fit that leaves the residuals.');
    if (a.statistic === 'greatest-deviation-from' && a.from === undefined)
      fault('from', 'Name the point from which it deviates.');
    if (a.statistic === 'greatest-change' && (a.x === undefined || a.within === undefined))
      fault(a.x === undefined ? 'x' : 'within', 'A greatest change needs x and within.');
  });

const fitSchema = z.strictObject({
  id: nameId,
  title: text.optional(),
  y: formulaText,
  x: formulaText,
  basis: z.array(formulaText).min(1).max(12),
  over: z.array(dimension).min(1),
  among: z.array(z.string()).optional(),
  when,
});

// --- steps ---
/** The most minutes that a wait may be told to take. */
export const longestWait = 100_000;
const stepMembers = {
  id: nameId,
  title: text,
  caution: text.optional(),
  handsOn: z.number().nonnegative().optional(),
  /** It changes what the instrument would show: not before it is read as found, unless its owner does it before every use. */
  touches: z.boolean().optional(),
  asInUse: z.boolean().optional(),
  /** With several instruments in one set-up: whether it is done once for all of them. */
  shared: z.boolean().optional(),
  when,
  sets: sets.optional(),
  sweeps: z.array(plainId).optional(),
  before: z.enum(['instance', 'sweep', 'point', 'repeat']).optional(),
  after: z.enum(['instance', 'sweep', 'point', 'repeat', 'run']).optional(),
};
const near = z.strictObject({ is: formulaText, within: n });
export const stepSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('confirm'), ...stepMembers, ask: text }),
  z.strictObject({
    kind: z.literal('identify'),
    ...stepMembers,
    what: z.string(),
    ask: text,
    typed: z.literal('certified').optional(),
  }),
  z.strictObject({
    kind: z.literal('choose'),
    ...stepMembers,
    ask: text,
    options: z.array(option).min(1),
    want: z.string().optional(),
  }),
  z.strictObject({
    kind: z.literal('measure'),
    ...stepMembers,
    ask: text,
    /** Without one, a pure number. */
    unit: unitSchema.default('1'),
    lower: n.optional(),
    upper: n.optional(),
    near: near.optional(),
  }),
  z.strictObject({
    kind: z.literal('check'),
    ...stepMembers,
    is: formulaText,
    unit: unitSchema,
    lower: n.optional(),
    upper: n.optional(),
  }),
  z.strictObject({
    kind: z.literal('wait'),
    ...stepMembers,
    instruction: text,
    minutes: z.union([z.number().nonnegative().max(longestWait), z.strictObject({ is: formulaText })]),
    warnMinutes: z.number().nonnegative().optional(),
    since: nameId.optional(),
    until: z
      .union([
        z.strictObject({ settled: z.string(), within: n, forMinutes: z.number().nonnegative() }),
        z.strictObject({ near: formulaText, of: z.string().optional(), within: n, warnWithin: n.optional() }),
      ])
      .optional(),
  }),
  z.strictObject({
    kind: z.literal('do'),
    ...stepMembers,
    instruction: text,
    /** Numbers that it needs; `step`: what the instrument takes, to which each is rounded. */
    show: z.array(z.strictObject({ title: text, unit: unitSchema, is: formulaText, step: numSchema.optional() })).optional(),
  }),
  z.strictObject({ kind: z.literal('connect'), ...stepMembers, from: nameId, to: z.string() }),
]);

// --- series ---
export const useSchema = z.strictObject({
  role: nameId.optional(),
  part: z.string().optional(),
  item: formulaText.optional(),
  pick: z.enum(['equal', 'nearest', 'at-least', 'at-most']).optional(),
  where: z.record(z.string(), formulaText).optional(),
  stack: formulaText.optional(),
  at: formulaText.optional(),
  unit: z.string().optional(),
});
const tableRow = z.looseObject({ nominal: n.optional(), label: z.string().optional(), when });
const pointMembers = {
  unit: unitSchema.optional(),
  nearest: nameId.optional(),
  list: z.union([z.array(n).min(1), z.string()]).optional(),
  fractions: z.array(n).min(1).optional(),
  offsets: z.array(n).min(1).optional(),
  from: n.optional(),
  to: n.optional(),
  step: n.optional(),
  items: nameId.optional(),
  table: z.array(tableRow).min(1).optional(),
};
const pointsSchema = z.strictObject({
  ...pointMembers,
  /** Points for an instrument that is registered in another unit: literals in that unit, formulas in the document's. */
  inUnit: z.record(z.string(), z.strictObject(pointMembers)).optional(),
});
const observeSchema = z.strictObject({
  id: nameId,
  title: text.optional(),
  of: z.string(),
  unit: unitSchema.optional(),
  resolution: n.optional(),
  type: z.enum(['number', 'choice', 'file']).default('number'),
  options: z
    .array(z.looseObject({ id: plainId, title: text, accept: z.boolean().optional(), caution: text.optional() }))
    .optional(),
  per: z.enum(['repeat', 'point', 'sweep', 'instance']).default('repeat'),
  lower: n.optional(),
  upper: n.optional(),
  /** Ends of the scale: a reading there says only that the indication lies at or beyond it. */
  saturates: z.strictObject({ lower: n.optional(), upper: n.optional() }).optional(),
  capture: z.enum(['last', 'least', 'greatest']).optional(),
  instruction: text.optional(),
  caution: text.optional(),
  settleSeconds: z.number().nonnegative().optional(),
  /** An eye estimates toward what it has seen: while this is asked, what else was read at its point stays hidden. */
  blind: z.boolean().optional(),
  /** With several instruments in one set-up: whether it is read once for all of them. */
  shared: z.boolean().optional(),
  when,
});
export const seriesSchema = z.strictObject({
  id: nameId,
  title: text,
  sketch: z.string().optional(),
  /** Each point is a thing of its own, such as a block of a set: nothing is told of a line through them. */
  separate: z.boolean().optional(),
  sets: sets.default(['as-found', 'as-left']),
  optional: z.boolean().optional(),
  when,
  uses: z.record(nameId, useSchema).default({}),
  forEach: z
    .union([
      z.strictObject({ list: z.string(), by: z.literal('point').optional() }),
      z.strictObject({
        of: z.array(z.looseObject({ id: plainId, title: text.optional(), when })).min(1),
        by: z.literal('point').optional(),
      }),
      z.strictObject({ items: nameId, by: z.literal('point').optional() }),
    ])
    .optional(),
  with: nameId.optional(),
  steps: z.array(stepSchema).default([]),
  conditions: z.array(nameId).optional(),
  handsOn: z.number().nonnegative().optional(),
  gate: z.boolean().optional(),
  points: pointsSchema.optional(),
  sweeps: z.array(z.strictObject({ id: plainId, title: text, backwards: z.boolean().optional(), when })).optional(),
  by: z.literal('point').optional(),
  repeats: n.default(1),
  order: z.enum(['point', 'round']).default('point'),
  observe: z.array(observeSchema).default([]),
  analyses: z
    .array(z.strictObject({ use: z.string(), of: nameId, as: nameId, with: z.record(z.string(), n).optional(), when }))
    .default([]),
  computed: z
    .array(z.strictObject({ id: nameId, title: text.optional(), unit: unitSchema.optional(), is: formulaText, when }))
    .default([]),
  results: z.array(resultSchema).default([]),
  aggregates: z.array(aggregateSchema).default([]),
  fits: z.array(fitSchema).default([]),
  decisionRule: decisionRuleSchema.optional(),
});

const policySchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('never-while-inside') }),
  z.strictObject({ kind: z.literal('beyond-share'), share: z.number().gt(0).max(1) }),
  z.strictObject({ kind: z.literal('always-centre') }),
  z.strictObject({ kind: z.literal('beyond'), is: formulaText }),
]);
const adjustmentSchema = z.strictObject({
  id: nameId,
  title: text,
  kind: z.enum(['offset', 'span', 'offset-and-span', 'percent', 'table', 'coefficients', 'values', 'mechanical']),
  of: z.array(nameId).min(1),
  result: nameId.optional(),
  separately: z.boolean().optional(),
  instruction: text.optional(),
  caution: text.optional(),
  steps: z.array(stepSchema).optional(),
  afterSteps: z.array(stepSchema).optional(),
  takes: z.array(z.string()).optional(),
  /** Where a span turns: the x at which it changes nothing. */
  about: n.optional(),
  affects: z.array(nameId).optional(),
  stored: z
    .array(
      z.strictObject({
        id: nameId,
        title: text,
        unit: unitSchema.optional(),
        proposed: n.optional(),
        step: n.optional(),
        lower: n.optional(),
        upper: n.optional(),
      }),
    )
    .default([]),
  enough: z.number().positive().optional(),
  rounds: z.strictObject({ points: z.array(z.string()).min(1), within: n, most: z.number().int().positive() }).optional(),
  policy: policySchema.optional(),
  handsOn: z.number().nonnegative().optional(),
  when,
});

const tableSchema = z.strictObject({
  id: nameId,
  title: text.optional(),
  pick: z.enum(['equal', 'linear', 'first-at-least', 'last-at-most']).default('equal'),
  columns: z.array(z.string()).optional(),
  column: z.union([z.strictObject({ choice: nameId }), z.string()]).optional(),
  rows: z.array(z.array(z.number()).min(2)).min(1).max(2000),
});

const exampleSchema = z.strictObject({
  source: z.string().min(1, 'Say where the example comes from.'),
  input: z.record(z.string(), z.unknown()),
  expect: z
    .array(
      z.strictObject({
        path: z.string(),
        value: z.union([z.number(), z.string(), z.boolean(), z.null()]),
        within: z.number().optional(),
      }),
    )
    .min(1),
});

export const documentSchema = z.strictObject({
  format: z.literal('just-twice/procedure'),
  version: z.literal(2),
  id: plainId,
  revision: z.number().int().min(1),
  title: text,
  scope: text.optional(),
  sources: z.array(text).default([]),
  instrument: z.strictObject({
    kinds: z.array(z.string()).min(1),
    /** The unit in which formulas see the numbers of the register. */
    unit: z.string().max(60).optional(),
    characteristics: z
      .array(
        z.strictObject({
          id: nameId,
          title: text,
          unit: unitSchema.optional(),
          type: z.enum(['number', 'text']).optional(),
          default: z.union([z.number(), z.string()]).optional(),
        }),
      )
      .default([]),
    lists: z.array(z.strictObject({ id: nameId, title: text, columns: z.array(column).default([]) })).default([]),
    parts: z.array(z.strictObject({ id: nameId, title: text })).default([]),
  }),
  standards: z
    .array(
      z.strictObject({
        role: nameId,
        title: text,
        kinds: z.array(z.string()).min(1).optional(),
        optional: z.boolean().optional(),
        /** The unit in which its uses are read, where they name none. */
        unit: z.string().max(60).optional(),
        several: z.boolean().optional(),
        independent: z.boolean().optional(),
        auxiliary: z.boolean().optional(),
        properties: z.array(z.strictObject({ id: nameId, title: text, unit: unitSchema.optional() })).default([]),
        when,
      }),
    )
    .default([]),
  choices: z
    .array(z.strictObject({ id: nameId, title: text, options: z.array(option).min(1), default: z.string().optional(), when }))
    .default([]),
  tables: z.array(tableSchema).default([]),
  steps: z.array(stepSchema).default([]),
  conditions: z
    .array(
      z.strictObject({
        id: nameId,
        title: text,
        unit: unitSchema,
        lower: n.optional(),
        upper: n.optional(),
        recorded: z.enum(['set', 'series', 'point']).default('set'),
        near: near.optional(),
        when,
      }),
    )
    .default([]),
  series: z.array(seriesSchema).default([]),
  decisionRule: decisionRuleSchema.optional(),
  adjustments: z.array(adjustmentSchema).default([]),
  ruleOut: z
    .array(
      z.strictObject({
        id: plainId,
        title: text,
        instruction: text.optional(),
        caution: text.optional(),
        /** Whose the cause is; a cause that is not the instrument's takes the readings that it spoilt with it. */
        whose: z.enum(['instrument', 'standard', 'setting', 'operator']).optional(),
        steps: z.array(stepSchema).optional(),
        when,
      }),
    )
    .default([]),
  interval: z
    .strictObject({
      months: z.number().int().min(1).max(240),
      monthsAfterFail: z.number().int().min(1).max(240).optional(),
      statement: text.optional(),
    })
    .optional(),
  leastMinutes: z.number().nonnegative().optional(),
  /** Several instruments may be calibrated in one set-up, so many at the most. */
  /** How often the quick set is wanted between calibrations, by the clock; without it, when somebody asks. */
  quick: z
    .strictObject({
      every: z.number().positive().max(400),
      unit: z.enum(['days', 'hours']),
      statement: text.optional(),
      /** Which run rules its charts watch; the quietest, where nothing is said. */
      rules: z.enum(['limits', 'limits-and-shift', 'limits-and-zones', 'all-eight']).optional(),
      /** Limits of charts that are stated, in the unit of the result; others are told from their own first checks. */
      limits: z
        .array(z.strictObject({ series: nameId, result: symbolSchema, centre: z.number(), sigma: z.number().positive() }))
        .optional(),
    })
    .optional(),
  setUp: z.strictObject({ most: z.number().int().min(2).max(24) }).optional(),
  example: z.union([exampleSchema, z.array(exampleSchema)]).optional(),
});

export type ProcedureDocument = z.infer<typeof documentSchema>;
export type SeriesDocument = z.infer<typeof seriesSchema>;
export type ResultDocument = z.infer<typeof resultSchema>;
export type AggregateDocument = z.infer<typeof aggregateSchema>;
export type FitDocument = z.infer<typeof fitSchema>;
export type StepDocument = z.infer<typeof stepSchema>;
export type UseDocument = z.infer<typeof useSchema>;
export type AdjustmentDocument = z.infer<typeof adjustmentSchema>;
export type ToleranceTemplate = z.infer<typeof toleranceTemplateSchema>;
export type DistributionTemplate = z.infer<typeof distributionTemplateSchema>;
export type When = z.infer<typeof whenSchema>;
export type Num = z.infer<typeof numSchema>;
