import * as z from 'zod';
import '../plain-issues';

/** A published result: the question, what was published, and the largest difference that counts as agreement. */
export const publishedExampleSchema = z.object({
  id: z.string(),
  source: z.string(),
  note: z.string().optional(),
  verb: z.enum(['budget', 'montecarlo', 'conformity', 'risk', 'fit']),
  input: z.unknown(),
  expect: z.record(
    z.string(),
    z.union([z.object({ value: z.number(), within: z.number().nonnegative() }), z.object({ value: z.boolean() })]),
  ),
});

export type PublishedExample = z.infer<typeof publishedExampleSchema>;

const dimensionless = /^(effectiveDof|coverageFactor|correlation|validation|false)/;

/**
 * The unit of a published number, UCUM; '1' for a pure number, and for curves, which are published without units.
 * @example unitOfResult({ verb: 'budget', input: budget }) // 'mm'
 */
export function unitOfResult({ verb, input }: PublishedExample, name: string): string {
  if (dimensionless.test(name) || (verb !== 'budget' && verb !== 'montecarlo')) return '1';
  const budget = verb === 'budget' ? input : (input as { budget?: unknown }).budget;
  return (budget as { output?: { unit?: string } } | undefined)?.output?.unit ?? '1';
}

/** One published number beside the computed one. */
export type Comparison = {
  name: string;
  published: number | boolean;
  computed: number | boolean | null;
  difference: number | null;
  allowed: number | null;
  agrees: boolean;
};

/** The member of a result that a path such as `coefficients.1` names. */
function memberAt(result: unknown, path: string): unknown {
  return path
    .split('.')
    .reduce<unknown>(
      (at, key) =>
        at !== null && typeof at === 'object' && Object.hasOwn(at, key) ? (at as Record<string, unknown>)[key] : undefined,
      result,
    );
}

/** Compares a computed result with what was published. A missing number does not agree. */
export function compareWithPublished(example: PublishedExample, result: unknown): Comparison[] {
  return Object.entries(example.expect).map(([name, published]) => {
    const computed = memberAt(result, name);
    if (typeof published.value === 'boolean')
      return {
        name,
        published: published.value,
        computed: typeof computed === 'boolean' ? computed : null,
        difference: null,
        allowed: null,
        agrees: computed === published.value,
      };
    const allowed = 'within' in published ? published.within : 0;
    const difference = typeof computed === 'number' ? computed - published.value : null;
    return {
      name,
      published: published.value,
      computed: typeof computed === 'number' ? computed : null,
      difference,
      allowed,
      agrees: difference !== null && Math.abs(difference) <= allowed,
    };
  });
}
