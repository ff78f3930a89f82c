import { OutsideValidityError } from '../disciplines/discipline-function';
import { disciplineFunctions } from '../disciplines/registry';
import type { ProcedureDocument } from '../procedure/document-schema';
import type { Apply } from '../uncertainty/model-compile';
import { DocumentError } from '../faults';
import type { View } from './names/head';
import type { Scope, Setting } from './setting';
import { tableValue } from './tables';
import { useSlope } from './uses';

/** What is wrong with a call where it stands in a document, of a function with so many arguments; null where it is known. */
export function problemWithCall(doc: ProcedureDocument, view: View, name: string, args: number): string | null {
  const [head, column] = name.split('.');
  const known = disciplineFunctions.get(name);
  const table = doc.tables.find((t) => t.id === head);
  const isUse = view.series !== null && (Object.hasOwn(view.series.uses, name) || isRole(doc, name));
  if (!known && !table && !isUse)
    return `"${name}" is not a function: it is neither in the model language nor of a discipline, a table or a use here.`;
  if (table && column !== undefined && !table.columns?.includes(column)) return `The table ${head} has no column "${column}".`;
  const wanted = known ? known.parameters.length : 1;
  return args === wanted
    ? null
    : `${name} takes ${wanted === 1 ? 'one value' : `${wanted} values (${known!.parameters.map((p) => p.id).join(', ')})`}, not ${args}.`;
}

const isRole = (doc: ProcedureDocument, name: string): boolean => doc.standards.some((r) => r.role === name);

/** The functions a formula may call where it stands: of the disciplines, of the document's tables, and its uses. */
export const functionsOf =
  (s: Setting, scope: Scope): Apply =>
  (name, args) => {
    const known = disciplineFunctions.get(name);
    try {
      if (known) {
        if (args.length !== known.parameters.length)
          throw new DocumentError(
            `${name} takes ${known.parameters.map((p) => p.id).join(', ')}: ${known.parameters.length} values.`,
            scope.path,
          );
        return known.evaluate(args);
      }
    } catch (error) {
      if (error instanceof OutsideValidityError) throw new DocumentError(error.message, scope.path);
      throw error;
    }
    const [table, column] = name.split('.') as [string, string?];
    const declared = s.doc.tables.find((t) => t.id === table);
    if (declared) return tableValue(s, declared, column, args[0]!, scope);
    if (scope.series && (Object.hasOwn(scope.series.doc.uses, name) || isRole(s.doc, name)))
      return useSlope(s, name, args[0]!, scope);
    throw new DocumentError(`"${name}" is not a function, a table or a use here.`, scope.path);
  };
