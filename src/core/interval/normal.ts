import normalCdf from '@stdlib/stats-base-dists-normal-cdf';

/** Φ between nodes of this many to the unit is a cubic through values and slopes: within 1e-10 of it. */
const perUnit = 64;
const edge = 8.5;
const size = 2 * edge * perUnit + 1;
const root = 1 / Math.sqrt(2 * Math.PI);
const values = Float64Array.from({ length: size }, (_, i) => normalCdf(i / perUnit - edge, 0, 1));
const slopes = Float64Array.from({ length: size }, (_, i) => (root * Math.exp(-((i / perUnit - edge) ** 2) / 2)) / perUnit);

/**
 * Φ(z), for loops that ask for it a million times.
 * @returns within 1e-9; 0 and 1 beyond ±8.5; NaN for NaN
 * @example quickNormalCdf(1.96) // 0.9750021
 */
export function quickNormalCdf(z: number): number {
  if (!(z > -edge)) return Number.isNaN(z) ? NaN : 0;
  if (z >= edge) return 1;
  const at = (z + edge) * perUnit;
  const i = Math.floor(at);
  const f = at - i;
  const [a, b, da, db] = [values[i]!, values[i + 1]!, slopes[i]!, slopes[i + 1]!];
  return a + f * (da + f * (3 * (b - a) - 2 * da - db + f * (2 * (a - b) + da + db)));
}
