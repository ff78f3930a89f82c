import type { Tolerance, ToleranceStatement } from './conformity-schema';

/** Limits for the error; null where there is no limit on that side. */
export type Limits = { lower: number | null; upper: number | null };

type Term = ToleranceStatement['terms'][number];

function termMagnitude(term: Term, indicated: number): number {
  if ('absolute' in term) return term.absolute;
  if ('ofReading' in term) return term.ofReading * Math.abs(indicated);
  if ('ofRange' in term) return term.ofRange * term.range;
  if ('counts' in term) return term.counts * term.resolution;
  return term.perLength * term.length;
}

/** The half-width of an accuracy statement at an indicated value, in the unit of the indication. */
export function statementHalfWidth(statement: ToleranceStatement, indicated: number): number {
  const magnitudes = statement.terms.map((term) => termMagnitude(term, indicated));
  return statement.combine === 'greatest' ? Math.max(...magnitudes) : magnitudes.reduce((a, b) => a + b, 0);
}

/** The limits for the error at an indicated value. */
export function toleranceLimits(tolerance: Tolerance, indicated: number): Limits {
  if ('terms' in tolerance) {
    const half = statementHalfWidth(tolerance, indicated);
    return { lower: -half, upper: half };
  }
  return { lower: tolerance.lower ?? null, upper: tolerance.upper ?? null };
}
