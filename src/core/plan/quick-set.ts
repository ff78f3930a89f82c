import type { ProcedureDocument } from '../procedure/document-schema';

/** The part of a document that a quick check does, as text: what is not named there is not needed. */
const quickText = (document: ProcedureDocument): string =>
  JSON.stringify([
    ...document.series.filter((s) => s.sets.includes('quick')),
    ...document.steps.filter((s) => s.sets?.includes('quick')),
  ]);

/** Whether a document has a quick set. @example hasQuickSet(document) // false */
export const hasQuickSet = (document: ProcedureDocument): boolean => document.series.some((s) => s.sets.includes('quick'));

/** Roles that the quick set names: nothing else has to lie on the bench for it. @example quickRoles(document).size // 0 */
export function quickRoles(document: ProcedureDocument): Set<string> {
  const text = quickText(document);
  const roles = document.standards.map((s) => s.role);
  return new Set(roles.filter((role) => new RegExp(`"${role}"|\\b${role}\\.`).test(text)));
}

/** Conditions that the quick set reckons with. */
export function quickConditions(document: ProcedureDocument): Set<string> {
  const text = quickText(document);
  const ids = document.conditions.map((c) => c.id);
  return new Set(ids.filter((id) => new RegExp(`\\bcondition\\.${id}\\b`).test(text)));
}
