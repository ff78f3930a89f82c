import { parsePlainNumber } from '../quantity/reading';
import type { Budget } from './budget-schema';

/** The ways a person states a distribution, each with the fields it takes. Two of them are other ways to state a normal or rectangular one. */
export const distributionForms = {
  constant: { title: 'constant', fields: [['value', 'value']] },
  normal: {
    title: 'normal, u',
    fields: [
      ['mean', 'value'],
      ['standardUncertainty', 'u'],
      ['dof', 'dof'],
    ],
  },
  'normal-expanded': {
    title: 'normal, U and k',
    fields: [
      ['mean', 'value'],
      ['expandedUncertainty', 'U'],
      ['coverageFactor', 'k'],
      ['dof', 'dof'],
    ],
  },
  readings: {
    title: 'readings',
    fields: [
      ['values', 'readings'],
      ['pooledStandardDeviation', 'pooled s'],
      ['pooledDof', 'its dof'],
      ['floor', 'u at least'],
      ['dof', 'dof'],
    ],
  },
  rectangular: {
    title: 'rectangular',
    fields: [
      ['mean', 'value'],
      ['halfWidth', '±'],
      ['dof', 'dof'],
    ],
  },
  'rectangular-limits': {
    title: 'rectangular, limits',
    fields: [
      ['lower', 'from'],
      ['upper', 'to'],
      ['dof', 'dof'],
    ],
  },
  triangular: {
    title: 'triangular',
    fields: [
      ['mean', 'value'],
      ['halfWidth', '±'],
      ['dof', 'dof'],
    ],
  },
  trapezoidal: {
    title: 'trapezoidal',
    fields: [
      ['mean', 'value'],
      ['halfWidth', '±'],
      ['shape', 'top/base'],
      ['dof', 'dof'],
    ],
  },
  'curvilinear-trapezoidal': {
    title: 'curved trapezoid',
    fields: [
      ['mean', 'value'],
      ['halfWidth', '±'],
      ['halfWidthUncertainty', '± of ±'],
      ['dof', 'dof'],
    ],
  },
  arcsine: {
    title: 'arcsine',
    fields: [
      ['mean', 'value'],
      ['halfWidth', '±'],
      ['dof', 'dof'],
    ],
  },
  'student-t': {
    title: 'Student t',
    fields: [
      ['mean', 'value'],
      ['scale', 'scale'],
      ['dof', 'dof'],
    ],
  },
  exponential: {
    title: 'exponential',
    fields: [
      ['mean', 'mean'],
      ['dof', 'dof'],
    ],
  },
  gamma: {
    title: 'gamma',
    fields: [
      ['shape', 'shape'],
      ['scale', 'scale'],
      ['dof', 'dof'],
    ],
  },
} as const satisfies Record<string, { title: string; fields: readonly (readonly [string, string])[] }>;

export type DistributionForm = keyof typeof distributionForms;

/** Everything as typed: nothing is lost while a budget is not yet one. */
export type QuantityDraft = {
  symbol: string;
  name: string;
  unit: string;
  source: string;
  form: DistributionForm;
  fields: Record<string, string>;
};
export type CorrelationDraft = { a: string; b: string; coefficient: string };
export type BudgetDraft = {
  name: string;
  symbol: string;
  unit: string;
  model: string;
  quantities: QuantityDraft[];
  correlations: CorrelationDraft[];
  coverage: { kind: 'probability' | 'factor'; value: string };
};

/** A number as typed, with comma or point, and powers of ten as 1.15e-5; any other text stays text, so that the schema refuses it at its place. */
function typed(text: string): number | string | undefined {
  const trimmed = text.normalize('NFKC').trim().replace(/−/g, '-');
  if (trimmed === '') return undefined;
  if (!/^[+-]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d{1,3})?$/.test(trimmed)) return trimmed;
  // A comma that may part thousands stays text: `doubtfulComma` says which two numbers it can be.
  return doubtfulComma(trimmed) ? trimmed : Number(trimmed.replace(',', '.'));
}

/**
 * What to ask about a text such as `1,234`, which is 1.234 to one reader and 1234 to another; null for any other.
 * @example doubtfulComma('1,234') // 'Is that 1.234 or 1234? Type it with a point, or without the comma.'
 */
export function doubtfulComma(text: string): string | null {
  const parsed = parsePlainNumber(text);
  return !parsed.ok && parsed.problem === 'doubtful-comma' ? parsed.message : null;
}

/** A list of numbers. One comma that can only be decimal says what all of them are. */
function listed(text: string): (number | string)[] {
  const words = text.split(/[\s;]+/).filter(Boolean);
  const isDecimal = words.some((w) => w.includes(',') && !doubtfulComma(w));
  return words.map((w) => typed(isDecimal ? w.replace(',', '.') : w)!);
}

function distributionOf({ form, fields }: QuantityDraft): Record<string, unknown> {
  const value = (key: string) => typed(fields[key] ?? '');
  if (form === 'readings') {
    const pooled = fields['pooledStandardDeviation']?.trim()
      ? { standardDeviation: value('pooledStandardDeviation'), dof: value('pooledDof') }
      : undefined;
    const [floor, dof] = [value('floor'), value('dof')];
    return {
      type: 'readings',
      values: listed(fields['values'] ?? ''),
      ...(pooled ? { pooled } : {}),
      ...(floor === undefined ? {} : { floor }),
      ...(dof === undefined ? {} : { dof }),
    };
  }
  const type = form === 'normal-expanded' ? 'normal' : form === 'rectangular-limits' ? 'rectangular' : form;
  return {
    type,
    ...Object.fromEntries(
      distributionForms[form].fields.flatMap(([key]) => (value(key) === undefined ? [] : [[key, value(key)]])),
    ),
  };
}

/** The document a draft stands for; it still has to pass the schema. @example draftDocument(budgetDraft(budget)).name // 'Error' */
export function draftDocument(draft: BudgetDraft): unknown {
  return {
    format: 'just-twice/budget',
    version: 1,
    name: draft.name.trim(),
    output: { symbol: draft.symbol.trim(), unit: draft.unit.trim() },
    model: draft.model,
    quantities: draft.quantities.map((q) => ({
      symbol: q.symbol.trim(),
      unit: q.unit.trim(),
      ...(q.name.trim() ? { name: q.name.trim() } : {}),
      ...(q.source.trim() ? { source: q.source.trim() } : {}),
      distribution: distributionOf(q),
    })),
    ...(draft.correlations.length
      ? {
          correlations: draft.correlations.map((c) => ({ between: [c.a.trim(), c.b.trim()], coefficient: typed(c.coefficient) })),
        }
      : {}),
    coverage: { [draft.coverage.kind]: typed(draft.coverage.value) },
  };
}

function draftQuantity(q: Budget['quantities'][number]): QuantityDraft {
  const d = q.distribution;
  const common = { symbol: q.symbol, name: q.name ?? '', unit: q.unit, source: q.source ?? '' };
  if (d.type === 'readings')
    return {
      ...common,
      form: 'readings',
      fields: {
        values: d.values.join(' '),
        pooledStandardDeviation: d.pooled ? String(d.pooled.standardDeviation) : '',
        pooledDof: d.pooled ? String(d.pooled.dof) : '',
        floor: d.floor === undefined ? '' : String(d.floor),
        dof: d.dof === undefined ? '' : String(d.dof),
      },
    };
  const form: DistributionForm =
    d.type === 'normal' && d.expandedUncertainty !== undefined
      ? 'normal-expanded'
      : d.type === 'rectangular' && d.lower !== undefined && d.upper !== undefined
        ? 'rectangular-limits'
        : d.type;
  const { type: _type, ...values } = d;
  return { ...common, form, fields: Object.fromEntries(Object.entries(values).map(([k, v]) => [k, String(v)])) };
}

/** A budget opened for editing. @example budgetDraft(budget).name // 'Error' */
export function budgetDraft(budget: Budget): BudgetDraft {
  const coverage = budget.coverage ?? { factor: 2 };
  return {
    name: budget.name,
    symbol: budget.output.symbol,
    unit: budget.output.unit,
    model: budget.model,
    quantities: budget.quantities.map(draftQuantity),
    correlations: (budget.correlations ?? []).map((c) => ({
      a: c.between[0],
      b: c.between[1],
      coefficient: String(c.coefficient),
    })),
    coverage:
      'probability' in coverage
        ? { kind: 'probability', value: String(coverage.probability) }
        : { kind: 'factor', value: String(coverage.factor) },
  };
}
