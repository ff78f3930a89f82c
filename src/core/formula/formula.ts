import { compileTree, type Apply, type CompiledModel } from '../uncertainty/model-compile';
import { ModelSyntaxError, parseModel, type ModelNode } from '../uncertainty/model-syntax';

/** A formula of a procedure document: the model language with dotted names and functions of others. */
export type Formula = CompiledModel & { text: string };

const known = new Map<string, Formula>();
const trees = new Map<string, ModelNode>();

function treeOf(text: string): ModelNode {
  let tree = trees.get(text);
  if (!tree) {
    tree = parseModel(text, { dotted: true, functions: true });
    if (trees.size >= 4096) trees.clear();
    trees.set(text, tree);
  }
  return tree;
}

/**
 * Compiles a formula, remembering recent ones.
 * @throws ModelSyntaxError with the place of the fault
 * @example formula('instrument.resolution / sqrt(12)').symbols // ['instrument.resolution']
 */
export function formula(text: string): Formula {
  let compiled = known.get(text);
  if (!compiled) {
    compiled = { ...compileTree(treeOf(text), new Map()), text };
    if (known.size >= 4096) known.clear();
    known.set(text, compiled);
  }
  return compiled;
}

const models = new Map<string, Formula>();

/**
 * A model with its abbreviations put in as they stand; each may use those before it.
 * @throws ModelSyntaxError with the place of the fault
 */
export function modelWith(text: string, where: readonly { symbol: string; is: string }[]): Formula {
  const key = JSON.stringify([text, where.map((w) => [w.symbol, w.is])]);
  let compiled = models.get(key);
  if (!compiled) {
    const abbreviations = new Map(where.map((w) => [w.symbol, treeOf(w.is)]));
    compiled = { ...compileTree(treeOf(text), abbreviations), text };
    if (models.size >= 1024) models.clear();
    models.set(key, compiled);
  }
  return compiled;
}

/** The number a formula gives. @param valueOf the value of a name @param apply the functions beyond the model language */
export function formulaValue(of: Formula, valueOf: (name: string) => number, apply: Apply): number {
  return of.evaluate(of.symbols.map(valueOf), apply).value;
}

export { ModelSyntaxError };
