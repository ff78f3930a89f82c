import tQuantile from '@stdlib/stats-base-dists-t-quantile';
import { mean, standardDeviation } from './moments';

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
