import normalQuantile from '@stdlib/stats-base-dists-normal-quantile';
import { tQuantile } from '../statistics/student-t';
import type { Coverage } from './budget-schema';

export const defaultCoverage: Coverage = { factor: 2 };

/** Above this many degrees of freedom t and the normal distribution agree to six digits, and the t quantile loses its own. */
export const mostDof = 1e6;

/** Whole numbers that a computation missed by rounding count as reached: 1/(¼ + ¼) is 2, not 1. */
const dofAllowance = 1e-9;

const quantiles = new Map<string, number>();

/** Student's t quantile, remembered: a run asks for the same few again and again, and each takes an inverse beta function. */
function studentQuantile(p: number, dof: number): number {
  const key = `${p} ${dof}`;
  const known = quantiles.get(key);
  if (known !== undefined) return known;
  if (quantiles.size >= 1000) quantiles.clear();
  const quantile = tQuantile(p, dof);
  quantiles.set(key, quantile);
  return quantile;
}

/**
 * Degrees of freedom as they are used for k: truncated to a whole number, at least 1 (JCGM 100, G.4.1 note 1).
 * @example truncatedDof(16.9) // 16
 */
export const truncatedDof = (effectiveDof: number): number => Math.max(1, Math.floor(effectiveDof * (1 + dofAllowance)));

/**
 * Coverage factor k for a coverage: as given, or from Student's t at the effective degrees of freedom truncated to an
 * integer (JCGM 100, G.4.1 note 1 and G.6.4). `effectiveDof` null means infinitely many, and so does more than a million.
 * @example coverageFactorFor({ probability: 0.95 }, 10.9) // 2.228, from t at 10
 */
export function coverageFactorFor(coverage: Coverage, effectiveDof: number | null): number {
  if ('factor' in coverage) return coverage.factor;
  const p = (1 + coverage.probability) / 2;
  return effectiveDof === null || effectiveDof > mostDof
    ? normalQuantile(p, 0, 1)
    : studentQuantile(p, truncatedDof(effectiveDof));
}

/**
 * Effective degrees of freedom by Welch–Satterthwaite: ν_eff = u_c⁴ / Σ (c_i u_i)⁴ / ν_i (JCGM 100, G.2b).
 * Null when every contribution has infinitely many, when more than a million result, or when the combined uncertainty is zero.
 */
export function welchSatterthwaite(
  combined: number,
  contributions: readonly { contribution: number; dof: number | null }[],
): number | null {
  if (combined === 0) return null;
  let sum = 0;
  // Relative to the combined uncertainty, so that fourth powers of tiny units do not underflow.
  for (const { contribution, dof } of contributions) if (dof !== null) sum += (contribution / combined) ** 4 / dof;
  return sum === 0 || 1 / sum > mostDof ? null : 1 / sum;
}
