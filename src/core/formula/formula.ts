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
 * @example modelWith('a + b', [{ symbol: 'b', is: '2 * c' }]).symbols // ['a', 'c']
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

/**
 * The number a formula gives. @param valueOf the value of a name @param apply the functions beyond the model language
 * @example formulaValue(modelWith('2 * a', []), () => 4, () => ({ value: 0, partials: [] })) // 8
 */
export function formulaValue(of: Formula, valueOf: (name: string) => number, apply: Apply): number {
  return of.evaluate(of.symbols.map(valueOf), apply).value;
}

/** Every part of a tree, from the outside in. */
function* partsOf(node: ModelNode): Generator<ModelNode> {
  yield node;
  if (node.type === 'negate') yield* partsOf(node.operand);
  else if (node.type === 'binary') {
    yield* partsOf(node.left);
    yield* partsOf(node.right);
  } else if (node.type === 'call' || node.type === 'apply') for (const arg of node.args) yield* partsOf(arg);
}

/** The calls of functions beyond the model language. @example callsIn(modelWith('2 * a', []).tree) // [] */
export const callsIn = (tree: ModelNode): { name: string; start: number; args: number }[] =>
  [...partsOf(tree)].flatMap((n) => (n.type === 'apply' ? [{ name: n.name, start: n.start, args: n.args.length }] : []));

/** The names of a formula, functions included, each once. @example namesOf('2 * a.b + mpe(c)') // ['a.b', 'mpe', 'c'] */
export const namesOf = (text: string): string[] => [
  ...new Set([...partsOf(treeOf(text))].flatMap((n) => (n.type === 'symbol' || n.type === 'apply' ? [n.name] : []))),
];

/** The name that a formula is, where it is nothing else. @example soleName('block.value') // 'block.value' @example soleName('2 * a') // null */
export function soleName(text: string): string | null {
  const tree = treeOf(text);
  return tree.type === 'symbol' ? tree.name : null;
}

/** A formula with its names written otherwise; those of functions come as calls. @example withNames('a.b - c', (n) => `<${n}>`) // '<a.b> - <c>' */
export function withNames(text: string, write: (name: string, isCall: boolean) => string): string {
  const names = [...partsOf(treeOf(text))].flatMap((n) => (n.type === 'symbol' || n.type === 'apply' ? [n] : []));
  return names
    .sort((a, b) => b.start - a.start)
    .reduce(
      (written, { name, start, type }) =>
        written.slice(0, start) + write(name, type === 'apply') + written.slice(start + name.length),
      text,
    );
}

/** Members of a document that hold a formula where they hold a text, or texts. */
const formulaKeys = new Set(['is', 'positive', 'model', 'near', 'x', 'y', 'basis', 'item', 'stack', 'at', 'where']);
const textsIn = (value: unknown): string[] =>
  typeof value === 'string' ? [value] : Array.isArray(value) ? value.filter((v) => typeof v === 'string') : [];

/**
 * The formulas in a part of a document, however deep; those of its worked examples are not its own.
 * @example formulasIn({ limit: { is: 'a + 1' } }) // ['a + 1']
 */
export function formulasIn(part: unknown): string[] {
  if (typeof part !== 'object' || part === null) return [];
  // The `is` of a condition is an option.
  const { choice, step } = part as { choice?: unknown; step?: unknown };
  const isChoice = typeof choice === 'string' || typeof step === 'string';
  return Object.entries(part).flatMap(([key, value]): string[] => {
    if (key === 'example' || (isChoice && key === 'is')) return [];
    const own = formulaKeys.has(key) ? textsIn(value) : [];
    if (key === 'where' && typeof value === 'object' && value !== null && !Array.isArray(value))
      return textsIn(Object.values(value));
    return [...own, ...formulasIn(value)];
  });
}

export { ModelSyntaxError };
