import type { Distribution } from './budget-schema';
import { mean, standardDeviation } from '../statistics/moments';

/** What first-order propagation needs of a distribution. `dof` is null for infinitely many. */
export type DistributionSummary = { estimate: number; standardUncertainty: number; dof: number | null };

/**
 * The limits of a rectangular distribution however it was given.
 * @example rectangularLimits({ type: 'rectangular', lower: 1, upper: 3 }) // { centre: 2, halfWidth: 1 }
 */
export function rectangularLimits(d: Extract<Distribution, { type: 'rectangular' }>): { centre: number; halfWidth: number } {
  if (d.lower !== undefined && d.upper !== undefined)
    return { centre: d.lower + (d.upper - d.lower) / 2, halfWidth: (d.upper - d.lower) / 2 };
  return { centre: d.mean!, halfWidth: d.halfWidth! };
}

/**
 * Estimate, standard uncertainty and degrees of freedom of a distribution (JCGM 100, 4.2–4.3; JCGM 101, 6.4).
 * @example summarizeDistribution({ type: 'rectangular', mean: 0, halfWidth: 3 }).standardUncertainty // 1.7320508
 */
export function summarizeDistribution(d: Distribution): DistributionSummary {
  const finite = (dof: number | undefined): number | null => dof ?? null;
  switch (d.type) {
    case 'constant':
      return { estimate: d.value, standardUncertainty: 0, dof: null };
    case 'normal':
      return {
        estimate: d.mean,
        standardUncertainty: d.standardUncertainty ?? d.expandedUncertainty! / d.coverageFactor!,
        dof: finite(d.dof),
      };
    case 'readings': {
      const s = d.pooled ? d.pooled.standardDeviation : standardDeviation(d.values);
      const ofMean = s / Math.sqrt(d.values.length);
      const floor = d.floor ?? 0;
      // Scatter below the floor is a rounded display, not knowledge: what is then known is the floor, exactly.
      const floorRules = floor > ofMean;
      return {
        estimate: mean(d.values),
        standardUncertainty: floorRules ? floor : ofMean,
        dof: floorRules ? null : (d.dof ?? d.pooled?.dof ?? d.values.length - 1),
      };
    }
    case 'rectangular': {
      const { centre, halfWidth } = rectangularLimits(d);
      return { estimate: centre, standardUncertainty: halfWidth / Math.sqrt(3), dof: finite(d.dof) };
    }
    case 'triangular':
      return { estimate: d.mean, standardUncertainty: d.halfWidth / Math.sqrt(6), dof: finite(d.dof) };
    case 'arcsine':
      return { estimate: d.mean, standardUncertainty: d.halfWidth / Math.SQRT2, dof: finite(d.dof) };
    case 'trapezoidal':
      return { estimate: d.mean, standardUncertainty: d.halfWidth * Math.sqrt((1 + d.shape * d.shape) / 6), dof: finite(d.dof) };
    case 'curvilinear-trapezoidal':
      return {
        estimate: d.mean,
        standardUncertainty: Math.sqrt(d.halfWidth ** 2 / 3 + d.halfWidthUncertainty ** 2 / 9),
        dof: finite(d.dof),
      };
    case 'student-t':
      // The standard deviation of the distribution itself already carries the few degrees of freedom (JCGM 101, 6.4.9.4).
      return { estimate: d.mean, standardUncertainty: d.scale * Math.sqrt(d.dof / (d.dof - 2)), dof: null };
    case 'exponential':
      return { estimate: d.mean, standardUncertainty: d.mean, dof: finite(d.dof) };
    case 'gamma':
      return { estimate: d.shape * d.scale, standardUncertainty: Math.sqrt(d.shape) * d.scale, dof: finite(d.dof) };
  }
}
