import * as z from 'zod';
import type { ProcedureDocument } from '../../procedure/document-schema';

/**
 * The procedure document as runs of version 2 keep it: what it must hold to be read, and what a member that is not there stands for.
 * Frozen: written out here, so that no change to the living document changes how a kept one is read. Members that this does not know
 * pass unchanged, and nothing is refused for its size or wording: it was looked at when the run began.
 */

const text = z.string();
const list = <T extends z.ZodType>(of: T) => z.array(of).default([]);
const number = z.union([z.number(), z.looseObject({ is: text })]);
const named = z.looseObject({ id: text, title: text });

/** Limits, or a statement in terms, which add where nothing is said. */
const tolerance = z
  .looseObject({})
  .transform((t): Record<string, unknown> => ('terms' in t && t['combine'] === undefined ? { ...t, combine: 'sum' } : t));
/** A decision rule; a guard band is as wide as U where nothing is said. */
export const rule = z
  .looseObject({ kind: text })
  .transform((r): Record<string, unknown> => (r.kind === 'guard-band' && r['factor'] === undefined ? { ...r, factor: 1 } : r));
const judged = {
  tolerance: tolerance.optional(),
  tolerances: z.array(z.looseObject({ id: text, title: text, tolerance })).optional(),
  decisionRule: rule.optional(),
};
const budget = { model: text, quantities: list(z.looseObject({ symbol: text, unit: text })) };

const step = z
  .looseObject({ kind: text, id: text, title: text })
  .transform((s): Record<string, unknown> => (s.kind === 'measure' && s['unit'] === undefined ? { ...s, unit: '1' } : s));
const steps = z.array(step);

const series = z.looseObject({
  id: text,
  title: text,
  sets: z.array(text).default(['as-found', 'as-left']),
  uses: z.record(text, z.looseObject({})).default({}),
  steps: steps.default([]),
  repeats: number.default(1),
  order: text.default('point'),
  observe: list(z.looseObject({ id: text, of: text, type: text.default('number'), per: text.default('repeat') })),
  analyses: list(z.looseObject({ use: text, of: text, as: text })),
  computed: list(z.looseObject({ id: text, is: text })),
  results: list(z.looseObject({ symbol: text, title: text, ...budget, ...judged })),
  aggregates: list(
    z.looseObject({ id: text, title: text, over: z.array(text), result: z.looseObject(budget).optional(), ...judged }),
  ),
  fits: list(z.looseObject({ id: text, y: text, x: text, basis: z.array(text), over: z.array(text) })),
  decisionRule: rule.optional(),
});

export const documentSchema = z.looseObject({
  format: z.literal('just-twice/procedure'),
  version: z.literal(2),
  id: text,
  revision: z.number(),
  title: text,
  sources: list(text),
  instrument: z.looseObject({
    kinds: z.array(text),
    characteristics: list(named),
    lists: list(named.extend({ columns: list(named) })),
    parts: list(named),
  }),
  standards: list(z.looseObject({ role: text, title: text, properties: list(named) })),
  choices: list(named.extend({ options: z.array(named) })),
  tables: list(z.looseObject({ id: text, pick: text.default('equal'), rows: z.array(z.array(z.number())) })),
  steps: steps.default([]),
  conditions: list(named.extend({ recorded: text.default('set') })),
  series: list(series),
  decisionRule: rule.optional(),
  adjustments: list(
    named.extend({
      kind: text,
      of: z.array(text),
      steps: steps.optional(),
      afterSteps: steps.optional(),
      stored: list(named),
    }),
  ),
  ruleOut: list(named.extend({ steps: steps.optional() })),
});

/**
 * A kept document in the present shape. A member that the living document gains is filled in here, with what it stands for where a kept
 * one has none.
 */
export const readKeptDocument = (raw: unknown): ProcedureDocument => documentSchema.parse(raw) as unknown as ProcedureDocument;
