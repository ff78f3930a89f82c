import type { z } from 'zod';
import '../plain-issues';
import { DocumentError } from '../faults';
import { checkDocument } from './check-document';
import { documentSchema, type ProcedureDocument } from '../procedure/document-schema';
import { statementSchema } from '../procedure/schema/tolerances';
import { withoutLikes } from '../procedure/likes';
import { withTitles } from '../procedure/titles';

/**
 * The issue that says most: in a union, that of the branch that was meant.
 * @example deepestIssue([{ code: 'custom', message: 'Name it.', path: ['name'], input: '' }]) // { message: 'Name it.', path: ['name'] }
 */
export function deepestIssue(
  issues: readonly z.core.$ZodIssue[],
  at: PropertyKey[] = [],
): { message: string; path: (string | number)[] } {
  const found = issues.flatMap((issue): { message: string; path: PropertyKey[] }[] => {
    const path = [...at, ...issue.path];
    if (issue.code === 'invalid_union' && issue.errors.length)
      return [deepestIssue([...issue.errors].sort((a, b) => misfits(a) - misfits(b))[0]!, path)];
    if (issue.code === 'unrecognized_keys')
      return [{ message: `"${issue.keys[0]}" is not a member that stands here.`, path: [...path, issue.keys[0]!] }];
    return [{ message: issue.message, path }];
  });
  const best = found.reduce((a, b) => (b.path.length > a.path.length ? b : a));
  return { message: best.message, path: best.path.map((p) => (typeof p === 'number' ? p : String(p))) };
}

/** The branch that was meant has the fewest missing and unknown members. */
const misfits = (issues: readonly z.core.$ZodIssue[]): number =>
  issues.reduce((n, i) => n + (i.code === 'unrecognized_keys' ? i.keys.length : i.code === 'invalid_type' ? 1 : 0), 0);

type Fault = ReturnType<typeof deepestIssue>;

/** A statement with a fault in a term is taken for limits that have no terms: then what is wrong is inside the statement. */
function faultOfStatement(raw: unknown, fault: Fault): Fault {
  const at = fault.path.slice(0, -1);
  if (fault.path.at(-1) !== 'terms') return fault;
  const statement = at.reduce((value: unknown, key) => (value as Record<string | number, unknown> | undefined)?.[key], raw);
  const parsed = statementSchema.safeParse(statement);
  return parsed.success ? fault : deepestIssue(parsed.error.issues, at);
}

const readOnce = new WeakMap<object, ProcedureDocument>();

/**
 * Reads a procedure document: copies put in place, shape checked, every name resolved.
 * @throws DocumentError with the path of the first fault, inside the document
 * @example readDocument(JSON.parse(JSON.stringify(document))).id // 'outside-micrometer'
 */
export function readDocument(raw: unknown): ProcedureDocument {
  const known = typeof raw === 'object' && raw !== null ? readOnce.get(raw) : undefined;
  if (known) return known;
  const whole = withTitles(withoutLikes(raw));
  const parsed = documentSchema.safeParse(whole);
  if (!parsed.success) {
    const { message, path } = faultOfStatement(whole, deepestIssue(parsed.error.issues));
    throw new DocumentError(message, path);
  }
  checkDocument(parsed.data);
  if (typeof raw === 'object' && raw !== null) readOnce.set(raw, parsed.data);
  return parsed.data;
}
