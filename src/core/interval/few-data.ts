import type { Cell } from './family-visits';
import { logLikelihood } from './reliability-fit';
import { monthsUntil, shareInside, type Survival } from './survival';

/** Below this many seen outside, profile bounds promise more than they hold: what is assumed beforehand is stated and used. */
export const leastOutside = 20;

/** What is assumed of months at the target: anything between these alike on a logarithmic scale. */
export const priorTime: [number, number] = [1, 600];
/** What is assumed of the shape of a Weibull: around 1 on a logarithmic scale, with this deviation. */
export const priorShapeDeviation = 0.4;

const times = 96;
const shapes = 15;

/** Weibull curves with the probability of each; they sum to 1. */
export type Weighted = { curves: readonly Survival[]; weights: Float64Array };

/**
 * What few data say of a family: every Weibull curve with its probability, given what was seen and the stated prior (Gelman et al.,
 * Bayesian data analysis, 2.4; posterior summed over a grid). Works with nothing seen at all: then it is the prior.
 */
export function fitFewData(cells: readonly Cell[], target: number): Weighted {
  const [low, high] = priorTime.map(Math.log) as [number, number];
  const curves: Survival[] = [];
  const logs: number[] = [];
  for (let i = 0; i < times; i++)
    for (let k = 0; k < shapes; k++) {
      const z = 3 * ((2 * k) / (shapes - 1) - 1);
      const curve: Survival = {
        model: 'weibull',
        target,
        time: Math.exp(low + ((i + 0.5) / times) * (high - low)),
        shape: Math.exp(priorShapeDeviation * z),
      };
      curves.push(curve);
      logs.push(logLikelihood(curve, cells) - 0.5 * z * z);
    }
  const most = Math.max(...logs);
  const weights = Float64Array.from(logs, (l) => Math.exp(l - most));
  const total = weights.reduce((a, b) => a + b, 0);
  for (let i = 0; i < weights.length; i++) weights[i]! /= total;
  return { curves, weights };
}

/** The value below which a share of the probability lies, of what each curve gives. */
export function weightedQuantile(values: readonly number[], weights: ArrayLike<number>, probability: number): number {
  const order = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]!);
  let sum = 0;
  for (const [at, i] of order.entries()) {
    const next = sum + weights[i]!;
    if (next >= probability) {
      // Between this value and the one before, as far as the probability reaches into it.
      const before = at === 0 ? values[i]! : values[order[at - 1]!]!;
      return before + ((values[i]! - before) * (probability - sum)) / (next - sum);
    }
    sum = next;
  }
  return values[order.at(-1)!]!;
}

/** Months at a share, of those last seen inside `since` months after being put in order: middle, and 95 % between low and high. */
export function fewMonths({ curves, weights }: Weighted, share: number, since = 0) {
  const values = curves.map((c) => Math.log(monthsUntil(c, share, since)));
  const at = (p: number) => Math.exp(weightedQuantile(values, weights, p));
  return { low: at(0.025), middle: at(0.5), high: at(0.975) };
}

/** The share inside some months after being put in order: its mean, and 95 % between low and high. */
export function fewShare({ curves, weights }: Weighted, months: number) {
  const values = curves.map((c) => shareInside(c, months));
  const mean = values.reduce((sum, v, i) => sum + v * weights[i]!, 0);
  return { low: weightedQuantile(values, weights, 0.025), middle: mean, high: weightedQuantile(values, weights, 0.975) };
}
