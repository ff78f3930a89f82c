/**
 * The model language: numbers, symbols, + - * / ^, unary minus, parentheses, pi and a fixed list of functions.
 * `^` binds tighter than unary minus and associates to the right, as in written mathematics: -x^2 is -(x^2).
 * Nothing else parses, so a model cannot reach anything outside its symbols.
 */

export const modelFunctions = {
  sqrt: 1,
  exp: 1,
  log: 1,
  log10: 1,
  sin: 1,
  cos: 1,
  tan: 1,
  asin: 1,
  acos: 1,
  atan: 1,
  atan2: 2,
  sinh: 1,
  cosh: 1,
  tanh: 1,
  abs: 1,
  min: 'many',
  max: 'many',
} as const;

export type ModelFunction = keyof typeof modelFunctions;
export type BinaryOperator = '+' | '-' | '*' | '/' | '^';

export type ModelNode =
  | { type: 'number'; value: number; text: string }
  | { type: 'symbol'; name: string; start: number }
  | { type: 'negate'; operand: ModelNode }
  | { type: 'binary'; operator: BinaryOperator; left: ModelNode; right: ModelNode }
  | { type: 'call'; name: ModelFunction; args: ModelNode[] }
  | { type: 'apply'; name: string; args: ModelNode[]; start: number };

/** What a text may hold beside the model language itself. */
export type LanguageExtensions = {
  /** Names may have parts: `instrument.resolution`, `at.p1.E`. */
  dotted?: boolean;
  /** Calls by any other name are kept as `apply`, for whoever knows the function. */
  functions?: boolean;
};

/** A fault in a model's text, with the place where it stands (character offsets, end exclusive). */
export class ModelSyntaxError extends Error {
  constructor(
    message: string,
    readonly start: number,
    readonly end: number,
  ) {
    super(message);
    this.name = 'ModelSyntaxError';
  }
}

export const maximumModelLength = 20_000;

/** Operators a model may have: a sum of this many terms is still walked from term to term without running out of stack. */
export const maximumModelOperators = 4000;
export const maximumModelDepth = 200;

type Token = { kind: 'number' | 'name' | 'operator' | 'end'; text: string; start: number; end: number };

const numberPattern = /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y;
const namePattern = /[\p{L}_][\p{L}\p{N}_]*/uy;
const spacePattern = /\s*/y;

const dottedPattern = /[\p{L}_][\p{L}\p{N}_]*(?:\.[\p{L}\p{N}_]+)*/uy;

function tokenize(text: string, { dotted = false }: LanguageExtensions): Token[] {
  const tokens: Token[] = [];
  let at = 0;
  const match = (pattern: RegExp): string | null => {
    pattern.lastIndex = at;
    return pattern.exec(text)?.[0] ?? null;
  };
  for (;;) {
    at += match(spacePattern)!.length;
    if (at >= text.length) break;
    const start = at;
    const number = match(numberPattern);
    const name = number === null ? match(dotted ? dottedPattern : namePattern) : null;
    const found = number ?? name ?? ('+-*/^(),'.includes(text[at]!) ? text[at]! : null);
    if (found === null) throw new ModelSyntaxError(`"${text[at]}" is not part of the model language.`, at, at + 1);
    at += found.length;
    tokens.push({ kind: number !== null ? 'number' : name !== null ? 'name' : 'operator', text: found, start, end: at });
  }
  tokens.push({ kind: 'end', text: '', start: text.length, end: text.length });
  return tokens;
}

const bindingPower: Record<string, number> = { '+': 1, '-': 1, '*': 2, '/': 2, '^': 4 };
const unaryPower = 3;

/**
 * Parses a model into its tree.
 * @throws ModelSyntaxError with the place of the fault
 * @example parseModel('a + b').type // 'binary'
 */
export function parseModel(text: string, extensions: LanguageExtensions = {}): ModelNode {
  if (text.length > maximumModelLength)
    throw new ModelSyntaxError(
      `The model is longer than ${maximumModelLength} characters. Split it, or shorten the symbols.`,
      maximumModelLength,
      text.length,
    );
  const tokens = tokenize(text, extensions);
  let position = 0;
  let depth = 0;
  let operators = 0;
  const peek = () => tokens[position]!;
  const fault = (message: string, token = peek()): never => {
    throw new ModelSyntaxError(message, token.start, Math.max(token.end, token.start + 1));
  };
  const take = (expected: string, message: string): void => {
    if (peek().kind !== 'operator' || peek().text !== expected) fault(message);
    position++;
  };

  function expression(minimum: number): ModelNode {
    if (++depth > maximumModelDepth)
      fault(`The model nests deeper than ${maximumModelDepth} levels. Remove parentheses that are not needed.`);
    let left = operand();
    for (;;) {
      const token = peek();
      const power = token.kind === 'operator' ? bindingPower[token.text] : undefined;
      if (power === undefined || power < minimum) break;
      if (++operators > maximumModelOperators)
        fault(`The model has more than ${maximumModelOperators} operators. Split it into several budgets.`, token);
      position++;
      const right = expression(token.text === '^' ? unaryPower : power + 1);
      left = { type: 'binary', operator: token.text as BinaryOperator, left, right };
    }
    depth--;
    return left;
  }

  function operand(): ModelNode {
    const token = peek();
    position++;
    if (token.kind === 'number') {
      const value = Number(token.text);
      if (!Number.isFinite(value)) fault('That number is too large.', token);
      return { type: 'number', value, text: token.text };
    }
    if (token.kind === 'name') return name(token);
    if (token.text === '-') return { type: 'negate', operand: expression(unaryPower) };
    if (token.text === '(') {
      const inner = expression(0);
      take(')', 'A closing parenthesis is missing here.');
      return inner;
    }
    position--;
    return fault(
      token.kind === 'end' ? 'The model ends too early: something is missing here.' : `"${token.text}" cannot stand here.`,
    );
  }

  function name(token: Token): ModelNode {
    const isCall = peek().kind === 'operator' && peek().text === '(';
    if (!isCall) {
      if (token.text === 'pi') return { type: 'number', value: Math.PI, text: 'pi' };
      if (Object.hasOwn(modelFunctions, token.text)) fault(`${token.text} is a function: write ${token.text}(…).`, token);
      return { type: 'symbol', name: token.text, start: token.start };
    }
    const isOwn = Object.hasOwn(modelFunctions, token.text);
    if (!isOwn && !extensions.functions)
      fault(`"${token.text}" is not a function of the model language. For a product write ${token.text} * (…).`, token);
    position++;
    const args: ModelNode[] = [];
    if (!(peek().kind === 'operator' && peek().text === ')')) {
      args.push(expression(0));
      while (peek().kind === 'operator' && peek().text === ',') {
        position++;
        args.push(expression(0));
      }
    }
    take(')', 'A closing parenthesis is missing here.');
    if (!isOwn) return { type: 'apply', name: token.text, args, start: token.start };
    const functionName = token.text as ModelFunction;
    const arity = modelFunctions[functionName];
    if (arity === 'many' ? args.length < 1 : args.length !== arity)
      fault(
        `${functionName} takes ${arity === 'many' ? 'at least one value' : arity === 1 ? 'one value' : 'two values'}, not ${args.length}.`,
        token,
      );
    return { type: 'call', name: functionName, args };
  }

  const tree = expression(0);
  if (peek().kind !== 'end')
    fault(peek().text === ')' ? 'This closing parenthesis has no opening one.' : 'An operator is missing before this.');
  return tree;
}
