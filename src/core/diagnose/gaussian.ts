import { EigenvalueDecomposition, Matrix } from 'ml-matrix';

/**
 * The covariance of a sound instrument without the scatter of its readings, taken apart into its own directions once: with a scatter on
 * top, whichever it is, everything else is a sum over them.
 */
export class Directions {
  private readonly values: number[];
  private readonly vectors: Matrix;

  /** @param covariance of the readings, row by row, symmetric */
  constructor(covariance: number[][]) {
    const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(new Matrix(covariance), { assumeSymmetric: true });
    this.values = realEigenvalues;
    this.vectors = eigenvectorMatrix;
  }

  /** A list of the readings, along these directions. */
  along(v: readonly number[]): Float64Array {
    const n = v.length;
    return Float64Array.from({ length: n }, (_, k) => {
      let sum = 0;
      for (let i = 0; i < n; i++) sum += this.vectors.get(i, k) * v[i]!;
      return sum;
    });
  }

  /** With so much variance of each reading on top: weights of the directions, and the logarithm of the determinant. */
  with(variance: number): { weights: Float64Array; logDeterminant: number } {
    let logDeterminant = 0;
    const weights = Float64Array.from(this.values, (value) => {
      const total = Math.max(0, value) + variance;
      logDeterminant += Math.log(total);
      return 1 / total;
    });
    return { weights, logDeterminant };
  }
}

export const weighted = (a: Float64Array, b: Float64Array, weights: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]! * weights[i]!;
  return sum;
};

/** What is left of a likelihood when a size is integrated away: its logarithm, with the mean and the mean square of the size. */
export type Integrated = { log: number; mean: number; square: number };

/** Nodes and weights of Gauss and Legendre, five to a panel (Abramowitz and Stegun, 25.4.30). */
const nodes = [0, 0.5384693101056831, -0.5384693101056831, 0.906179845938664, -0.906179845938664];
const weights = [0.5688888888888889, 0.47862867049936647, 0.47862867049936647, 0.23692688505618908, 0.23692688505618908];

/**
 * Nodes between two bounds with their weights, so many panels of five.
 * @example quadrature(0, 1, 1).reduce((sum, [x, weight]) => sum + weight * x * x, 0) // 0.333333333
 */
export function quadrature(low: number, high: number, panels: number): [number, number][] {
  const half = (high - low) / panels / 2;
  return Array.from({ length: panels }, (_, p) => low + (2 * p + 1) * half).flatMap((middle) =>
    nodes.map((x, i): [number, number] => [middle + half * x, half * weights[i]!]),
  );
}

/** How many deviations to either side of its peak a likelihood is followed. */
const reach = 9;
/** And how many times it falls by e where its peak lies beyond an end. */
const decays = 30;

/**
 * ∫ exp(linear·a − ½ quadratic·a²) over sizes a of one sign with |a| log-uniform from `low` to `high`.
 * The integrand is followed where it is, however narrow that is.
 */
export function overSizes(linear: number, quadratic: number, low: number, high: number, sign: 1 | -1, panels = 12): Integrated {
  const slope = sign * linear;
  const peak = quadratic > 0 ? slope / quadratic : slope > 0 ? Infinity : -Infinity;
  const top = Math.min(high, Math.max(low, peak));
  const width = 1 / Math.sqrt(Math.max(quadratic, 1e-300));
  // At an end the likelihood falls by its slope there, else by its width.
  const fall = Math.abs(slope - quadratic * top);
  const away = fall > 0 ? Math.min(reach * width, decays / fall) : reach * width;
  const [from, to] = [Math.max(low, top - away), Math.min(high, top + away)];
  const exponent = (a: number) => slope * a - 0.5 * quadratic * a * a;
  const greatest = exponent(top);
  let [sum, first, second] = [0, 0, 0];
  const start = Math.log(from);
  const half = (Math.log(to) - start) / panels / 2;
  for (let panel = 0; panel < panels; panel++)
    for (let i = 0; i < nodes.length; i++) {
      const a = Math.exp(start + (2 * panel + 1 + nodes[i]!) * half);
      const p = half * weights[i]! * Math.exp(exponent(a) - greatest);
      sum += p;
      first += p * a;
      second += p * a * a;
    }
  const mean = sum > 0 ? first / sum : top;
  return {
    log: greatest + Math.log(Math.max(sum, 1e-300) / Math.log(high / low)),
    mean: sign * mean,
    square: sum > 0 ? second / sum : top * top,
  };
}

/** log(Σ exp). @example logSum([Math.log(2), Math.log(3)]) // 1.6094379 */
export function logSum(values: readonly number[]): number {
  const greatest = values.reduce((m, v) => Math.max(m, v), -Infinity);
  return greatest === -Infinity ? -Infinity : greatest + Math.log(values.reduce((sum, v) => sum + Math.exp(v - greatest), 0));
}
