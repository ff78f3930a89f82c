import { withoutBinaryNoise } from '../quantity/decimal-noise';
import type { Tolerance, ToleranceStatement } from './conformity-schema';

/** Limits for the error; null where there is no limit on that side. */
export type Limits = { lower: number | null; upper: number | null };

type Term = ToleranceStatement['terms'][number];

function termMagnitude(term: Term, indicated: number, reference: number): number {
  if ('absolute' in term) return term.absolute;
  if ('ofReading' in term) return term.ofReading * Math.abs(indicated);
  if ('ofReference' in term) return term.ofReference * Math.abs(reference);
  if ('ofRange' in term) return term.ofRange * term.range;
  if ('counts' in term) return term.counts * term.resolution;
  return term.perLength * term.length;
}

/** The half-width of an accuracy statement at an indicated and a reference value, in the unit of the indication. */
export function statementHalfWidth(statement: ToleranceStatement, indicated: number, reference = indicated): number {
  const magnitudes = statement.terms.map((term) => termMagnitude(term, indicated, reference));
  const half = statement.combine === 'greatest' ? Math.max(...magnitudes) : magnitudes.reduce((a, b) => a + b, 0);
  return withoutBinaryNoise(half, Math.max(...magnitudes));
}

/** The limits for the error at an indicated and a reference value. */
export function toleranceLimits(tolerance: Tolerance, indicated: number, reference = indicated): Limits {
  if ('terms' in tolerance) {
    const half = statementHalfWidth(tolerance, indicated, reference);
    return { lower: -half, upper: half };
  }
  return { lower: tolerance.lower ?? null, upper: tolerance.upper ?? null };
}
