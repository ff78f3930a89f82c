import { Matrix, QrDecomposition } from 'ml-matrix';
import { formula, formulaValue } from '../formula/formula';
import type { FitDocument } from '../procedure/document-schema';
import type { Absent } from '../faults';
import { onceNotOfItself } from './once';
import { DocumentError, ifHad, LeftOut, OffScale, Undeterminable } from '../faults';
import { groupsOf, type Member } from './groups';
import { evaluateText, isIn, type Instance, type Path, type Point, type Scope, type Series, type Setting } from './setting';

export type Fit = {
  instance: Instance | null;
  point: Point | null;
  sweep: string | null;
  coefficients: number[];
  standardUncertainties: (number | null)[];
  residualStandardDeviation: number | null;
  dof: number;
  residualOf: Map<string, number>;
  /** Why it cannot be told: what it runs through is not determined somewhere. */ unknown: Absent | null;
};

/** Key of a member of a group: its place, and its repeat. */
export const memberKey = (m: Member): string => `${m.instance.id ?? ''}|${m.point.id}|${m.sweep ?? ''}|${m.repeat ?? ''}`;

/** Coefficients of a sum of basis functions by least squares, with their covariance from the residuals (Björck 1996; JCGM 100, H.3). */
function leastSquares(rows: number[][], y: number[], path: Path) {
  const terms = rows[0]!.length;
  const scale = Array.from({ length: terms }, (_, j) => Math.max(...rows.map((r) => Math.abs(r[j]!))) || 1);
  const qr = new QrDecomposition(new Matrix(rows.map((r) => r.map((v, j) => v / scale[j]!))));
  const R = qr.upperTriangularMatrix;
  const diagonal = scale.map((_, j) => Math.abs(R.get(j, j)));
  if (!qr.isFullRank() || Math.min(...diagonal) < 1e-12 * Math.max(...diagonal))
    throw new DocumentError('These points do not fix the coefficients of the fit: they are too alike for its basis.', path);
  const solved = qr.solve(Matrix.columnVector(y)).to1DArray();
  const coefficients = solved.map((c, j) => c / scale[j]!);
  const residuals = y.map((v, i) => v - rows[i]!.reduce((sum, r, j) => sum + r * coefficients[j]!, 0));
  const dof = y.length - terms;
  const s = dof > 0 ? Math.sqrt(residuals.reduce((sum, r) => sum + r * r, 0) / dof) : null;
  // Rows of R⁻¹: their norms times s are the uncertainties.
  const inverse = Array.from({ length: terms }, () => new Array<number>(terms).fill(0));
  for (let j = terms - 1; j >= 0; j--)
    for (let k = terms - 1; k >= j; k--) {
      let sum = j === k ? 1 : 0;
      for (let m = j + 1; m <= k; m++) sum -= R.get(j, m) * inverse[m]![k]!;
      inverse[j]![k] = sum / R.get(j, j);
    }
  const standardUncertainties = inverse.map((row, j) => (s === null ? null : (s * Math.hypot(...row)) / scale[j]!));
  return { coefficients, standardUncertainties, residualStandardDeviation: s, dof, residuals };
}

/** The fits of a series in a set: one for each thing that `over` leaves. @throws LeftOut when the fit is left out */
export function fitsOf(s: Setting, series: Series, doc: FitDocument, set: string): Fit[] {
  const key = `fit|${set}|${series.doc.id}|${doc.id}`;
  const path = [...series.path, 'fits', series.doc.fits.indexOf(doc)];
  return onceNotOfItself(s.memo, key, `The fit ${doc.id} depends on itself.`, path, () => workOut(s, series, doc, set, path));
}

function workOut(s: Setting, series: Series, doc: FitDocument, set: string, path: Path): Fit[] {
  const groups = groupsOf(s, series, doc, set, path);
  if (groups.length > 0 && !groups.some((group) => isIn(s, doc.when, group.scope))) throw new LeftOut(`fit ${doc.id}`);
  return groups.flatMap((group): Fit[] => {
    if (!isIn(s, doc.when, group.scope)) return [];
    let unknown: Absent | null = null;
    const points = group.members.flatMap((member) => {
      const scope: Scope = { ...group.scope, ...member.scope, used: undefined, path };
      const at = (text: string, member: string) =>
        ifHad(() => {
          try {
            return evaluateText(s, text, { ...scope, path: [...path, member] });
          } catch (error) {
            // A reading at the end of its scale enters no fit; one that the certificate does not reach leaves the fit unknown.
            if (error instanceof Undeterminable && !(error instanceof OffScale)) unknown ??= error;
            throw error;
          }
        });
      const [x, y] = [at(doc.x, 'x'), at(doc.y, 'y')];
      if (x === undefined || y === undefined) return [];
      const row = doc.basis.map((text) => {
        const f = formula(text);
        return formulaValue(
          f,
          (name) => {
            if (name !== 'x') throw new DocumentError(`A basis is a function of x alone, not of "${name}".`, [...path, 'basis']);
            return x;
          },
          () => {
            throw new DocumentError('A basis is written in the model language alone.', [...path, 'basis']);
          },
        );
      });
      return [{ member, row, y }];
    });
    const { instance, point, sweep } = group;
    if (unknown) {
      const none = {
        coefficients: [],
        standardUncertainties: [],
        residualStandardDeviation: null,
        dof: 0,
        residualOf: new Map(),
      };
      return [{ instance, point, sweep, ...none, unknown }];
    }
    if (points.length < doc.basis.length) return [];
    const fitted = leastSquares(
      points.map((p) => p.row),
      points.map((p) => p.y),
      path,
    );
    const { residuals, ...rest } = fitted;
    return [
      {
        instance,
        point,
        sweep,
        unknown,
        ...rest,
        residualOf: new Map(points.map((p, i) => [memberKey(p.member), residuals[i]!])),
      },
    ];
  });
}
