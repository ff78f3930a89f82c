import { LuDecomposition, Matrix, solve } from 'ml-matrix';

type Point = readonly number[];
type Linear = { rows: number[][]; heights: number[] };
type Tried = { change: number[]; width: number };

/** Rounds of weighting before the few points that carry the zone stand out. */
const weightings = 120;
const exchanges = 100;

/** A small square system; where points repeat each other, the least of its solutions. */
function solved(square: number[][], side: number[]): number[] {
  const [matrix, column] = [new Matrix(square), Matrix.columnVector(side)];
  const lu = new LuDecomposition(matrix);
  return (lu.isSingular() ? solve(matrix, column, true) : lu.solve(column)).to1DArray();
}

/** Distances from a centre, with what each changes by as the centre and the middle radius move. */
function linearAt(points: readonly Point[], centre: readonly number[]): Linear {
  const heights = points.map((p) => Math.hypot(...p.map((v, d) => v - centre[d]!)));
  const rows = points.map((p, i) => [...p.map((v, d) => (v - centre[d]!) / heights[i]!), 1]);
  return { rows, heights };
}

const residualsOf = ({ rows, heights }: Linear, x: readonly number[]): number[] =>
  heights.map((h, i) => h - rows[i]!.reduce((s, v, d) => s + v * x[d]!, 0));

const widthOf = (residuals: readonly number[]): number =>
  residuals.reduce((a, b) => Math.max(a, b), -Infinity) - residuals.reduce((a, b) => Math.min(a, b), Infinity);

/** Weighted least squares by the few normal equations: rows of unit vectors are well conditioned. */
function leastSquares({ rows, heights }: Linear, weights: readonly number[]): number[] {
  const size = rows[0]!.length;
  const square = Array.from({ length: size }, () => new Array<number>(size).fill(0));
  const side = new Array<number>(size).fill(0);
  for (let i = 0; i < rows.length; i++)
    for (let a = 0; a < size; a++) {
      const weighted = weights[i]! * rows[i]![a]!;
      side[a]! += weighted * heights[i]!;
      for (let b = 0; b < size; b++) square[a]![b]! += weighted * rows[i]![b]!;
    }
  return solved(square, side);
}

/** Minimax by weights that grow where the residual is large (Lawson 1961): near the optimum, and where it lies. */
function weighted(linear: Linear): { x: number[]; weights: number[] } {
  const n = linear.heights.length;
  let weights = linear.heights.map(() => 1 / n);
  let x: number[] = [];
  for (let round = 0; round < weightings; round++) {
    x = leastSquares(linear, weights);
    const next = residualsOf(linear, x).map((r, i) => weights[i]! * Math.abs(r));
    const total = next.reduce((a, b) => a + b, 0);
    if (!(total > 0)) break;
    weights = next.map((w) => w / total);
  }
  return { x, weights };
}

/** The exact optimum from the points that carry it: as many as there are unknowns and one, exchanged while another stands out. */
function exchanged(linear: Linear, start: ReturnType<typeof weighted>): Tried {
  const size = linear.rows[0]!.length + 1;
  let best: Tried = { change: start.x, width: widthOf(residualsOf(linear, start.x)) };
  let carriers = start.weights
    .map((w, i) => [w, i] as const)
    .sort((a, b) => b[0] - a[0])
    .slice(0, size)
    .map(([, i]) => i);
  let x = start.x;
  for (let round = 0; round < exchanges; round++) {
    const before = residualsOf(linear, x);
    // h − row · x = ± half the width, with the sign that each carrier has now.
    const system = carriers.map((i) => [...linear.rows[i]!, Math.sign(before[i]!) || 1]);
    const found = solved(
      system,
      carriers.map((i) => linear.heights[i]!),
    );
    x = found.slice(0, -1);
    const residuals = residualsOf(linear, x);
    const width = widthOf(residuals);
    if (!Number.isFinite(width)) break;
    if (width < best.width) best = { change: x, width };
    const worst = residuals.reduce((a, r, i) => (Math.abs(r) > Math.abs(residuals[a]!) ? i : a), 0);
    if (carriers.includes(worst)) break;
    // The carrier whose leaving makes the zone of the rest with the new one narrowest leaves.
    const tries = carriers.map((out) => {
      const kept = [...carriers.filter((i) => i !== out), worst];
      const trial = solved(
        kept.map((i) => [...linear.rows[i]!, Math.sign(residuals[i]!) || 1]),
        kept.map((i) => linear.heights[i]!),
      );
      return { kept, width: widthOf(residualsOf(linear, trial.slice(0, -1))) };
    });
    const narrowest = tries.reduce((a, b) => (b.width < a.width ? b : a));
    if (!(narrowest.width < width)) break;
    carriers = narrowest.kept;
  }
  return best;
}

/**
 * Width of the minimum zone: the least that greatest less least distance from any one centre can be (ISO 1101, 3.2; Chebyshev).
 * Equal points, or too few to be unround, give 0.
 * @param points in any one unit @param centre from which to begin: the least-squares centre
 * @returns in the unit of the points
 * @example minimumZone([[1, 0], [-1, 0], [0, 1], [0, -1]], [0.1, 0]) // 0
 */
export function minimumZone(points: readonly Point[], centre: readonly number[]): number {
  let at = [...centre];
  let width = widthOf(linearAt(points, at).heights);
  for (let round = 0; round < 3; round++) {
    const linear = linearAt(points, at);
    const { change } = exchanged(linear, weighted(linear));
    const moved = at.map((v, d) => v + change[d]!);
    const next = widthOf(linearAt(points, moved).heights);
    if (!(next < width)) break;
    [at, width] = [moved, next];
  }
  return width;
}
