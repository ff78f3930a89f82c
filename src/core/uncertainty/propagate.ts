import type { Budget } from './budget-schema';
import { BudgetError } from './budget-error';
import { correlationMatrix } from './correlation';
import { coverageFactorFor, defaultCoverage, welchSatterthwaite } from './coverage';
import { summarizeDistribution, type DistributionSummary } from './distribution';
import { compileModelOnce, type Apply, type CompiledModel } from './model-compile';
import { ModelSyntaxError, modelFunctions } from './model-syntax';
import { reportedPair, type ReportedPair } from '../quantity/rounding';

export type Contribution = {
  symbol: string;
  estimate: number;
  standardUncertainty: number;
  dof: number | null;
  sensitivity: number;
  /** Signed: sensitivity × standard uncertainty, in the unit of the output. */
  contribution: number;
  /** Share of the variance, 0…1; the shares sum to 1, also with correlations. */
  share: number;
};

export type BudgetResult = {
  estimate: number;
  standardUncertainty: number;
  effectiveDof: number | null;
  coverageFactor: number;
  coverageProbability: number | null;
  expandedUncertainty: number;
  contributions: Contribution[];
  reported: ReportedPair;
  /** What the reader should know before trusting the number; empty when there is nothing. */
  warnings: string[];
};

/** The compiled model of a budget whose symbols have been checked against its quantities. */
export type PreparedBudget = {
  model: CompiledModel;
  /** Position of each model symbol among the quantities. */ order: number[];
  warnings: string[];
};

/**
 * Checks a budget as a whole (beyond its schema): the model parses, its symbols are quantities, no symbol stands twice.
 * @throws BudgetError with the path of the fault
 * @example prepareBudget(budget).order // [0, 1]
 */
export function prepareBudget(budget: Budget): PreparedBudget {
  const index = new Map<string, number>();
  budget.quantities.forEach((q, i) => {
    if (q.symbol === 'pi' || Object.hasOwn(modelFunctions, q.symbol))
      throw new BudgetError(`"${q.symbol}" is a word of the model language: choose another symbol.`, ['quantities', i, 'symbol']);
    if (index.has(q.symbol))
      throw new BudgetError(`The symbol "${q.symbol}" stands twice: each quantity needs its own.`, ['quantities', i, 'symbol']);
    index.set(q.symbol, i);
  });
  let model: CompiledModel;
  try {
    model = compileModelOnce(budget.model);
  } catch (error) {
    if (error instanceof ModelSyntaxError) throw new BudgetError(`${error.message} (character ${error.start + 1})`, ['model']);
    throw error;
  }
  const order = model.symbols.map((symbol) => {
    const at = index.get(symbol);
    if (at === undefined) throw new BudgetError(`The model uses "${symbol}", which is not among the quantities.`, ['model']);
    return at;
  });
  const used = new Set(model.symbols);
  const warnings = budget.quantities
    .filter((q) => !used.has(q.symbol))
    .map((q) => `"${q.symbol}" is not used by the model and contributes nothing.`);
  return { model, order, warnings };
}

/**
 * First-order propagation of uncertainty (JCGM 100, 5.1.2 and 5.2.2), with Welch–Satterthwaite and the stated coverage.
 * @throws BudgetError with the path of the fault; a result is always finite
 * @example propagate(budget).standardUncertainty // 0.0005
 */
export function propagate(budget: Budget): BudgetResult {
  return propagatePrepared(budget, prepareBudget(budget));
}

/**
 * As `propagate`, for a model that was prepared elsewhere and may hold more than the model language.
 * @param apply answers the functions beyond it
 * @example propagatePrepared(budget, prepareBudget(budget)).standardUncertainty // 0.0005
 */
export function propagatePrepared(
  budget: Pick<Budget, 'quantities' | 'correlations' | 'coverage'>,
  { model, order, warnings: faults }: PreparedBudget,
  apply?: Apply,
): BudgetResult {
  const warnings = [...faults];
  const inputs: DistributionSummary[] = budget.quantities.map((q) => summarizeDistribution(q.distribution));
  const { value, gradient, kinks } = model.evaluate(
    order.map((i) => inputs[i]!.estimate),
    apply,
  );
  if (!Number.isFinite(value))
    throw new BudgetError(
      'The model has no finite value at the estimates: look for a division by zero, or the root or logarithm of a negative number.',
      ['model'],
    );
  warnings.push(...kinks);

  const sensitivity = new Array<number>(inputs.length).fill(0);
  order.forEach((q, s) => {
    // An input that cannot vary may stand where the slope is infinite.
    sensitivity[q] = inputs[q]!.standardUncertainty === 0 && !Number.isFinite(gradient[s]!) ? 0 : gradient[s]!;
  });
  const contribution = inputs.map((input, i) => sensitivity[i]! * input.standardUncertainty);
  contribution.forEach((c, i) => {
    const symbol = budget.quantities[i]!.symbol;
    if (!Number.isFinite(c))
      throw new BudgetError(
        `The model has no finite slope for "${symbol}" at the estimates, so first-order propagation does not apply. Use Monte Carlo.`,
        ['model'],
      );
    if (c === 0 && inputs[i]!.standardUncertainty > 0 && order.includes(i))
      warnings.push(
        `The slope for "${symbol}" is zero at the estimates: first order sees none of its uncertainty. Check with Monte Carlo.`,
      );
  });

  const correlation = correlationMatrix(budget);
  const covarianceShare = contribution.map((c, i) =>
    correlation ? c * correlation[i]!.reduce((sum, r, j) => sum + r * contribution[j]!, 0) : c * c,
  );
  const variance = Math.max(
    0,
    covarianceShare.reduce((a, b) => a + b, 0),
  );
  const largest = Math.max(0, ...contribution.map(Math.abs));
  const standardUncertainty = variance <= largest * largest * 1e-28 ? 0 : Math.sqrt(variance);
  if (largest === 0) warnings.push('Every contribution is zero: the result has no uncertainty.');
  else if (standardUncertainty === 0) warnings.push('The correlated contributions cancel completely.');
  if (correlation && budget.quantities.some((_, i) => inputs[i]!.dof !== null))
    warnings.push('The effective degrees of freedom assume independent inputs; some of these are correlated.');

  const contributions: Contribution[] = budget.quantities.map((q, i) => ({
    symbol: q.symbol,
    ...inputs[i]!,
    sensitivity: sensitivity[i]!,
    contribution: contribution[i]!,
    share: standardUncertainty === 0 ? 0 : covarianceShare[i]! / variance,
  }));
  const effectiveDof = welchSatterthwaite(standardUncertainty, contributions);
  const coverage = budget.coverage ?? defaultCoverage;
  const coverageFactor = coverageFactorFor(coverage, effectiveDof);
  const expandedUncertainty = coverageFactor * standardUncertainty;
  if (!Number.isFinite(expandedUncertainty))
    throw new BudgetError('The uncertainty is too large for a number: check the units of the inputs.', ['quantities']);
  return {
    estimate: value,
    standardUncertainty,
    effectiveDof,
    coverageFactor,
    coverageProbability: 'probability' in coverage ? coverage.probability : null,
    expandedUncertainty,
    contributions,
    reported: reportedPair(value, expandedUncertainty),
    warnings,
  };
}
