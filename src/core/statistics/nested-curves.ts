import { mean } from './moments';
import { tQuantile } from './student-t';

/** What a row of values over x is best told by: nothing but scatter, a constant, a line, a parabola. */
export type NestedCurve = {
  /** −1 where the values are told by scatter about zero. */ degree: -1 | 0 | 1 | 2;
  /** Of the chosen curve, one for each value. */ fitted: number[];
  /** Standard deviation of the values about it, in their unit; the floor where that is greater. */ scatter: number;
  dof: number;
};

const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((sum, v, i) => sum + v * b[i]!, 0);

/** Orthonormal polynomials over x, constant first, as many as the distinct values of x allow, at most three. */
function orthonormal(x: readonly number[]): number[][] {
  const [low, high] = [Math.min(...x), Math.max(...x)];
  const t = x.map((v) => (high === low ? 0 : (2 * (v - low)) / (high - low) - 1));
  const count = Math.min(3, new Set(x).size);
  const basis: number[][] = [];
  for (let d = 0; d < count; d++) {
    let column = t.map((v) => v ** d);
    for (const b of basis) {
      const along = dot(column, b);
      column = column.map((v, i) => v - along * b[i]!);
    }
    const length = Math.sqrt(dot(column, column));
    basis.push(column.map((v) => v / length));
  }
  return basis;
}

/**
 * Compares the nested models zero ⊂ constant ⊂ line ⊂ parabola, and takes the largest whose last term differs from zero by a t test
 * against the scatter about it (the extra-sum-of-squares test; Draper and Smith, Applied Regression Analysis, ch. 6). At least two
 * degrees of freedom stay for the scatter.
 * @param x where the values stand; the same for all: only zero and constant are compared
 * @param floor a scatter that the values have at least, in their unit: rounding and repeatability
 * @param significance of each test
 */
export function nestedCurve(x: readonly number[], y: readonly number[], floor = 0, significance = 0.01): NestedCurve {
  const basis = orthonormal(x);
  let rest = [...y];
  const scatterOf = (residuals: readonly number[], dof: number) =>
    Math.max(floor, dof > 0 ? Math.sqrt(dot(residuals, residuals) / dof) : 0);
  let best: NestedCurve = { degree: -1, fitted: y.map(() => 0), scatter: scatterOf(y, y.length), dof: y.length };
  for (const [d, column] of basis.entries()) {
    const dof = y.length - d - 1;
    if (dof < 2) break;
    const along = dot(rest, column);
    rest = rest.map((v, i) => v - along * column[i]!);
    const scatter = scatterOf(rest, dof);
    if (Math.abs(along) > tQuantile(1 - significance / 2, dof) * scatter)
      best = { degree: d as NestedCurve['degree'], fitted: y.map((v, i) => v - rest[i]!), scatter, dof };
  }
  return best;
}

/** Values that are left out in turn, at the most. */
const most = 20;

export type OddValue = { index: number; /** What the others would lead one to expect there. */ expected: number };

/**
 * The one value that the others do not explain: each is left out in turn, the others are told by their nested curve, and the value is
 * compared with what this predicts (externally studentised residual, Bonferroni's bound for all). The curve of all has to leave
 * more than twice the scatter that is left when the value is gone: what a bent row explains is no odd value.
 * @returns null where there is none, or fewer than five values
 */
export function oddValue(x: readonly number[], y: readonly number[], floor = 0, significance = 0.01): OddValue | null {
  const n = y.length;
  if (n < 5) return null;
  const whole = nestedCurve(x, y, floor, significance);
  let [found, greatest] = [null as OddValue | null, 0];
  // Of many values only those furthest from the curve of all can stand apart.
  const distance = (i: number) => Math.abs(y[i]! - whole.fitted[i]!);
  const candidates = y
    .map((_, i) => i)
    .sort((a, b) => distance(b) - distance(a))
    .slice(0, most);
  for (const i of candidates) {
    const [xs, ys] = [x.filter((_, k) => k !== i), y.filter((_, k) => k !== i)];
    const others = nestedCurve(xs, ys, floor, significance);
    const { expected, leverage } = predictionAt(xs, ys, others.degree, x[i]!);
    const t = Math.abs(y[i]! - expected) / (others.scatter * Math.sqrt(1 + leverage));
    const bound = tQuantile(1 - significance / (2 * n), others.dof);
    if (t > bound && t / bound > greatest && whole.scatter > 2 * others.scatter)
      [found, greatest] = [{ index: i, expected }, t / bound];
  }
  return found;
}

/** What the polynomial of a degree through (x, y) gives at another place, and its leverage there. */
function predictionAt(x: number[], y: number[], degree: number, at: number): { expected: number; leverage: number } {
  if (degree < 0) return { expected: 0, leverage: 0 };
  const middle = mean(x);
  // Columns orthogonal over the known places, each extended to the new one.
  const rows = [...x, at].map((v) => v - middle);
  const columns: number[][] = [];
  for (let d = 0; d <= degree; d++) {
    let column = rows.map((v) => v ** d);
    for (const c of columns) {
      const along = dot(column.slice(0, -1), c.slice(0, -1));
      column = column.map((v, i) => v - along * c[i]!);
    }
    const known = column.slice(0, -1);
    const length = Math.sqrt(dot(known, known));
    columns.push(column.map((v) => v / length));
  }
  return columns.reduce(
    ({ expected, leverage }, c) => ({
      expected: expected + dot(c.slice(0, -1), y) * c.at(-1)!,
      leverage: leverage + c.at(-1)! ** 2,
    }),
    { expected: 0, leverage: 0 },
  );
}
