import { budgetSchema, type Budget } from '../../core/uncertainty/budget-schema';
import { BudgetError } from '../../core/uncertainty/budget-error';
import { propagate, type BudgetResult } from '../../core/uncertainty/propagate';
import { doubtfulComma, draftDocument, type BudgetDraft } from '../../core/uncertainty/budget-draft';

export type EvaluatedDraft = {
  budget: Budget | null;
  result: BudgetResult | null;
  fault: { message: string; path: (string | number)[] } | null;
};

/** What a budget as it is typed gives, or what is wrong with it and where. */
export function evaluateDraft(draft: BudgetDraft): EvaluatedDraft {
  const document = draftDocument(draft);
  const parsed = budgetSchema.safeParse(document);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    const typed = issue.path.reduce<unknown>((at, key) => (at as Record<PropertyKey, unknown> | undefined)?.[key], document);
    const message =
      (typeof typed === 'string' && doubtfulComma(typed)) ||
      (issue.code === 'invalid_type' && issue.path.includes('distribution')
        ? 'A number is missing or cannot be read here.'
        : issue.message);
    return {
      budget: null,
      result: null,
      fault: { message, path: issue.path.map((p) => (typeof p === 'number' ? p : String(p))) },
    };
  }
  try {
    return { budget: parsed.data, result: propagate(parsed.data), fault: null };
  } catch (error) {
    if (error instanceof BudgetError)
      return { budget: parsed.data, result: null, fault: { message: error.message, path: error.path } };
    throw error;
  }
}
