import { mean, standardDeviation } from './moments';
import { fQuantile, tQuantile } from './student-t';

export type GrubbsResult = { index: number; statistic: number; critical: number; isOutlier: boolean };

/**
 * Grubbs' test for one outlier, two-sided (Grubbs 1969; ISO 5725-2, 7.3.4): the value farthest from the mean, in standard deviations.
 * @param significance probability of calling a good value an outlier, e.g. 0.05
 * @returns null when all values are equal
 * @throws RangeError with fewer than three values
 */
export function grubbsTest(values: readonly number[], significance = 0.05): GrubbsResult | null {
  const n = values.length;
  if (n < 3) throw new RangeError('Grubbs’ test needs at least three values.');
  const centre = mean(values);
  const s = standardDeviation(values);
  if (s === 0) return null;
  const distances = values.map((v) => Math.abs(v - centre) / s);
  const index = distances.indexOf(Math.max(...distances));
  const t = tQuantile(1 - significance / (2 * n), n - 2);
  const critical = ((n - 1) / Math.sqrt(n)) * Math.sqrt((t * t) / (n - 2 + t * t));
  return { index, statistic: distances[index]!, critical, isOutlier: distances[index]! > critical };
}

export type CochranResult = { index: number; statistic: number; critical: number; isOutlier: boolean };

/**
 * Cochran's test for one variance greater than the others (ISO 5725-2, 7.3.3), before scatter is pooled: C = s²_max / Σ s².
 * Groups of fewer than two values are passed over; the critical value is that of their mean size, from the F distribution.
 * @param significance probability of calling good scatter an outlier: 0.01 for an outlier, 0.05 for a straggler
 * @param resolution step of the display; scatter that rounding to it explains (step²/12) counts in every group
 * @example cochranTest([[1, 2], [1, 1], [2, 2]]).statistic // 1
 * @returns null when fewer than two groups have repeats, or when nothing scatters
 */
export function cochranTest(groups: readonly (readonly number[])[], significance = 0.01, resolution = 0): CochranResult | null {
  const repeated = groups.flatMap((values, index) => (values.length > 1 ? [{ index, values }] : []));
  const p = repeated.length;
  if (p < 2) return null;
  const variances = repeated.map(({ values }) => standardDeviation(values) ** 2 + resolution ** 2 / 12);
  const total = variances.reduce((a, b) => a + b, 0);
  if (total === 0) return null;
  const greatest = variances.indexOf(Math.max(...variances));
  const dof = repeated.reduce((n, { values }) => n + values.length - 1, 0) / p;
  const F = fQuantile(1 - significance / p, dof, (p - 1) * dof);
  const critical = 1 / (1 + (p - 1) / F);
  const statistic = variances[greatest]! / total;
  return { index: repeated[greatest]!.index, statistic, critical, isOutlier: statistic > critical };
}
