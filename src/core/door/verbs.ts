import type { z, ZodType } from 'zod';
import { conformitySchema } from '../conformity/conformity-schema';
import { decideConformity } from '../conformity/decide';
import { globalRisk } from '../conformity/global-risk';
import { riskSchema } from '../conformity/risk-schema';
import { fitSchema } from '../curve/fit-schema';
import { fitResult } from '../curve/polynomial-fit';
import { montecarlo } from '../montecarlo/montecarlo';
import { montecarloSchema } from '../montecarlo/montecarlo-schema';
import { budgetSchema } from '../uncertainty/budget-schema';
import { propagate } from '../uncertainty/propagate';

/** A verb of the command-line door: its document and what answers it. */
export type Verb = { schema: ZodType; answer: (document: unknown) => unknown };

const verb = <T>(schema: ZodType<T>, answer: (document: T) => unknown): Verb => ({
  schema,
  answer: (document) => answer(document as T),
});

export const verbs: Record<string, Verb> = {
  budget: verb(budgetSchema, propagate),
  montecarlo: verb(montecarloSchema, (question) => montecarlo(question)),
  conformity: verb(conformitySchema, decideConformity),
  risk: verb(riskSchema, globalRisk),
  fit: verb(fitSchema, fitResult),
};

/** What the door refuses: said on standard error, with exit code 2. */
export type DoorError = { error: { message: string; path: (string | number)[] } };

export type DoorAnswer = { ok: true; document: unknown } | { ok: false; refusal: DoorError };

const refuse = (message: string, path: (string | number)[] = []): DoorAnswer => ({
  ok: false,
  refusal: { error: { message, path } },
});

/** The deepest issue of a union says most: "quantities, 2, distribution, halfWidth" beats "invalid input". */
function deepest(issues: readonly z.core.$ZodIssue[], at: PropertyKey[] = []): { message: string; path: PropertyKey[] } {
  const candidates = issues.flatMap((issue): { message: string; path: PropertyKey[] }[] => {
    const path = [...at, ...issue.path];
    if (issue.code !== 'invalid_union' || issue.errors.length === 0) return [{ message: issue.message, path }];
    return [deepest(issue.errors.map((branch) => branch).sort((a, b) => unknownKeys(a) - unknownKeys(b))[0]!, path)];
  });
  return candidates.reduce((best, c) => (c.path.length > best.path.length ? c : best));
}

/** The branch of a union that was meant has the fewest missing and unknown members. */
const unknownKeys = (issues: readonly z.core.$ZodIssue[]): number =>
  issues.reduce((n, i) => n + (i.code === 'unrecognized_keys' ? i.keys.length : i.code === 'invalid_type' ? 1 : 0), 0);

/** Every number of an answer is finite, or the answer is not given. */
function firstInfinite(value: unknown, path: (string | number)[] = []): (string | number)[] | null {
  if (typeof value === 'number') return Number.isFinite(value) ? null : path;
  if (value === null || typeof value !== 'object') return null;
  for (const [key, inner] of Object.entries(value)) {
    const found = firstInfinite(inner, [...path, key]);
    if (found) return found;
  }
  return null;
}

/** Answers one document: never throws for what a person can get wrong. */
export async function answerVerb(name: string | undefined, text: string): Promise<DoorAnswer> {
  const chosen = name !== undefined && Object.hasOwn(verbs, name) ? verbs[name]! : null;
  if (!chosen) return refuse(`${name ? `"${name}" is not a verb` : 'Say what to do'}: ${Object.keys(verbs).join(', ')}.`);
  let document: unknown;
  try {
    document = JSON.parse(text);
  } catch {
    return refuse('The input is not JSON.');
  }
  const parsed = chosen.schema.safeParse(document);
  if (!parsed.success) {
    const { message, path } = deepest(parsed.error.issues);
    return refuse(
      message,
      path.map((p) => (typeof p === 'number' ? p : String(p))),
    );
  }
  try {
    const result = await chosen.answer(parsed.data);
    const infinite = firstInfinite(result);
    return infinite
      ? refuse(`The result is too large for a number (${infinite.join('.')}): check the units of the input.`)
      : { ok: true, document: result };
  } catch (error) {
    // Errors that carry a path are about the input; anything else is a fault of ours and is shown as such by the caller.
    if (error instanceof Error && 'path' in error && Array.isArray(error.path))
      return refuse(error.message, error.path as (string | number)[]);
    throw error;
  }
}
