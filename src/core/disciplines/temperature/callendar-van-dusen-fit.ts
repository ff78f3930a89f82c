import { Matrix, QrDecomposition } from 'ml-matrix';
import { AnalysisError, numberLines, type DisciplineAnalysis } from '../discipline-analysis';

/** What the resistance is a sum of, over R0: 1, t, t², and below 0 °C (t − 100) t³ where C is fitted. */
const terms = (t: number, withC: boolean): number[] => [1, t, t * t, ...(withC ? [t < 0 ? (t - 100) * t ** 3 : 0] : [])];

/** Coefficients of a platinum resistance thermometer from its calibrated points. */
export const callendarVanDusenFit: DisciplineAnalysis = {
  name: 'temperature/callendar-van-dusen-fit',
  title: 'Callendar–Van Dusen coefficients through calibrated points',
  input: 'a line a point: temperature in °C and resistance in Ω; the points of all repeats together',
  needs: [{ id: 'withC', title: '1 to fit C from the points below 0 °C, 0 to leave it out', unit: '1', default: 0 }],
  gives: [
    { id: 'R0', title: 'resistance at 0 °C', unit: 'Ohm' },
    { id: 'A', title: 'coefficient A', unit: '1/K' },
    { id: 'B', title: 'coefficient B', unit: '1/K²' },
    { id: 'C', title: 'coefficient C; 0 where it is left out', unit: '1/K⁴' },
    { id: 'greatestResidual', title: 'greatest distance of a point from the curve', unit: 'Ohm' },
  ],
  validity: 'at least three temperatures; with C four, and at least one of them below 0 °C; resistances above 0',
  source: 'IEC 60751:2022, 5.2: R = R0 (1 + A t + B t²), below 0 °C with + C (t − 100 °C) t³; least squares in R',
  analyse: (files, given) => {
    const points = files.flatMap(numberLines);
    const withC = given['withC'] === 1;
    if (points.some((p) => p.length !== 2)) throw new AnalysisError('Each line holds a temperature in °C and a resistance in Ω.');
    const wrong = points.find(([t, R]) => R! <= 0 || t! < -200 || t! > 850);
    if (wrong)
      throw new AnalysisError(
        `${wrong[0]} °C, ${wrong[1]} Ω is outside the equation: −200 °C to 850 °C, and a resistance above 0.`,
      );
    const least = withC ? 4 : 3;
    const temperatures = new Set(points.map(([t]) => t));
    if (temperatures.size < least)
      throw new AnalysisError(`This fit needs at least ${least} temperatures; there are ${temperatures.size}.`);
    if (withC && !points.some(([t]) => t! < 0)) throw new AnalysisError('C is known from points below 0 °C only; there is none.');
    // Columns of like size: temperatures as shares of the greatest.
    const scale = Math.max(...points.map(([t]) => Math.abs(t!)), 1);
    const scales = terms(-scale, withC).map((v) => Math.abs(v) || 1);
    const rows = points.map(([t]) => terms(t!, withC).map((v, i) => v / scales[i]!));
    const solved = new QrDecomposition(new Matrix(rows)).solve(Matrix.columnVector(points.map(([, R]) => R!))).to1DArray();
    const [R0, a, b, c = 0] = solved.map((v, i) => v / scales[i]!) as [number, number, number, number?];
    if (!(R0 > 0)) throw new AnalysisError('These points give no resistance at 0 °C.');
    const residuals = points.map(([t, R]) =>
      Math.abs(R! - terms(t!, withC).reduce((sum, v, i) => sum + v * [R0, a, b, c][i]!, 0)),
    );
    return { R0, A: a / R0, B: b / R0, C: c / R0, greatestResidual: Math.max(...residuals) };
  },
};
