import { Matrix, QrDecomposition, inverse } from 'ml-matrix';
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

/**
 * Polynomial by least squares, weighted when u is given, through QR on scaled columns (Björck 1996; the results as JCGM 100, H.3).
 * Without u the covariance is s²(XᵀX)⁻¹ with s from the residuals; with u it is (XᵀWX)⁻¹.
 * @throws FitError when the x do not fix the coefficients
 */
export function fitCurve(question: FitQuestion): FittedCurve {
  const { x, y, degree, origin, u } = question;
  const first = question.throughZero ? 1 : 0;
  const powers = Array.from({ length: degree + 1 - first }, (_, j) => j + first);
  const reach = Math.max(...x.map((v) => Math.abs(v - origin))) || 1;
  // Powers of t = (x − origin)/reach stay within ±1, whatever the unit of x.
  const row = (at: number) => powers.map((p) => ((at - origin) / reach) ** p);
  const weight = (i: number) => (u ? 1 / u[i]! : 1);
  const design = new Matrix(x.map((v, i) => row(v).map((c) => c * weight(i))));
  const qr = new QrDecomposition(design);
  const R = qr.upperTriangularMatrix;
  const diagonal = powers.map((_, j) => Math.abs(R.get(j, j)));
  if (!qr.isFullRank() || Math.min(...diagonal) < 1e-12 * Math.max(...diagonal))
    throw new FitError(
      `These x do not fix a curve of degree ${degree}: too many of them are equal. Add points at other x, or lower the degree.`,
      ['x'],
    );
  const scaled = qr.solve(Matrix.columnVector(y.map((v, i) => v * weight(i)))).to1DArray();
  const residuals = y.map((v, i) => v - row(x[i]!).reduce((sum, c, j) => sum + c * scaled[j]!, 0));
  const dof = x.length - powers.length;
  const residualStandardDeviation = dof > 0 ? Math.sqrt(residuals.reduce((sum, r) => sum + r * r, 0) / dof) : null;
  const Rinverse = inverse(R.subMatrix(0, powers.length - 1, 0, powers.length - 1));
  const scale = u ? 1 : residualStandardDeviation! ** 2;
  const scaledCovariance = Rinverse.mmul(Rinverse.transpose()).mul(scale).to2DArray();
  const unscale = powers.map((p) => reach ** -p);
  const covariance = scaledCovariance.map((r, i) => r.map((c, j) => c * unscale[i]! * unscale[j]!));
  const standardUncertainties = covariance.map((r, i) => Math.sqrt(r[i]!));
  const predict = (at: number) => {
    const r = row(at);
    const variance = r.reduce((sum, a, i) => sum + r.reduce((inner, b, j) => inner + a * b * scaledCovariance[i]![j]!, 0), 0);
    return { y: r.reduce((sum, c, j) => sum + c * scaled[j]!, 0), standardUncertainty: Math.sqrt(Math.max(0, variance)) };
  };
  const coefficients = scaled.map((c, j) => c * unscale[j]!);
  return {
    coefficients,
    standardUncertainties,
    // A perfect fit has no scatter and so no correlation to speak of; the geometry of the points still fixes it.
    correlation: correlationFrom(Rinverse.mmul(Rinverse.transpose()).to2DArray()),
    residualStandardDeviation,
    dof,
    residuals,
    predictions: question.predict.map((at) => ({ x: at, ...predict(at) })),
    covariance,
    predict,
    slope: (at) => powers.reduce((sum, p, j) => sum + (p === 0 ? 0 : p * coefficients[j]! * (at - origin) ** (p - 1)), 0),
  };
}

function correlationFrom(covariance: number[][]): number[][] {
  return covariance.map((row, i) => row.map((c, j) => (i === j ? 1 : c / Math.sqrt(covariance[i]![i]! * covariance[j]![j]!))));
}

/** The result of the verb `fit`: numbers only. */
export function fitResult(question: FitQuestion): FitResult {
  const { covariance: _covariance, predict: _predict, slope: _slope, ...result } = fitCurve(question);
  return result;
}

/**
 * From a reading back to the value: the x at which the curve gives y, by Newton steps kept inside the fitted range widened by half.
 * Its uncertainty joins that of the curve with that of the reading: u²(x) = (u²(curve) + u²(y)) / slope² (JCGM 100, 5.1.2).
 * @throws FitError when the curve does not reach y there
 */
export function inversePrediction(
  curve: FittedCurve,
  y: number,
  standardUncertaintyOfY: number,
  range: { from: number; to: number },
): { x: number; standardUncertainty: number } {
  const margin = (range.to - range.from) / 2;
  let [low, high] = [range.from - margin, range.to + margin];
  const miss = (x: number) => curve.predict(x).y - y;
  const rising = miss(high) > miss(low);
  if (miss(low) * miss(high) > 0) throw new FitError(`The curve does not reach ${y} in or near the range of its points.`, ['y']);
  for (let i = 0; i < 200 && high - low > 1e-14 * Math.max(Math.abs(low), Math.abs(high)); i++) {
    const middle = low + (high - low) / 2;
    if (miss(middle) > 0 === rising) high = middle;
    else low = middle;
  }
  const x = low + (high - low) / 2;
  const slope = curve.slope(x);
  return { x, standardUncertainty: Math.hypot(curve.predict(x).standardUncertainty, standardUncertaintyOfY) / Math.abs(slope) };
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
