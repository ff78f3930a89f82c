import { caseSchema } from '../evaluate/case-schema';
import { evaluate } from '../evaluate/evaluate';
import { DocumentError } from '../faults';
import type { ProcedureDocument } from '../procedure/document-schema';
import { deepestIssue } from './read-document';

export type ExampleLine = { path: string; expected: unknown; found: unknown; within: number | null; agrees: boolean };
export type ExampleOutcome = { source: string; lines: ExampleLine[] };

/** What stands at a path such as `series.0.points.2.results.E.estimate`. */
function at(value: unknown, path: string): unknown {
  return path
    .split('.')
    .reduce<unknown>(
      (inner, key) => (inner === null || typeof inner !== 'object' ? undefined : (inner as Record<string, unknown>)[key]),
      value,
    );
}

/**
 * Recomputes the worked examples of a procedure. @throws DocumentError when an example's input cannot be accepted
 * @example recomputeExamples(document).length // 1
 */
export function recomputeExamples(document: ProcedureDocument): ExampleOutcome[] {
  const examples = document.example === undefined ? [] : Array.isArray(document.example) ? document.example : [document.example];
  return examples.map(({ source, input, expect }, i) => {
    const parsed = caseSchema.safeParse(input);
    const place = Array.isArray(document.example) ? ['example', i, 'input'] : ['example', 'input'];
    if (!parsed.success) {
      const { message, path } = deepestIssue(parsed.error.issues);
      throw new DocumentError(message, [...place, ...path]);
    }
    const result = evaluate(document, parsed.data);
    const lines = expect.map(({ path, value, within }): ExampleLine => {
      const found = at(result, path);
      const agrees =
        typeof value === 'number'
          ? typeof found === 'number' && Math.abs(found - value) <= (within ?? 1e-9 * Math.max(1, Math.abs(value)))
          : found === value || (value === null && found === undefined);
      return { path, expected: value, found: found ?? null, within: within ?? null, agrees };
    });
    return { source, lines };
  });
}
