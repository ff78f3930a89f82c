import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Budget } from './budget-schema';
import { BudgetError } from './budget-error';

/**
 * The correlation matrix of a budget's quantities, in their order; null when none is correlated.
 * @throws BudgetError naming the first pair that makes the matrix impossible (not positive semi-definite)
 * @example correlationMatrix(budget) // null
 */
export function correlationMatrix(budget: Pick<Budget, 'quantities' | 'correlations'>): number[][] | null {
  const correlations = budget.correlations ?? [];
  if (correlations.length === 0) return null;
  const index = new Map(budget.quantities.map((q, i) => [q.symbol, i]));
  const n = budget.quantities.length;
  const matrix: number[][] = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => (i === j ? 1 : 0)));
  const seen = new Set<string>();
  const pairs: [number, number][] = [];
  correlations.forEach(({ between, coefficient }, c) => {
    const [i, j] = between.map((symbol, side) => {
      const at = index.get(symbol);
      if (at === undefined)
        throw new BudgetError(`"${symbol}" is not a quantity of this budget.`, ['correlations', c, 'between', side]);
      return at;
    }) as [number, number];
    if (i === j)
      throw new BudgetError('A quantity is not correlated with itself: name two different ones.', ['correlations', c, 'between']);
    const key = `${Math.min(i, j)},${Math.max(i, j)}`;
    if (seen.has(key))
      throw new BudgetError(`The correlation of ${between[0]} and ${between[1]} is given twice.`, ['correlations', c]);
    seen.add(key);
    matrix[i]![j] = matrix[j]![i] = coefficient;
    pairs.push([i, j]);
  });
  if (isPositiveSemiDefinite(matrix)) return matrix;

  const partial = matrix.map((row, i) => row.map((_, j) => Number(i === j)));
  for (const [c, [i, j]] of pairs.entries()) {
    partial[i]![j] = partial[j]![i] = matrix[i]![j]!;
    if (isPositiveSemiDefinite(partial)) continue;
    const [a, b] = correlations[c]!.between;
    throw new BudgetError(
      `These correlations contradict each other: with ${a} and ${b} at ${correlations[c]!.coefficient} no such quantities can exist (the matrix is not positive semi-definite).`,
      ['correlations', c, 'coefficient'],
    );
  }
  throw new BudgetError('These correlations contradict each other (the matrix is not positive semi-definite).', ['correlations']);
}

function isPositiveSemiDefinite(matrix: number[][]): boolean {
  const values = new EigenvalueDecomposition(new Matrix(matrix), { assumeSymmetric: true }).realEigenvalues;
  return Math.min(...values) >= -1e-10 * matrix.length;
}
