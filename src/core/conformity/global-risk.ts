import normalCdf from '@stdlib/stats-base-dists-normal-cdf';
import normalQuantile from '@stdlib/stats-base-dists-normal-quantile';
import { plainDecimal } from '../quantity/rounding';
import type { RiskQuestion } from './risk-schema';

export type RiskResult = {
  falseAccept: number;
  falseReject: number;
  observedReliability: number;
  guardBand?: number;
  warnings?: string[];
};

/** A risk that cannot be had, with the path of the fault. */
export class RiskError extends Error {
  constructor(
    message: string,
    readonly path: (string | number)[],
  ) {
    super(message);
    this.name = 'RiskError';
  }
}

/** Abscissas and weights of the 16-point Gauss–Legendre rule on (−1, 1), positive half (Abramowitz & Stegun, table 25.4). */
const nodes = [
  0.0950125098376374, 0.2816035507792589, 0.4580167776572274, 0.6178762444026438, 0.755404408355003, 0.8656312023878318,
  0.9445750230732326, 0.9894009349916499,
];
const weights = [
  0.1894506104550685, 0.1826034150449236, 0.1691565193950025, 0.1495959888165767, 0.1246289712555339, 0.0951585116824928,
  0.0622535239386479, 0.0271524594117541,
];

function integrate(f: (x: number) => number, from: number, to: number): number {
  const [middle, half] = [(from + to) / 2, (to - from) / 2];
  let sum = 0;
  for (let i = 0; i < 8; i++) sum += weights[i]! * (f(middle - half * nodes[i]!) + f(middle + half * nodes[i]!));
  return sum * half;
}

const phi = (z: number) => Math.exp(-0.5 * z * z) / Math.sqrt(2 * Math.PI);
const Phi = (z: number) => normalCdf(z, 0, 1);

/** All in units of the standard deviation σ of the true errors: tolerance t, acceptance limit a, measurement u. */
type Scaled = { t: number; a: number; u: number };

/**
 * Probability that the true error lies above t (or, `inside`, within ±t) while the measured one lies within ±a.
 * The integrand changes on the scales of σ = 1 and of u about ±a, so the panels end there.
 */
function acceptedTruth({ t, a, u }: Scaled, inside: boolean): number {
  if (a <= 0) return 0;
  if (u === 0) return inside ? 2 * Phi(Math.min(t, a)) - 1 : a > t ? 2 * (Phi(-t) - Phi(-a)) : 0;
  const [from, to] = inside ? [0, t] : [t, Math.max(t, Math.min(40, a + 40 * u))];
  // The far side of the acceptance zone counts only within a few u of it; a zone narrow against u is its width times the density.
  const zone =
    a < 1e-4 * u
      ? (e: number) => ((2 * a) / u) * phi(e / u)
      : (e: number) => Phi((a - e) / u) - ((a + e) / u > 9 ? 0 : Phi((-a - e) / u));
  const density = (e: number) => phi(e) * zone(e);
  // Where the edge of acceptance lies far inside the tolerance, all that is left is a tail that falls off from t within `falls`.
  const isTail = !inside && t > a + 3 * u;
  const falls = (u * u) / (t - a);
  const breaks = [from, to];
  const marks = isTail
    ? [1, 4, 12, 40].map((j) => t + j * falls)
    : [-8, -3, 0, 3, 8].map((j) => a + j * u).concat([1, 2.5, 4.5, 7]);
  for (const at of marks) if (at > from && at < to) breaks.push(at);
  breaks.sort((x, y) => x - y);
  const end = isTail ? t + 40 * falls : Math.min(9.5, a + 9.5 * u);
  let sum = 0;
  for (let i = 1; i < breaks.length; i++) {
    // Beyond, nothing is left to add.
    if (breaks[i - 1]! >= end) break;
    if (breaks[i]! > breaks[i - 1]!) sum += integrate(density, breaks[i - 1]!, breaks[i]!);
  }
  return 2 * sum;
}

/**
 * Global risks of a population of instruments (JCGM 106, 9.5): true errors normal about zero with `reliability` of them within
 * ±tolerance, measured errors normal about them with U/k, acceptance where |measured| ≤ tolerance − guardBand.
 * @throws RiskError when the false-accept probability asked for cannot be reached
 * @example globalRisk({ tolerance: 1, expandedUncertainty: 0.25, coverageFactor: 2, reliability: 0.9 }).falseAccept // 0.013741
 */
export function globalRisk(question: RiskQuestion): RiskResult {
  const sigma = question.tolerance / normalQuantile((1 + question.reliability) / 2, 0, 1);
  const t = question.tolerance / sigma;
  const u = question.expandedUncertainty / question.coverageFactor / sigma;
  const at = (a: number): RiskResult => {
    const accepted = a <= 0 ? 0 : 2 * Phi(a / Math.hypot(1, u)) - 1;
    const falseAccept = Math.min(acceptedTruth({ t, a, u }, false), accepted);
    return {
      falseAccept,
      falseReject: Math.max(0, question.reliability - acceptedTruth({ t, a, u }, true)),
      observedReliability: accepted,
    };
  };
  if (!question.solve) return at((question.tolerance - (question.guardBand ?? 0)) / sigma);

  const wanted = question.solve.falseAccept;
  const most = 1 - question.reliability;
  if (wanted >= most)
    throw new RiskError(
      `Only ${most.toPrecision(3)} of all instruments are outside the tolerance, so no guard band makes the false-accept probability ${wanted}. Ask for less.`,
      ['solve', 'falseAccept'],
    );
  // In logarithms, so that a probability of 1e-12 is found as exactly as one of 0.1.
  const miss = (a: number) => Math.log(acceptedTruth({ t, a, u }, false) / wanted);
  let [high, above] = [t, miss(t)];
  let [low, below] = [high, above];
  while (above < 0) {
    [low, below] = [high, above];
    high = high * 1.5 + u;
    above = miss(high);
    if (high > 1e6) throw new RiskError('No guard band gives this false-accept probability.', ['solve', 'falseAccept']);
  }
  for (let i = 0; below >= 0; i++) {
    [high, above] = [low, below];
    low /= i < 4 ? 1.5 : 100;
    below = miss(low);
    if (low < 1e-200) throw new RiskError('No guard band gives this false-accept probability.', ['solve', 'falseAccept']);
  }
  const a = root(miss, low, below, high, above);
  const guardBand = question.tolerance - a * sigma;
  return {
    ...at(a),
    guardBand,
    ...(guardBand < 0
      ? {
          warnings: [
            `The guard band is negative: this false-accept probability is more than plain acceptance gives, so the acceptance limit would lie ${plainDecimal(Number((-guardBand).toPrecision(3)))} outside the tolerance. Accepting up to the tolerance itself is enough.`,
          ],
        }
      : {}),
  };
}

/** Root of an increasing function between a negative and a positive value (regula falsi with the Illinois step, then halving). */
function root(f: (x: number) => number, from: number, below: number, to: number, above: number): number {
  let [a, b, fa, fb] = [from, to, below, above];
  for (let i = 0; i < 200 && b - a > 1e-14 * b; i++) {
    let x = (a * fb - b * fa) / (fb - fa);
    if (i % 4 === 3 || !(x > a && x < b)) x = a + (b - a) / 2;
    const fx = f(x);
    if (Math.abs(fx) < 1e-10) return x;
    if (fx < 0) {
      [a, fa] = [x, fx];
      fb /= 2;
    } else {
      [b, fb] = [x, fx];
      fa /= 2;
    }
  }
  return a + (b - a) / 2;
}
