import * as z from 'zod';
import '../plain-issues';
import { caseSchema, instrumentSchema } from '../evaluate/case-schema';
import { evaluate } from '../evaluate/evaluate';
import type { Evaluation } from '../evaluate/evaluation';
import { Absent, DocumentError } from '../faults';
import { recomputeExamples } from '../document/example';
import { documentWarnings, type DocumentWarning } from '../document/document-warnings';
import { readDocument } from '../document/read-document';
import { planRun, type PlanItem } from '../plan/run-plan';
import { standardSchema } from '../standard/standard-schema';

/** The document itself is read by `readDocument`, which says more than a schema can. */
const procedure = z.looseObject({ format: z.literal('just-twice/procedure'), version: z.literal(2) });

/** The question `evaluate`. */
export const evaluateSchema = caseSchema.extend({ procedure });

/** The question `procedure`. */
export const procedureQuestionSchema = z.strictObject({
  procedure,
  instrument: instrumentSchema.prefault({}),
  standards: z.record(z.string(), z.union([standardSchema, z.array(standardSchema)])).default({}),
  choices: z.record(z.string(), z.string()).default({}),
});

/** A document's own faults are told inside the question. */
function within<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof DocumentError) throw new DocumentError(error.message, ['procedure', ...error.path]);
    throw error;
  }
}

export function answerEvaluate({ procedure: raw, ...given }: z.infer<typeof evaluateSchema>): Evaluation {
  return evaluate(
    within(() => readDocument(raw)),
    given,
  );
}

/** What a plan lacks is told as a fault of the question. */
function planned<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof Absent) throw new DocumentError(`${error.message} The plan depends on it.`, ['instrument']);
    throw error;
  }
}

export type ProcedureAnswer = {
  valid: true;
  plan: PlanItem[];
  waitingMinutes: number;
  handsOnMinutes: number;
  readings: number;
  example: { agrees: boolean; checked: number };
  /** What is not wrong but leaves something open, such as a unit that nobody names. */ warnings: DocumentWarning[];
};

export function answerProcedure({ procedure: raw, ...given }: z.infer<typeof procedureQuestionSchema>): ProcedureAnswer {
  const document = within(() => readDocument(raw));
  const lines = within(() => recomputeExamples(document)).flatMap((e) => e.lines);
  // Roles that the question does not fill are taken as they would be: the plan stays open where their items matter.
  const plan = planned(() => planRun(document, caseSchema.parse(given)));
  return {
    valid: true,
    ...plan,
    example: { agrees: lines.every((l) => l.agrees), checked: lines.length },
    warnings: documentWarnings(document),
  };
}
