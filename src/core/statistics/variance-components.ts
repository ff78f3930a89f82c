import { mean } from './moments';

export type VarianceComponents = {
  /** Mean squares within and between groups, with their degrees of freedom. */
  within: { meanSquare: number; dof: number };
  between: { meanSquare: number; dof: number };
  F: number | null;
  repeatability: number;
  /** Standard deviation between groups; 0 when the groups differ no more than repeats do. */
  betweenGroups: number;
  reproducibility: number;
};

/**
 * One-way analysis of variance (JCGM 100, H.5; ISO 5725-2, 7.4). Groups may differ in size.
 * @throws RangeError with fewer than two groups, or without any repeat
 */
export function varianceComponents(groups: readonly (readonly number[])[]): VarianceComponents {
  const filled = groups.filter((g) => g.length > 0);
  const n = filled.reduce((s, g) => s + g.length, 0);
  if (filled.length < 2) throw new RangeError('An analysis of variance needs at least two groups.');
  if (n === filled.length) throw new RangeError('An analysis of variance needs repeats in at least one group.');
  const grand = mean(filled.flat());
  const withinSquares = filled.reduce((s, g) => s + g.reduce((q, v) => q + (v - mean(g)) ** 2, 0), 0);
  const betweenSquares = filled.reduce((s, g) => s + g.length * (mean(g) - grand) ** 2, 0);
  const within = { meanSquare: withinSquares / (n - filled.length), dof: n - filled.length };
  const between = { meanSquare: betweenSquares / (filled.length - 1), dof: filled.length - 1 };
  // The effective group size; the common size when all are equal.
  const size = (n - filled.reduce((s, g) => s + g.length ** 2, 0) / n) / (filled.length - 1);
  const betweenVariance = Math.max(0, (between.meanSquare - within.meanSquare) / size);
  return {
    within,
    between,
    F: within.meanSquare === 0 ? null : between.meanSquare / within.meanSquare,
    repeatability: Math.sqrt(within.meanSquare),
    betweenGroups: Math.sqrt(betweenVariance),
    reproducibility: Math.sqrt(within.meanSquare + betweenVariance),
  };
}

/** E_n of two results with expanded uncertainties at the same coverage (ISO 13528, 9.7): |E_n| ≤ 1 is satisfactory. Null when neither is uncertain. */
export function enNumber(
  a: { value: number; expandedUncertainty: number },
  b: { value: number; expandedUncertainty: number },
): number | null {
  const U = Math.hypot(a.expandedUncertainty, b.expandedUncertainty);
  return U === 0 ? null : (a.value - b.value) / U;
}
