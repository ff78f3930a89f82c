import type { ZodType } from 'zod';
import '../plain-issues';
import { conformitySchema } from '../conformity/conformity-schema';
import { decideConformity } from '../conformity/decide';
import { globalRisk } from '../conformity/global-risk';
import { riskSchema } from '../conformity/risk-schema';
import { fitSchema } from '../curve/fit-schema';
import { fitResult } from '../curve/polynomial-fit';
import { montecarlo } from '../montecarlo/montecarlo';
import { montecarloSchema } from '../montecarlo/montecarlo-schema';
import { deepestIssue } from '../document/read-document';
import { connect } from '../connect/connect';
import { connectSchema } from '../connect/connect-schema';
import { planDay } from '../day/day';
import { daySchema } from '../day/day-schema';
import { diagnoseErrors } from '../diagnose/diagnose';
import { diagnoseSchema } from '../diagnose/diagnose-schema';
import { answerInterval } from '../interval/answer-interval';
import { intervalSchema } from '../interval/interval-schema';
import { settle } from '../settle/settle';
import { settleSchema } from '../settle/settle-schema';
import { budgetSchema } from '../uncertainty/budget-schema';
import { propagate } from '../uncertainty/propagate';
import { answerEvaluate, answerProcedure, evaluateSchema, procedureQuestionSchema } from './procedure-verbs';

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
  procedure: verb(procedureQuestionSchema, answerProcedure),
  evaluate: verb(evaluateSchema, answerEvaluate),
  settle: verb(settleSchema, settle),
  connect: verb(connectSchema, connect),
  interval: verb(intervalSchema, answerInterval),
  diagnose: verb(diagnoseSchema, diagnoseErrors),
  day: verb(daySchema, planDay),
};

/** Whether the door knows this verb. @example isVerb('budget') // true */
export const isVerb = (name: string): boolean => Object.hasOwn(verbs, name);

/** What the door refuses: said on standard error, with exit code 2. */
export type DoorError = { error: { message: string; path: (string | number)[] } };

export type DoorAnswer = { ok: true; document: unknown } | { ok: false; refusal: DoorError };

const refuse = (message: string, path: (string | number)[] = []): DoorAnswer => ({
  ok: false,
  refusal: { error: { message, path } },
});

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

/** Answers one document: never throws for what a person can get wrong. @example answerVerb('none', '{}') // { ok: false } */
export async function answerVerb(name: string | undefined, text: string): Promise<DoorAnswer> {
  const chosen = name !== undefined && isVerb(name) ? verbs[name]! : null;
  if (!chosen) return refuse(`${name ? `"${name}" is not a verb` : 'Say what to do'}: ${Object.keys(verbs).join(', ')}.`);
  let document: unknown;
  try {
    document = JSON.parse(text);
  } catch {
    return refuse('The input is not JSON.');
  }
  const parsed = chosen.schema.safeParse(document);
  if (!parsed.success) {
    const { message, path } = deepestIssue(parsed.error.issues);
    return refuse(message, path);
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
