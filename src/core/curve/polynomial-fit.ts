import { Matrix, QrDecomposition } from 'ml-matrix';
import type { FitQuestion } from './fit-schema';

export type FitResult = {
  /** In powers of (x − origin), the constant first; a curve through zero begins with the linear one. */
  coefficients: number[];
  standardUncertainties: number[];
  correlation: number[][];
  /** √(Σ residual² / dof), in the unit of y; null without degrees of freedom. */
  residualStandardDeviation: number | null;
  dof: number;
  residuals: number[];
  predictions: { x: number; y: number; standardUncertainty: number }[];
};

/** Points that do not fix a curve, with the path of the fault. */
export class FitError extends Error {
  constructor(
    message: string,
    readonly path: (string | number)[],
  ) {
    super(message);
    this.name = 'FitError';
  }
}

export type FittedCurve = FitResult & {
  covariance: number[][];
  predict: (x: number) => { y: number; standardUncertainty: number };
  slope: (x: number) => number;
};

/** C(n, k), exact for the degrees a fit can have. */
const binomial = (n: number, k: number): number =>
  Array.from({ length: k }, (_, i) => (n - i) / (i + 1)).reduce((a, b) => a * b, 1);

/** Rᵀ v = r, R upper triangular: forward substitution. */
function solveTransposed(R: Matrix, r: readonly number[]): number[] {
  const v: number[] = [];
  for (let i = 0; i < r.length; i++) {
    let sum = r[i]!;
    for (let k = 0; k < i; k++) sum -= R.get(k, i) * v[k]!;
    v.push(sum / R.get(i, i));
  }
  return v;
}

/**
 * Polynomial by least squares, weighted when u is given, through QR (Björck 1996; the results as JCGM 100, H.3).
 * Without u the covariance is s²(XᵀX)⁻¹ with s from the residuals; with u it is (XᵀWX)⁻¹.
 *
 * The fit is made in powers of t, which runs from −1 to 1 over the points, wherever these lie and in whatever unit; the
 * uncertainty of a fitted value is s·|v| with Rᵀv = r, a norm in which nothing can cancel.
 * @example fitCurve({ x: [0, 1, 2], y: [1, 3, 5], degree: 1, origin: 0, predict: [] }).predict(1.5).y // 4
 * @throws FitError when the x do not fix the coefficients
 */
export function fitCurve(question: FitQuestion): FittedCurve {
  const { x, y, degree, origin, u } = question;
  const terms = degree + (question.throughZero ? 0 : 1);
  const [least, greatest] = [Math.min(...x), Math.max(...x)];
  const centre = least + (greatest - least) / 2;
  const half = (greatest - least) / 2 || 1;
  // Through zero, every term also carries (x − origin), in units of its greatest magnitude.
  const reach = question.throughZero ? Math.max(...x.map((v) => Math.abs(v - origin))) || 1 : 1;
  const powers = Array.from({ length: terms }, (_, j) => j);
  const lead = (at: number) => (question.throughZero ? (at - origin) / reach : 1);
  const row = (at: number) => powers.map((j) => lead(at) * ((at - centre) / half) ** j);
  const rowSlope = (at: number) =>
    powers.map((j) => {
      const t = (at - centre) / half;
      const inner = j === 0 ? 0 : (j * t ** (j - 1)) / half;
      return question.throughZero ? t ** j / reach + lead(at) * inner : inner;
    });
  const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, v, i) => sum + v * b[i]!, 0);

  const weight = (i: number) => (u ? 1 / u[i]! : 1);
  const qr = new QrDecomposition(new Matrix(x.map((v, i) => row(v).map((c) => c * weight(i)))));
  const R = qr.upperTriangularMatrix;
  const diagonal = powers.map((j) => Math.abs(R.get(j, j)));
  if (!qr.isFullRank() || Math.min(...diagonal) < 1e-12 * Math.max(...diagonal))
    throw new FitError(
      `These x do not fix a curve of degree ${degree}: too many of them are equal. Add points at other x, or lower the degree.`,
      ['x'],
    );
  const solution = qr.solve(Matrix.columnVector(y.map((v, i) => v * weight(i)))).to1DArray();
  const residuals = y.map((v, i) => v - dot(row(x[i]!), solution));
  const dof = x.length - terms;
  const residualStandardDeviation = dof > 0 ? Math.sqrt(residuals.reduce((sum, r) => sum + r * r, 0) / dof) : null;
  const scatter = u ? 1 : residualStandardDeviation!;
  const predict = (at: number) => {
    const r = row(at);
    return { y: dot(r, solution), standardUncertainty: scatter * Math.hypot(...solveTransposed(R, r)) };
  };

  // Each power of (x − origin) as a sum over the powers of t: t = (d + shift)/half with d = x − origin.
  const shift = origin - centre;
  const spread = powers.map((i) =>
    powers.map((j) => (j < i ? 0 : (binomial(j, i) * shift ** (j - i)) / half ** j / (question.throughZero ? reach : 1))),
  );
  const coefficients = spread.map((s) => dot(s, solution));
  // Rows whose norms are the coefficients' uncertainties, and whose angles are their correlations.
  const directions = spread.map((s) => solveTransposed(R, s));
  const lengths = directions.map((d) => Math.hypot(...d));
  return {
    coefficients,
    standardUncertainties: lengths.map((l) => scatter * l),
    // A perfect fit has no scatter and so no correlation to speak of; the geometry of the points still fixes it.
    correlation: directions.map((a, i) =>
      directions.map((b, j) => (i === j ? 1 : Math.max(-1, Math.min(1, dot(a, b) / (lengths[i]! * lengths[j]!))))),
    ),
    residualStandardDeviation,
    dof,
    residuals,
    predictions: question.predict.map((at) => ({ x: at, ...predict(at) })),
    covariance: directions.map((a) => directions.map((b) => scatter * scatter * dot(a, b))),
    predict,
    slope: (at) => dot(rowSlope(at), solution),
  };
}

/**
 * The result of the verb `fit`: numbers only.
 * @example fitResult({ x: [0, 1, 2], y: [1, 3, 5], degree: 1, origin: 0, predict: [] }).coefficients[1] // 2
 */
export function fitResult(question: FitQuestion): FitResult {
  const { covariance: _covariance, predict: _predict, slope: _slope, ...result } = fitCurve(question);
  return result;
}

/** Parts into which a range is cut to find every place where a curve reaches a value: enough for any degree a fit can have. */
const searchParts = 400;

/**
 * From a reading back to the value: the x at which the curve gives y, inside the fitted range, else in the half range beyond either end.
 * Its uncertainty joins that of the curve with that of the reading: u²(x) = (u²(curve) + u²(y)) / slope² (JCGM 100, 5.1.2).
 * @example a parabola that reaches y twice is refused: say which branch by a narrower range
 * @throws FitError when the curve does not reach y there, reaches it more than once, or is flat where it does
 */
export function inversePrediction(
  curve: FittedCurve,
  y: number,
  standardUncertaintyOfY: number,
  range: { from: number; to: number },
): { x: number; standardUncertainty: number } {
  const margin = (range.to - range.from) / 2;
  const [from, to] = [range.from - margin, range.to + margin];
  const miss = (x: number) => curve.predict(x).y - y;
  const places = Array.from({ length: searchParts + 1 }, (_, i) => from + ((to - from) * i) / searchParts);
  const misses = places.map(miss);
  const height = Math.max(...misses) - Math.min(...misses);
  const scale = Math.max(Math.abs(y), ...misses.map((m) => Math.abs(m + y)));
  if (height <= 1e-12 * scale)
    throw new FitError('The curve is flat over the range of its points: a reading says nothing about the value.', ['y']);
  const roots: number[] = [];
  for (let i = 0; i < searchParts; i++) {
    if (misses[i] === 0) roots.push(places[i]!);
    if (misses[i]! * misses[i + 1]! >= 0) continue;
    let [low, high] = [places[i]!, places[i + 1]!];
    const rising = misses[i + 1]! > misses[i]!;
    for (let step = 0; step < 200; step++) {
      const middle = low + (high - low) / 2;
      if (middle <= low || middle >= high) break;
      if (miss(middle) > 0 === rising) high = middle;
      else low = middle;
    }
    roots.push(low + (high - low) / 2);
  }
  if (misses[searchParts] === 0) roots.push(places[searchParts]!);
  if (roots.length === 0) throw new FitError(`The curve does not reach ${y} in or near the range of its points.`, ['y']);
  const inside = roots.filter((x) => x >= range.from && x <= range.to);
  const meant = inside.length ? inside : roots;
  const flatThere = () =>
    new FitError(`The curve is flat where it reaches ${y}: a reading there says nothing about the value.`, ['y']);
  // Two roots this near are one place that the curve only touches.
  if (meant.length > 1 && Math.max(...meant) - Math.min(...meant) < 1e-6 * (to - from)) throw flatThere();
  if (meant.length > 1)
    throw new FitError(
      `The curve reaches ${y} at ${meant.length} places (${meant.map((r) => String(Number(r.toPrecision(6)))).join(', ')}): a reading does not say which. Narrow the range, or choose another curve.`,
      ['y'],
    );
  const x = meant[0]!;
  const slope = Math.abs(curve.slope(x));
  if (slope * (range.to - range.from) <= 1e-9 * height) throw flatThere();
  return { x, standardUncertainty: Math.hypot(curve.predict(x).standardUncertainty, standardUncertaintyOfY) / slope };
}

export type DegreeChoice = {
  tried: { degree: number; checkError: number }[];
  /** The least degree that is good enough; null when none is. */ enough: number | null;
};

/**
 * How well each degree does at a point that took no part in the fit.
 * @param largest the greatest error there that is small enough, in the unit of y
 */
export function enoughDegree(
  points: { x: number[]; y: number[] },
  check: { x: number; y: number },
  largest: number,
  most = 5,
): DegreeChoice {
  const degrees = Array.from({ length: Math.max(0, Math.min(most, points.x.length - 2) + 1) }, (_, degree) => degree);
  const tried = degrees.map((degree) => ({
    degree,
    checkError: fitCurve({ ...points, degree, origin: 0, predict: [] }).predict(check.x).y - check.y,
  }));
  return { tried, enough: tried.find((t) => Math.abs(t.checkError) <= largest)?.degree ?? null };
}
