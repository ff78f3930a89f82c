export type UncertainPoint = { x: number; y: number; ux: number; uy: number };
export type UncertainLine = {
  intercept: number;
  slope: number;
  interceptUncertainty: number;
  slopeUncertainty: number;
  covariance: number;
  /** Σ of squared weighted distances; about n − 2 for a fair model. */ chiSquared: number;
  iterations: number;
};

/** Where every x is exact, York's line is ordinary weighted least squares; where every y is, the same with the axes exchanged. */
function checkPoints(points: readonly UncertainPoint[]): void {
  if (points.length < 2 || points.every((p) => p.x === points[0]!.x))
    throw new RangeError('A line needs points at two different x at least.');
  if (points.some((p) => !(p.ux >= 0) || !(p.uy >= 0) || !(p.ux + p.uy > 0)))
    throw new RangeError('Every point needs an uncertainty greater than 0 in at least one axis.');
}

/** Σ of squared weighted distances from the best line parallel to y; null where an exact x allows none. */
function chiSquaredOfUpright(points: readonly UncertainPoint[]): number | null {
  if (points.some((p) => p.ux === 0)) return null;
  const W = points.map((p) => 1 / p.ux ** 2);
  const X = points.reduce((s, p, i) => s + W[i]! * p.x, 0) / W.reduce((a, b) => a + b, 0);
  return points.reduce((s, p, i) => s + W[i]! * (p.x - X) ** 2, 0);
}

/**
 * Straight line with uncertainty in both axes, uncorrelated (York, Evensen, López & Delgado, Am. J. Phys. 72 (2004) 367).
 * The iteration starts from both regressions, y on x and x on y, and the line that lies nearer is kept: a steep line seen from
 * one start alone can settle on the worst line in place of the best.
 * @example lineWithBothUncertainties([{ x: 0, y: 1, ux: 0.1, uy: 0 }, { x: 1, y: 3, ux: 0.1, uy: 0 }]).slope // 2
 * @throws RangeError with fewer than two different x, when the line would be parallel to y, or when the iteration does not settle
 */
export function lineWithBothUncertainties(points: readonly UncertainPoint[]): UncertainLine {
  checkPoints(points);
  const n = points.length;
  const mx = points.reduce((s, p) => s + p.x, 0) / n;
  const my = points.reduce((s, p) => s + p.y, 0) / n;
  const sxx = points.reduce((s, p) => s + (p.x - mx) ** 2, 0);
  const sxy = points.reduce((s, p) => s + (p.x - mx) * (p.y - my), 0);
  const syy = points.reduce((s, p) => s + (p.y - my) ** 2, 0);
  const exactY = points.some((p) => p.uy === 0);
  if (exactY && syy === 0 && points.some((p) => p.ux > 0))
    throw new RangeError('All y are equal and exact: the x say nothing of a slope. Give the y an uncertainty, or fit a mean.');
  const starts = sxy === 0 ? (exactY ? [] : [0]) : [sxy / sxx, syy / sxy];
  const lines = starts.flatMap((slope) => settledLine(points, slope) ?? []);
  const best = lines.sort((a, b) => a.chiSquared - b.chiSquared)[0];
  const upright = chiSquaredOfUpright(points);
  if (upright !== null && (!best || upright < best.chiSquared * (1 - 1e-9)))
    throw new RangeError('A line parallel to y lies nearer to these points than any other: exchange the axes.');
  if (!best) throw new RangeError('The line did not settle: look for a point far from all others.');
  return best;
}

function settledLine(points: readonly UncertainPoint[], start: number): UncertainLine | null {
  let slope = start;
  for (let iterations = 1; iterations <= 200; iterations++) {
    const W = points.map((p) => 1 / (p.uy * p.uy + slope * slope * p.ux * p.ux));
    const total = W.reduce((a, b) => a + b, 0);
    const X = points.reduce((s, p, i) => s + W[i]! * p.x, 0) / total;
    const Y = points.reduce((s, p, i) => s + W[i]! * p.y, 0) / total;
    const beta = points.map((p, i) => W[i]! * ((p.x - X) * p.uy * p.uy + slope * (p.y - Y) * p.ux * p.ux));
    const next =
      points.reduce((s, p, i) => s + W[i]! * beta[i]! * (p.y - Y), 0) /
      points.reduce((s, p, i) => s + W[i]! * beta[i]! * (p.x - X), 0);
    if (!Number.isFinite(next)) return null;
    const change = Math.abs(next - slope);
    slope = next;
    if (change > 1e-14 * Math.abs(next) + 1e-300 && iterations < 200) continue;
    if (change > 1e-9 * Math.abs(next)) return null;
    const adjusted = beta.map((b) => X + b);
    const xbar = adjusted.reduce((s, v, i) => s + W[i]! * v, 0) / total;
    const slopeVariance = 1 / adjusted.reduce((s, v, i) => s + W[i]! * (v - xbar) ** 2, 0);
    const intercept = Y - slope * X;
    const line = {
      intercept,
      slope,
      slopeUncertainty: Math.sqrt(slopeVariance),
      interceptUncertainty: Math.sqrt(1 / total + xbar * xbar * slopeVariance),
      covariance: -xbar * slopeVariance,
      chiSquared: points.reduce((s, p, i) => s + W[i]! * (p.y - slope * p.x - intercept) ** 2, 0),
      iterations,
    };
    return Object.values(line).every(Number.isFinite) ? line : null;
  }
  return null;
}
