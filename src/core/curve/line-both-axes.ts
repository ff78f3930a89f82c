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

/**
 * Straight line with uncertainty in both axes, uncorrelated (York, Evensen, López & Delgado, Am. J. Phys. 72 (2004) 367).
 * @throws RangeError with fewer than two different x, or when the iteration does not settle
 */
export function lineWithBothUncertainties(points: readonly UncertainPoint[]): UncertainLine {
  if (points.length < 2 || points.every((p) => p.x === points[0]!.x))
    throw new RangeError('A line needs points at two different x at least.');
  if (points.some((p) => !(p.ux > 0) || !(p.uy > 0)))
    throw new RangeError('Every point needs an uncertainty greater than 0 in both axes.');
  const n = points.length;
  const mx = points.reduce((s, p) => s + p.x, 0) / n;
  const my = points.reduce((s, p) => s + p.y, 0) / n;
  let slope = points.reduce((s, p) => s + (p.x - mx) * (p.y - my), 0) / points.reduce((s, p) => s + (p.x - mx) ** 2, 0);
  for (let iterations = 1; iterations <= 200; iterations++) {
    const W = points.map((p) => 1 / (p.uy * p.uy + slope * slope * p.ux * p.ux));
    const total = W.reduce((a, b) => a + b, 0);
    const X = points.reduce((s, p, i) => s + W[i]! * p.x, 0) / total;
    const Y = points.reduce((s, p, i) => s + W[i]! * p.y, 0) / total;
    const beta = points.map((p, i) => W[i]! * ((p.x - X) * p.uy * p.uy + slope * (p.y - Y) * p.ux * p.ux));
    const next =
      points.reduce((s, p, i) => s + W[i]! * beta[i]! * (p.y - Y), 0) /
      points.reduce((s, p, i) => s + W[i]! * beta[i]! * (p.x - X), 0);
    const settled = Math.abs(next - slope) <= 1e-14 * Math.abs(next) + 1e-300;
    slope = next;
    if (!settled && iterations < 200) continue;
    if (!settled && Math.abs(next - slope) > 1e-9 * Math.abs(next)) break;
    const adjusted = beta.map((b) => X + b);
    const xbar = adjusted.reduce((s, v, i) => s + W[i]! * v, 0) / total;
    const slopeVariance = 1 / adjusted.reduce((s, v, i) => s + W[i]! * (v - xbar) ** 2, 0);
    const intercept = Y - slope * X;
    return {
      intercept,
      slope,
      slopeUncertainty: Math.sqrt(slopeVariance),
      interceptUncertainty: Math.sqrt(1 / total + xbar * xbar * slopeVariance),
      covariance: -xbar * slopeVariance,
      chiSquared: points.reduce((s, p, i) => s + W[i]! * (p.y - slope * p.x - intercept) ** 2, 0),
      iterations,
    };
  }
  throw new RangeError('The line did not settle: look for a point far from all others.');
}
