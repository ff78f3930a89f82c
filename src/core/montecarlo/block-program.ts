import { BudgetError } from '../uncertainty/budget-error';
import type { Budget } from '../uncertainty/budget-schema';
import { correlationMatrix } from '../uncertainty/correlation';
import { summarizeDistribution } from '../uncertainty/distribution';
import type { ModelNode } from '../uncertainty/model-syntax';
import { prepareBudget } from '../uncertainty/propagate';
import { RandomStream } from './random-stream';
import { samplerFor } from './samplers';

/** Trials in a block: the batch of the adaptive procedure (JCGM 101, 7.9.4), and small enough to stay in the cache. */
export const blockSize = 10_000;

/** Trials drawn at a time, so that all columns of a model stay in the nearest cache. */
const stripSize = 1000;

/** Draws one block of model values; the same block of the same seed is the same everywhere. */
export type BlockProgram = (seed: number, block: number, out: Float64Array) => void;

/** A model's tree as a JavaScript expression over columns. Built from the checked tree only, never from the text. */
function expression(node: ModelNode, column: (symbol: string) => string): string {
  const inner = (n: ModelNode) => expression(n, column);
  switch (node.type) {
    case 'number':
      return `(${node.value})`;
    case 'symbol':
      return column(node.name);
    case 'negate':
      return `(-${inner(node.operand)})`;
    case 'apply':
      throw new Error('A budget holds no functions beyond the model language.');
    case 'call':
      return `Math.${node.name}(${node.args.map(inner).join(',')})`;
    case 'binary': {
      if (node.operator !== '^') return `(${inner(node.left)}${node.operator}${inner(node.right)})`;
      // A small whole power of a symbol is cheaper as a product.
      if (node.left.type === 'symbol' && node.right.type === 'number' && (node.right.value === 2 || node.right.value === 3))
        return `(${Array(node.right.value).fill(inner(node.left)).join('*')})`;
      return `Math.pow(${inner(node.left)},${inner(node.right)})`;
    }
  }
}

/** Lower triangle L with L·Lᵀ = matrix; rows of a semi-definite matrix that add nothing become zero. */
function cholesky(matrix: number[][]): number[][] {
  const lower = matrix.map((row) => row.map(() => 0));
  for (let i = 0; i < matrix.length; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i]![j]!;
      for (let k = 0; k < j; k++) sum -= lower[i]![k]! * lower[j]![k]!;
      if (i === j) lower[i]![i] = Math.sqrt(Math.max(0, sum));
      else lower[i]![j] = lower[j]![j]! > 1e-9 ? sum / lower[j]![j]! : 0;
    }
  return lower;
}

type Mixing = (columns: Float64Array[]) => void;

/** Turns independent standard columns of the correlated inputs into jointly normal ones; null when nothing is correlated. */
function mixing(budget: Budget): { indices: number[]; mix: Mixing } | null {
  const matrix = correlationMatrix(budget);
  if (!matrix) return null;
  budget.correlations!.forEach(({ between, coefficient }, c) => {
    if (coefficient === 0) return;
    between.forEach((symbol, side) => {
      const q = budget.quantities.find((x) => x.symbol === symbol)!.distribution;
      if (q.type !== 'normal' || q.dof !== undefined)
        throw new BudgetError(
          `"${symbol}" is not normal with infinitely many degrees of freedom: only such inputs are sampled jointly. Leave the correlation out, or restate the input.`,
          ['correlations', c, 'between', side],
        );
    });
  });
  const indices = budget.quantities.flatMap((_, i) => (matrix[i]!.some((r, j) => i !== j && r !== 0) ? [i] : []));
  const lower = cholesky(indices.map((i) => indices.map((j) => matrix[i]![j]!)));
  const inputs = indices.map((i) => summarizeDistribution(budget.quantities[i]!.distribution));
  const mix: Mixing = (columns) => {
    const size = columns[indices[0]!]!.length;
    const z = new Float64Array(indices.length);
    for (let t = 0; t < size; t++) {
      indices.forEach((i, a) => (z[a] = columns[i]![t]!));
      for (let a = 0; a < indices.length; a++) {
        let sum = 0;
        for (let b = 0; b <= a; b++) sum += lower[a]![b]! * z[b]!;
        columns[indices[a]!]![t] = inputs[a]!.estimate + inputs[a]!.standardUncertainty * sum;
      }
    }
  };
  return { indices, mix };
}

/**
 * Compiles a budget into the program that draws its blocks.
 * @throws BudgetError as `prepareBudget`, and for a correlation that cannot be sampled
 */
export function compileBlocks(budget: Budget): BlockProgram {
  const { model, order } = prepareBudget(budget);
  const joint = mixing(budget);
  const used = [...new Set(order)].sort((a, b) => a - b);
  const drawn = [...new Set([...used, ...(joint?.indices ?? [])])].sort((a, b) => a - b);
  const standard = { symbol: 'z', unit: '1', distribution: { type: 'normal' as const, mean: 0, standardUncertainty: 1 } };
  const samplers = drawn.map((i) => samplerFor(joint?.indices.includes(i) ? standard : budget.quantities[i]!));
  const symbolAt = new Map(model.symbols.map((symbol, s) => [symbol, order[s]!]));
  const body = expression(model.tree, (symbol) => `c${symbolAt.get(symbol)}[i]`);
  const fill = new Function('out', ...used.map((i) => `c${i}`), `for (let i = 0; i < out.length; i++) out[i] = ${body};`) as (
    out: Float64Array,
    ...columns: Float64Array[]
  ) => void;
  const columns = drawn.map(() => new Float64Array(stripSize));
  const byQuantity: Float64Array[] = [];
  drawn.forEach((i, s) => (byQuantity[i] = columns[s]!));
  const usedColumns = used.map((i) => byQuantity[i]!);
  let stream: { seed: number; block: number; at: RandomStream } | null = null;

  return (seed, block, out) => {
    // Jumps are taken one block after the other; a program mostly walks forward.
    if (!stream || stream.seed !== seed || stream.block > block) stream = { seed, block: 0, at: new RandomStream(seed) };
    while (stream.block < block) {
      stream.at.jump();
      stream.block++;
    }
    const random = stream.at.copy();
    for (let from = 0; from < out.length; from += stripSize) {
      const strip = out.subarray(from, Math.min(out.length, from + stripSize));
      for (let s = 0; s < drawn.length; s++) samplers[s]!(random, columns[s]!);
      joint?.mix(byQuantity);
      fill(strip, ...usedColumns);
    }
  };
}
