/**
 * Arithmetic mean. Sums deviations from the first value, so that 1e9 + small noise keeps the noise.
 * @throws RangeError when there are no values
 * @example mean([1, 2, 6]) // 3
 */
export function mean(values: readonly number[]): number {
  if (values.length === 0) throw new RangeError('A mean needs at least one value.');
  const pivot = values[0]!;
  let sum = 0;
  for (const value of values) sum += value - pivot;
  return pivot + sum / values.length;
}

/**
 * Experimental standard deviation s, n − 1 in the denominator (GUM 4.2.2). Two passes, with the second-order correction for
 * the rounding of the mean (Chan, Golub & LeVeque 1983).
 * @throws RangeError when there are fewer than two values
 * @example standardDeviation([1, 2, 3]) // 1
 */
export function standardDeviation(values: readonly number[]): number {
  if (values.length < 2) throw new RangeError('A standard deviation needs at least two values.');
  const centre = mean(values);
  let squares = 0;
  let rest = 0;
  for (const value of values) {
    const deviation = value - centre;
    squares += deviation * deviation;
    rest += deviation;
  }
  return Math.sqrt(Math.max(0, squares - (rest * rest) / values.length) / (values.length - 1));
}

export type PooledStandardDeviation = { standardDeviation: number; dof: number };

/**
 * Standard deviation pooled over groups, each about its own mean: s_p² = Σ ν_i s_i² / Σ ν_i (JCGM 100, 4.2.4).
 * Groups with one value carry no information and are passed over; null when none is left.
 * @example pooledStandardDeviation([[1, 3], [2, 4], [7]]).dof // 2
 */
export function pooledStandardDeviation(groups: readonly (readonly number[])[]): PooledStandardDeviation | null {
  let squares = 0;
  let dof = 0;
  for (const group of groups) {
    if (group.length < 2) continue;
    const s = standardDeviation(group);
    squares += (group.length - 1) * s * s;
    dof += group.length - 1;
  }
  return dof === 0 ? null : { standardDeviation: Math.sqrt(squares / dof), dof };
}
