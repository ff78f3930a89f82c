import normalCdf from '@stdlib/stats-base-dists-normal-cdf';

/**
 * Ways in which a signal may go to its end, each with sums that a new sample adds to: one lag or two, over a grid of time constants,
 * the same with a drift that never ends, and a swing that dies away. All are linear in their parameters once the time constants are
 * fixed, so what is known of them follows in closed form (JCGM 102; Gelman et al., Bayesian Data Analysis, 14.2).
 */

/** Columns of a lag: 1, e, its derivative by the time constant, a slower second lag, time. */
const lagColumns = 5;
/** Of them, those without a drift. */
const lagOnly = 4;
const swingColumns = 5;
const packed = (p: number) => (p * (p + 1)) / 2 + p;

/** The second lag is so many times as slow. */
const slower = 2.45;

/** Time constants looked at, in spacings of the samples. */
const grid = (from: number, to: number, count: number) =>
  Array.from({ length: count }, (_, i) => from * (to / from) ** (i / (count - 1)));
const lags = grid(2.5, 450, 56);
const lagStep = Math.log(lags[1]! / lags[0]!);
const swings = grid(4, 400, 14).flatMap((tau) => grid(0.7, 11, 13).map((cycles) => ({ tau, omega: cycles / tau })));

/** What is thought of each before anything is seen. */
const prior = { lag: 0.5, drift: 0.45, swing: 0.05 };

/** What a way says at the last sample, and how likely it is. */
export type Way = {
  kind: 'lag' | 'drift' | 'swing';
  /** Which of its kind. */ index: number;
  /** Logarithm of prior times evidence. */ weight: number;
  tau: number;
  /** Still to come: end less the present. */ toGo: number;
  toGoUncertainty: number;
  end: number;
  endUncertainty: number;
};

/** A symmetric positive matrix A (packed lower triangle) and a vector b: solves A x = b in place. */
class Solver {
  readonly l = new Float64Array(36);
  readonly x = new Float64Array(8);
  readonly inverse = new Float64Array(64);
  logDeterminant = 0;

  /** @param sums packed lower triangle and then the right-hand side, of a system with `from` columns of which `p` are used */
  solve(sums: Float64Array, at: number, p: number, from: number, scale: number, precisions: readonly number[]): void {
    const { l, x } = this;
    const rhs = at + (from * (from + 1)) / 2;
    this.logDeterminant = 0;
    for (let i = 0; i < p; i++) {
      for (let j = 0; j <= i; j++) {
        let sum = sums[at + (i * (i + 1)) / 2 + j]! * scale + (i === j ? precisions[i]! : 0);
        for (let k = 0; k < j; k++) sum -= l[i * p + k]! * l[j * p + k]!;
        if (i === j) {
          const d = Math.sqrt(Math.max(sum, 1e-30));
          l[i * p + i] = d;
          this.logDeterminant += 2 * Math.log(d);
        } else l[i * p + j] = sum / l[j * p + j]!;
      }
    }
    for (let i = 0; i < p; i++) {
      let sum = sums[rhs + i]! * scale;
      for (let k = 0; k < i; k++) sum -= l[i * p + k]! * x[k]!;
      x[i] = sum / l[i * p + i]!;
    }
    for (let i = p - 1; i >= 0; i--) {
      let sum = x[i]!;
      for (let k = i + 1; k < p; k++) sum -= l[k * p + i]! * x[k]!;
      x[i] = sum / l[i * p + i]!;
    }
  }

  /** Variance of c·x under the posterior: |L⁻¹ c|². */
  variance(c: readonly number[], p: number): number {
    const { l, inverse } = this;
    let sum = 0;
    for (let i = 0; i < p; i++) {
      let v = c[i]!;
      for (let k = 0; k < i; k++) v -= l[i * p + k]! * inverse[k]!;
      inverse[i] = v / l[i * p + i]!;
      sum += inverse[i]! ** 2;
    }
    return sum;
  }
}

function lagRow(row: Float64Array, tau: number, t: number): void {
  const e = Math.exp(-t / tau);
  row[0] = 1;
  row[1] = e;
  row[2] = (t / tau) * e;
  row[3] = Math.exp(-t / (slower * tau));
  row[4] = t / 100;
}

function swingRow(row: Float64Array, { tau, omega }: { tau: number; omega: number }, t: number): void {
  const e = Math.exp(-t / tau);
  row[0] = 1;
  row[1] = e * Math.cos(omega * t);
  row[2] = e * Math.sin(omega * t);
  row[3] = (t / tau) * row[1]!;
  row[4] = (t / tau) * row[2]!;
}

/** Sums over the samples for every way, from which what it says follows at any moment. */
export class Approaches {
  private readonly lagSums = new Float64Array(lags.length * packed(lagColumns));
  private readonly swingSums = new Float64Array(swings.length * packed(swingColumns));
  private squares = 0;
  private count = 0;
  private last = 0;
  private readonly row = new Float64Array(lagColumns);
  private readonly solver = new Solver();

  /** @param spacing of the samples, in seconds @param first value, from which all are counted */
  constructor(
    private readonly spacing: number,
    private readonly first: number,
  ) {}

  private static add(sums: Float64Array, at: number, row: Float64Array, p: number, y: number): void {
    let k = at;
    for (let i = 0; i < p; i++) for (let j = 0; j <= i; j++) sums[k++]! += row[i]! * row[j]!;
    for (let i = 0; i < p; i++) sums[k++]! += row[i]! * y;
  }

  /** @param seconds since the first sample */
  add(seconds: number, value: number): void {
    const t = seconds / this.spacing;
    const y = value - this.first;
    const { row } = this;
    this.last = t;
    this.count++;
    this.squares += y * y;
    lags.forEach((tau, i) => {
      lagRow(row, tau, t);
      Approaches.add(this.lagSums, i * packed(lagColumns), row, lagColumns, y);
    });
    swings.forEach((swing, i) => {
      swingRow(row, swing, t);
      Approaches.add(this.swingSums, i * packed(swingColumns), row, swingColumns, y);
    });
  }

  private priors(scale: number, size: number, tolerance: number) {
    const flat = 1e-12 * scale;
    const lagPrior = [flat, 1 / (3 * size) ** 2, 1 / (0.45 * lagStep * 2 * size) ** 2, 1 / (0.06 * size) ** 2];
    const least = (tolerance / 25) * 100;
    const driftSize = Math.max(4 * least, 100 * (size / Math.max(30, this.last)));
    const driftPrior = [...lagPrior, 1 / driftSize ** 2];
    const detuned = 1 / (0.25 * size) ** 2;
    const swingPrior = [flat, 1 / size ** 2, 1 / size ** 2, detuned, detuned];
    return { lagPrior, driftPrior, driftSize, least, swingPrior };
  }

  /** What a way leaves of some samples. @param samples seconds since the first, and value */
  residuals(way: Way, samples: readonly (readonly [number, number])[], sigma: number, size: number, tolerance: number): number[] {
    const { solver, row } = this;
    const scale = 1 / sigma ** 2;
    const { lagPrior, driftPrior, swingPrior } = this.priors(scale, size, tolerance);
    const isSwing = way.kind === 'swing';
    const precisions = isSwing ? swingPrior : way.kind === 'drift' ? driftPrior : lagPrior;
    const [sums, columns] = isSwing ? [this.swingSums, swingColumns] : [this.lagSums, lagColumns];
    solver.solve(sums, way.index * packed(columns), precisions.length, columns, scale, precisions);
    return samples.map(([seconds, value]) => {
      const t = seconds / this.spacing;
      if (isSwing) swingRow(row, swings[way.index]!, t);
      else lagRow(row, lags[way.index]!, t);
      return value - this.first - precisions.reduce((sum, _, k) => sum + solver.x[k]! * row[k]!, 0);
    });
  }

  /**
   * @param sigma standard deviation of a sample about its true value
   * @param size of what the signal has moved so far, at least some tolerances
   * @param tolerance at least this much in 25 samples is a drift
   */
  ways(sigma: number, size: number, tolerance: number): Way[] {
    const scale = 1 / sigma ** 2;
    const { solver, last: t, count } = this;
    const constant = -0.5 * (count - 1) * Math.log(2 * Math.PI * sigma ** 2) - 0.5 * this.squares * scale;
    const { lagPrior, driftPrior, driftSize, least, swingPrior } = this.priors(scale, size, tolerance);
    const evidence = (p: number, precisions: readonly number[], sums: Float64Array, at: number, from: number) => {
      solver.solve(sums, at, p, from, scale, precisions);
      const rhs = at + (from * (from + 1)) / 2;
      let explained = 0;
      for (let i = 0; i < p; i++) explained += solver.x[i]! * sums[rhs + i]! * scale;
      let priors = 0;
      for (let i = 1; i < p; i++) priors += Math.log(precisions[i]!);
      return constant + 0.5 * explained - 0.5 * solver.logDeterminant + 0.5 * priors;
    };
    const ways: Way[] = [];
    lags.forEach((tau, i) => {
      const at = i * packed(lagColumns);
      const e = Math.exp(-t / tau);
      const c = [0, -e, -(t / tau) * e, -Math.exp(-t / (slower * tau))];
      const log = evidence(lagOnly, lagPrior, this.lagSums, at, lagColumns);
      ways.push({
        kind: 'lag',
        index: i,
        weight: log + Math.log(prior.lag / lags.length),
        tau: tau * this.spacing,
        toGo: c.reduce((sum, v, k) => sum + v * solver.x[k]!, 0),
        toGoUncertainty: Math.sqrt(solver.variance(c, lagOnly)),
        end: this.first + solver.x[0]!,
        endUncertainty: Math.sqrt(solver.variance([1, 0, 0, 0], lagOnly)),
      });
      const drifting = evidence(lagColumns, driftPrior, this.lagSums, at, lagColumns);
      const slope = solver.x[4]!;
      const slopeUncertainty = Math.sqrt(solver.variance([0, 0, 0, 0, 1], lagColumns));
      // A drift is at least so fast: the rest of its prior is cut away.
      const cut = Math.log(Math.max(1e-300, beyond(slope, slopeUncertainty, least) / beyond(0, driftSize, least)));
      ways.push({
        kind: 'drift',
        index: i,
        weight: drifting + cut + Math.log(prior.drift / lags.length),
        tau: tau * this.spacing,
        toGo: Math.sign(slope) * Infinity,
        toGoUncertainty: 0,
        end: this.first + solver.x[0]! + (slope * t) / 100,
        endUncertainty: Math.sqrt(solver.variance([1, 0, 0, 0, t / 100], lagColumns)),
      });
    });
    swings.forEach(({ tau, omega }, i) => {
      const log = evidence(swingColumns, swingPrior, this.swingSums, i * packed(swingColumns), swingColumns);
      const e = Math.exp(-t / tau);
      const [x, grown] = [solver.x, t / tau];
      const [cosine, sine] = [x[1]! + grown * x[3]!, x[2]! + grown * x[4]!];
      ways.push({
        kind: 'swing',
        index: i,
        weight: log + Math.log(prior.swing / swings.length),
        tau: tau * this.spacing,
        // What is still to come of a swing is its height, whichever side it is on.
        toGo: (Math.sign(-cosine * Math.cos(omega * t) - sine * Math.sin(omega * t)) || 1) * e * Math.hypot(cosine, sine),
        toGoUncertainty:
          e *
          Math.sqrt(
            Math.max(solver.variance([0, 1, 0, grown, 0], swingColumns), solver.variance([0, 0, 1, 0, grown], swingColumns)),
          ),
        end: this.first + solver.x[0]!,
        endUncertainty: Math.sqrt(solver.variance([1, 0, 0, 0, 0], swingColumns)),
      });
    });
    return ways;
  }
}

/** Probability that a normal quantity is farther from zero than a bound. */
function beyond(mean: number, deviation: number, bound: number): number {
  return normalCdf((mean - bound) / deviation, 0, 1) + normalCdf((-mean - bound) / deviation, 0, 1);
}
