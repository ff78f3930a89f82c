import { parseModel, type ModelFunction, type ModelNode } from './model-syntax';

/**
 * A model as a tape of elementary steps. Values run forward along it; derivatives run backward (reverse-mode
 * differentiation), so sensitivities are exact and cost about as much as the value.
 */
export type CompiledModel = {
  tree: ModelNode;
  /** Symbols in order of first appearance; `evaluate` takes their values in this order. */
  symbols: string[];
  symbolStarts: number[];
  /** Names of functions beyond the model language, each once. */
  applied: string[];
  evaluate(values: ArrayLike<number>, apply?: Apply): ModelEvaluation;
};

export type ModelEvaluation = {
  value: number;
  /** Partial derivatives at the point, in the order of `symbols`. */
  gradient: number[];
  /** What the derivative cannot tell at this point, in plain words (a kink of abs, min or max). */
  kinks: string[];
};

type Step =
  | { op: 'constant'; value: number }
  | { op: 'symbol'; index: number }
  | { op: 'negate'; a: number }
  | { op: '+' | '-' | '*' | '/'; a: number; b: number }
  | { op: '^'; a: number; b: number; exponentVaries: boolean }
  | { op: 'atan2'; a: number; b: number }
  | { op: 'min' | 'max'; args: number[] }
  | { op: 'apply'; name: string; args: number[] }
  | { op: Exclude<ModelFunction, 'atan2' | 'min' | 'max'>; a: number };

/** A function beyond the model language at its arguments: its value, and its partial derivative for each. */
export type Applied = { value: number; partials: readonly number[] };
export type Apply = (name: string, args: number[]) => Applied;

const noFunctions: Apply = (name) => {
  throw new Error(`Nobody offers the function ${name}.`);
};

const log10e = Math.LOG10E;

/**
 * Parses and compiles a model.
 * @throws ModelSyntaxError with the place of the fault
 */
export function compileModel(text: string): CompiledModel {
  return compileTree(parseModel(text), new Map());
}

/**
 * Compiles a checked tree.
 * @param abbreviations trees that stand for a symbol; each is worked once, however often it is named
 * @example compileTree(modelWith('2 * a', []).tree, new Map()).symbols // ['a']
 */
export function compileTree(tree: ModelNode, abbreviations: ReadonlyMap<string, ModelNode>): CompiledModel {
  const symbols = new Map<string, number>();
  const symbolStarts: number[] = [];
  const tape: Step[] = [];
  const varies: boolean[] = [];

  const push = (step: Step, doesVary: boolean): number => {
    tape.push(step);
    varies.push(doesVary);
    return tape.length - 1;
  };
  const symbolSteps = new Map<string, number>();
  const applied = new Set<string>();

  function visit(node: ModelNode): number {
    switch (node.type) {
      case 'number':
        return push({ op: 'constant', value: node.value }, false);
      case 'symbol': {
        const known = symbolSteps.get(node.name);
        if (known !== undefined) return known;
        const meant = abbreviations.get(node.name);
        if (meant) {
          const step = visit(meant);
          symbolSteps.set(node.name, step);
          return step;
        }
        symbolStarts.push(node.start);
        const index = symbols.size;
        symbols.set(node.name, index);
        const step = push({ op: 'symbol', index }, true);
        symbolSteps.set(node.name, step);
        return step;
      }
      case 'negate': {
        const a = visit(node.operand);
        return push({ op: 'negate', a }, varies[a]!);
      }
      case 'binary': {
        const a = visit(node.left);
        const b = visit(node.right);
        const doesVary = varies[a]! || varies[b]!;
        return node.operator === '^'
          ? push({ op: '^', a, b, exponentVaries: varies[b]! }, doesVary)
          : push({ op: node.operator, a, b }, doesVary);
      }
      case 'apply': {
        const args = node.args.map(visit);
        applied.add(node.name);
        return push(
          { op: 'apply', name: node.name, args },
          args.some((arg) => varies[arg]),
        );
      }
      case 'call': {
        const args = node.args.map(visit);
        const doesVary = args.some((arg) => varies[arg]);
        if (node.name === 'min' || node.name === 'max') return push({ op: node.name, args }, doesVary);
        if (node.name === 'atan2') return push({ op: 'atan2', a: args[0]!, b: args[1]! }, doesVary);
        return push({ op: node.name, a: args[0]! }, doesVary);
      }
    }
  }
  visit(tree);

  const value = new Float64Array(tape.length);
  const adjoint = new Float64Array(tape.length);

  function evaluate(inputs: ArrayLike<number>, apply: Apply = noFunctions): ModelEvaluation {
    const partials: (readonly number[] | undefined)[] = [];
    for (let i = 0; i < tape.length; i++) {
      const step = tape[i]!;
      if (step.op === 'apply') {
        const result = apply(
          step.name,
          step.args.map((arg) => value[arg]!),
        );
        value[i] = result.value;
        partials[i] = result.partials;
      } else value[i] = forward(step, value, inputs);
    }
    adjoint.fill(0);
    adjoint[tape.length - 1] = 1;
    const gradient = new Array<number>(symbols.size).fill(0);
    const kinks: string[] = [];
    for (let i = tape.length - 1; i >= 0; i--) {
      const slope = adjoint[i]!;
      if (slope === 0 || !varies[i]) continue;
      const step = tape[i]!;
      if (step.op === 'symbol') gradient[step.index]! += slope;
      else if (step.op === 'apply') step.args.forEach((arg, a) => (adjoint[arg]! += slope * partials[i]![a]!));
      else backward(step, value[i]!, slope, value, adjoint, kinks);
    }
    return { value: value[tape.length - 1]!, gradient, kinks };
  }

  return { tree, symbols: [...symbols.keys()], symbolStarts, applied: [...applied], evaluate };
}

const compiled = new Map<string, CompiledModel>();

/** As `compileModel`, remembering recent models: a run evaluates the same few for every point. */
export function compileModelOnce(text: string): CompiledModel {
  const known = compiled.get(text);
  if (known) return known;
  const model = compileModel(text);
  if (compiled.size >= 256) compiled.clear();
  compiled.set(text, model);
  return model;
}

type Elementary = Exclude<Step, { op: 'apply' }>;

function forward(step: Elementary, value: Float64Array, inputs: ArrayLike<number>): number {
  switch (step.op) {
    case 'constant':
      return step.value;
    case 'symbol':
      return inputs[step.index]!;
    case 'negate':
      return -value[step.a]!;
    case '+':
      return value[step.a]! + value[step.b]!;
    case '-':
      return value[step.a]! - value[step.b]!;
    case '*':
      return value[step.a]! * value[step.b]!;
    case '/':
      return value[step.a]! / value[step.b]!;
    case '^':
      return Math.pow(value[step.a]!, value[step.b]!);
    case 'atan2':
      return Math.atan2(value[step.a]!, value[step.b]!);
    case 'min':
    case 'max': {
      const choose = step.op === 'min' ? Math.min : Math.max;
      return step.args.map((arg) => value[arg]!).reduce((a, b) => choose(a, b));
    }
    default:
      return Math[step.op](value[step.a]!);
  }
}

function backward(
  step: Elementary,
  result: number,
  slope: number,
  value: Float64Array,
  adjoint: Float64Array,
  kinks: string[],
): void {
  const add = (target: number, amount: number) => {
    adjoint[target]! += amount;
  };
  switch (step.op) {
    case 'constant':
    case 'symbol':
      return;
    case 'negate':
      return add(step.a, -slope);
    case '+':
      add(step.a, slope);
      return add(step.b, slope);
    case '-':
      add(step.a, slope);
      return add(step.b, -slope);
    case '*': {
      const [a, b] = [value[step.a]!, value[step.b]!];
      add(step.a, slope * b);
      return add(step.b, slope * a);
    }
    case '/': {
      const b = value[step.b]!;
      add(step.a, slope / b);
      return add(step.b, (-slope * result) / b);
    }
    case '^': {
      const [base, exponent] = [value[step.a]!, value[step.b]!];
      if (exponent !== 0) add(step.a, slope * exponent * Math.pow(base, exponent - 1));
      // x^y with constant y must not ask for log x: x may be zero or negative.
      if (step.exponentVaries) add(step.b, base === 0 && exponent > 0 ? 0 : slope * result * Math.log(base));
      return;
    }
    case 'atan2': {
      const [y, x] = [value[step.a]!, value[step.b]!];
      const square = x * x + y * y;
      add(step.a, (slope * x) / square);
      return add(step.b, (-slope * y) / square);
    }
    case 'min':
    case 'max': {
      const chosen = step.args.filter((arg) => value[arg] === result);
      if (new Set(chosen).size > 1)
        kinks.push(`${step.op}(…) has equal arguments at the estimate: its sensitivity is that of the first of them.`);
      return add(chosen[0]!, slope);
    }
    case 'abs':
      if (value[step.a] === 0) kinks.push('abs(…) has its kink at the estimate: its sensitivity is taken as 1.');
      return add(step.a, value[step.a]! < 0 ? -slope : slope);
    default:
      return add(step.a, slope * derivative(step.op, value[step.a]!, result));
  }
}

function derivative(name: Exclude<ModelFunction, 'atan2' | 'min' | 'max' | 'abs'>, x: number, result: number): number {
  switch (name) {
    case 'sqrt':
      return 0.5 / result;
    case 'exp':
      return result;
    case 'log':
      return 1 / x;
    case 'log10':
      return log10e / x;
    case 'sin':
      return Math.cos(x);
    case 'cos':
      return -Math.sin(x);
    case 'tan':
      return 1 + result * result;
    case 'asin':
      return 1 / Math.sqrt(1 - x * x);
    case 'acos':
      return -1 / Math.sqrt(1 - x * x);
    case 'atan':
      return 1 / (1 + x * x);
    case 'sinh':
      return Math.cosh(x);
    case 'cosh':
      return Math.sinh(x);
    case 'tanh':
      return 1 - result * result;
  }
}
