import { Matrix, solve } from 'ml-matrix';
import { AnalysisError, numberLines, type DisciplineAnalysis } from '../discipline-analysis';
import { minimumZone } from './minimum-zone';

/**
 * Centre and radius of the least-squares circle or sphere (Gaussian, ISO 10360-6): Gauss–Newton on the distances, from the algebraic fit.
 * @param points coordinates about their own mean
 */
function leastSquaresRound(points: readonly (readonly number[])[]): { centre: number[]; radius: number; distances: number[] } {
  const dimensions = points[0]!.length;
  const mean = Array.from({ length: dimensions }, (_, d) => points.reduce((s, p) => s + p[d]!, 0) / points.length);
  const about = points.map((p) => p.map((v, d) => v - mean[d]!));
  // Algebraic start: |p|² = 2 c·p + (r² − |c|²).
  const start = solve(
    new Matrix(about.map((p) => [...p.map((v) => 2 * v), 1])),
    Matrix.columnVector(about.map((p) => p.reduce((s, v) => s + v * v, 0))),
  ).to1DArray();
  let centre = start.slice(0, dimensions);
  let radius = Math.sqrt(Math.max(0, start[dimensions]! + centre.reduce((s, v) => s + v * v, 0)));
  const distancesFrom = (c: readonly number[]) => about.map((p) => Math.hypot(...p.map((v, d) => v - c[d]!)));
  for (let step = 0; step < 60; step++) {
    const distances = distancesFrom(centre);
    if (distances.some((d) => d === 0)) break;
    const rows = about.map((p, i) => [...p.map((v, d) => -(v - centre[d]!) / distances[i]!), -1]);
    const change = solve(new Matrix(rows), Matrix.columnVector(distances.map((d) => radius - d))).to1DArray();
    centre = centre.map((v, d) => v + change[d]!);
    radius += change[dimensions]!;
    if (Math.hypot(...change) <= 1e-15 * Math.max(1, radius)) break;
  }
  return { centre: centre.map((v, d) => v + mean[d]!), radius, distances: distancesFrom(centre) };
}

function round(name: 'circle' | 'sphere', dimensions: 2 | 3): DisciplineAnalysis {
  const least = dimensions + 1;
  return {
    name: `dimensional/${name}`,
    title: `Least-squares ${name} through probed points`,
    input: `a line a point: ${dimensions === 2 ? 'x y' : 'x y z'}; the points of all repeats together`,
    needs: [],
    gives: [
      { id: 'diameter', title: 'diameter', unit: 'unit of the coordinates' },
      { id: 'form', title: 'greatest less least distance from the centre', unit: 'unit of the coordinates' },
      {
        id: 'minimumZone',
        title: 'the same from the centre that makes it least (minimum-zone form)',
        unit: 'unit of the coordinates',
      },
    ],
    validity: `at least ${least} points that are not all in one ${dimensions === 2 ? 'line' : 'plane'}`,
    source:
      'Gaussian (least-squares) association, ISO 10360-5 and -6; minimum zone: Chebyshev association, ISO 1101 and ISO 12181',
    analyse: (files) => {
      const points = files.flatMap(numberLines);
      if (points.length < least) throw new AnalysisError(`A ${name} needs at least ${least} points; there are ${points.length}.`);
      if (points.some((p) => p.length !== dimensions))
        throw new AnalysisError(`Each line of a ${name} holds ${dimensions} coordinates.`);
      const { centre, radius, distances } = leastSquaresRound(points);
      if (!Number.isFinite(radius) || radius <= 0) throw new AnalysisError(`These points lie on no ${name}.`);
      const form = Math.max(...distances) - Math.min(...distances);
      return { diameter: 2 * radius, form, minimumZone: minimumZone(points, centre) };
    },
  };
}

export const circle = round('circle', 2);
export const sphere = round('sphere', 3);
