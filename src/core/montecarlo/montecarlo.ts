import { BudgetError } from '../uncertainty/budget-error';
import { coverageFactorFor } from '../uncertainty/coverage';
import { summarizeDistribution } from '../uncertainty/distribution';
import { prepareBudget, propagate } from '../uncertainty/propagate';
import { blockSize, compileBlocks } from './block-program';
import { deviationOf, mergeMoments, momentsOf, skewnessOf, type Moments } from './moments-of-blocks';
import type { MontecarloQuestion } from './montecarlo-schema';
import { isSampledFromT } from './samplers';
import { coverageInterval, histogramOf, spreadOf, type Histogram, type Interval } from './ordered-tails';

export type Validation = {
  digits: number;
  /** δ of JCGM 101, 7.9.2. */ tolerance: number;
  lowDifference: number;
  highDifference: number;
  validated: boolean;
};

export type MontecarloResult = {
  trials: number;
  estimate: number;
  standardUncertainty: number;
  interval: Interval;
  skewness: number;
  histogram: Histogram;
  /** Adaptive only: whether the results settled before the trials ran out. */
  stable?: boolean;
  /** Null when first-order propagation has no answer to compare with. */
  validation: Validation | null;
  warnings: string[];
};

/** Draws blocks `from` … `from + count − 1` of a question, `size` trials in all; workers do just this. */
export type BlockSource = (from: number, count: number) => Promise<Float64Array> | Float64Array;

/** Numerical tolerance δ of a standard uncertainty at a number of significant digits (JCGM 101, 7.9.2). */
export function numericalTolerance(standardUncertainty: number, digits: number): number {
  if (standardUncertainty === 0) return 0;
  const exponent = Number(standardUncertainty.toExponential(digits - 1).split('e')[1]) - (digits - 1);
  return 0.5 * 10 ** exponent;
}

/**
 * δ while trials are still coming in: the u of the trials so far is itself uncertain, and δ jumps tenfold where u rounds up a digit
 * (0.99 to 1.0). So δ belongs to the least u that these trials allow.
 */
function toleranceDuring(moments: Moments, digits: number): number {
  const u = deviationOf(moments);
  if (u === 0) return 0;
  const least = u * (1 - 3 / Math.sqrt(2 * moments.count));
  return 0.5 * 10 ** (Math.floor(Math.log10(least)) - (digits - 1));
}

/** Which moments the result cannot have: an input sampled from t has no mean at 1 degree of freedom, no deviation at 2. */
function missingMoments(question: MontecarloQuestion): { mean: boolean; deviation: boolean; warnings: string[] } {
  const used = prepareBudget(question.budget).order;
  const few = used.flatMap((i) => {
    const { symbol, distribution } = question.budget.quantities[i]!;
    const { dof, standardUncertainty } = summarizeDistribution(distribution);
    return standardUncertainty > 0 && isSampledFromT(distribution) && dof! <= 2 ? [{ symbol, dof: dof! }] : [];
  });
  const mean = few.some((f) => f.dof <= 1);
  const names = few.map((f) => `"${f.symbol}"`).join(', ');
  return {
    mean,
    deviation: few.length > 0,
    warnings: few.length
      ? [
          `${names} ${few.length > 1 ? 'are' : 'is'} known from so few readings that ${mean ? 'neither a mean nor a standard uncertainty exists' : 'no standard uncertainty exists'} (t with ${mean ? 'one degree' : 'two degrees'} of freedom or fewer): those numbers are of these trials alone. The interval stands.`,
        ]
      : [],
  };
}

/** A block source in this thread. @example localBlocks({ budget, seed: 1 })(0, 1).length // 10000 */
export function localBlocks(question: MontecarloQuestion): (from: number, count: number) => Float64Array<ArrayBuffer> {
  const program = compileBlocks(question.budget);
  return (from, count) => {
    const values = new Float64Array(count * blockSize);
    for (let b = 0; b < count; b++) program(question.seed, from + b, values.subarray(b * blockSize, (b + 1) * blockSize));
    return values;
  };
}

function blockMoments(values: Float64Array): Moments {
  let all: Moments | null = null;
  for (let at = 0; at < values.length; at += blockSize) {
    const block = momentsOf(values.subarray(at, Math.min(values.length, at + blockSize)));
    all = all ? mergeMoments(all, block) : block;
  }
  return all!;
}

function refuseUndefined(moments: Moments, values: Float64Array): void {
  if (Number.isFinite(moments.mean) && Number.isFinite(moments.square)) return;
  let bad = 0;
  for (const v of values) if (!Number.isFinite(v)) bad++;
  throw new BudgetError(
    bad
      ? `The model has no finite value in ${bad} of ${values.length} trials: the inputs reach where it is not defined (a root or logarithm of a negative number, a division by zero).`
      : 'The values spread too widely for a number: check the units of the inputs.',
    ['budget', 'model'],
  );
}

/** Compares the first-order interval at the same probability (JCGM 101, clause 8). */
function validate(question: MontecarloQuestion, interval: Interval): { validation: Validation | null; warnings: string[] } {
  const digits = question.adaptive?.digits ?? 2;
  try {
    const first = propagate({ ...question.budget, coverage: { probability: question.probability } });
    const U = coverageFactorFor({ probability: question.probability }, first.effectiveDof) * first.standardUncertainty;
    const tolerance = numericalTolerance(first.standardUncertainty, digits);
    const lowDifference = Math.abs(first.estimate - U - interval.low);
    const highDifference = Math.abs(first.estimate + U - interval.high);
    return {
      validation: {
        digits,
        tolerance,
        lowDifference,
        highDifference,
        validated: lowDifference <= tolerance && highDifference <= tolerance,
      },
      warnings: first.warnings,
    };
  } catch (error) {
    if (!(error instanceof BudgetError)) throw error;
    return { validation: null, warnings: [`First-order propagation has no answer to compare with: ${error.message}`] };
  }
}

/** Inputs whose degrees of freedom the trials leave out of account. */
function widthWarnings(question: MontecarloQuestion): string[] {
  return question.budget.quantities.flatMap(({ symbol, distribution }) =>
    'dof' in distribution &&
    distribution.dof !== undefined &&
    distribution.type !== 'student-t' &&
    !['normal', 'readings'].includes(distribution.type)
      ? [`The trials keep "${symbol}" within its stated shape; its degrees of freedom count in the first-order interval only.`]
      : [],
  );
}

function summarize(question: MontecarloQuestion, values: Float64Array, stable?: boolean): MontecarloResult {
  const moments = blockMoments(values);
  refuseUndefined(moments, values);
  const spread = spreadOf(values, moments);
  const interval = coverageInterval(values, question.probability, question.interval, spread);
  const compared = validate(question, interval);
  return {
    trials: values.length,
    estimate: moments.mean,
    standardUncertainty: deviationOf(moments),
    interval,
    skewness: skewnessOf(moments),
    histogram: histogramOf(values, spread, interval),
    ...(stable === undefined ? {} : { stable }),
    validation: compared.validation,
    warnings: [...missingMoments(question).warnings, ...widthWarnings(question), ...compared.warnings],
  };
}

export type Progress = (done: number, of: number) => void;

/**
 * Propagation of distributions (JCGM 101). Blocks come from `source`, in any number at once; the answer depends only on the question.
 * @throws BudgetError with the path of the fault
 * @example montecarlo({ budget, seed: 1, trials: 10_000, coverage: { probability: 0.95 } }) // { trials: 10000 }
 */
export async function montecarlo(
  question: MontecarloQuestion,
  source: BlockSource = localBlocks(question),
  progress: Progress = () => {},
): Promise<MontecarloResult> {
  return question.adaptive ? adaptive(question, source, progress) : fixed(question, question.trials!, source, progress);
}

async function fixed(
  question: MontecarloQuestion,
  trials: number,
  source: BlockSource,
  progress: Progress,
): Promise<MontecarloResult> {
  const blocks = Math.ceil(trials / blockSize);
  const values = new Float64Array(blocks * blockSize);
  const step = 20;
  for (let from = 0; from < blocks; from += step) {
    const count = Math.min(step, blocks - from);
    values.set(await source(from, count), from * blockSize);
    progress(Math.min(trials, (from + count) * blockSize), trials);
  }
  return summarize(question, values.subarray(0, trials));
}

/** "Twice the standard deviation" from h batches: what t makes of 2 when few batches have been seen; 14 at two, 2.1 at twenty. */
const twice = (h: number): number => coverageFactorFor({ probability: 0.9545 }, h - 1);

/** The adaptive procedure (JCGM 101, 7.9.4): batches until twice the standard deviation of every mean is within δ. */
async function adaptive(question: MontecarloQuestion, source: BlockSource, progress: Progress): Promise<MontecarloResult> {
  const { digits, maximumTrials } = question.adaptive!;
  // M = max(J, 10⁴) with J the smallest integer not below 100/(1 − p), in whole blocks.
  const perBatch = Math.max(1, Math.ceil(Math.ceil(100 / (1 - question.probability) - 1e-9) / blockSize));
  const batches: Float64Array[] = [];
  const seen: number[][] = [];
  let all: Moments | null = null;
  let stable = false;
  const missing = missingMoments(question);
  while (!stable && (batches.length + 1) * perBatch * blockSize <= maximumTrials) {
    const values = await source(batches.length * perBatch, perBatch);
    const moments = blockMoments(values);
    refuseUndefined(moments, values);
    all = all ? mergeMoments(all, moments) : moments;
    batches.push(values);
    const interval = coverageInterval(values, question.probability, question.interval);
    // What does not exist cannot settle: then the ends of the interval alone are waited for, to the digits of its half-length.
    const watched = [interval.low, interval.high, ...(missing.mean ? [] : [moments.mean])];
    if (!missing.deviation) watched.push(deviationOf(moments));
    watched.forEach((v, i) => (seen[i] ??= []).push(v));
    const h = batches.length;
    const tolerance = missing.deviation
      ? numericalTolerance((interval.high - interval.low) / 2, digits)
      : toleranceDuring(all, digits);
    stable =
      h >= 2 && seen.every((means) => (twice(h) * deviationOf(momentsOf(Float64Array.from(means)))) / Math.sqrt(h) <= tolerance);
    progress(h * perBatch * blockSize, maximumTrials);
  }
  if (batches.length === 0)
    throw new BudgetError(`At this probability one batch already takes ${perBatch * blockSize} trials: raise the maximum.`, [
      'adaptive',
      'maximumTrials',
    ]);
  const values = new Float64Array(batches.length * perBatch * blockSize);
  batches.forEach((b, i) => values.set(b, i * perBatch * blockSize));
  return summarize(question, values, stable);
}
