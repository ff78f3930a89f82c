import type { Distribution, Quantity } from '../uncertainty/budget-schema';
import { rectangularLimits, summarizeDistribution } from '../uncertainty/distribution';
import { gammaDeviate, normalDeviate } from './normal-deviate';
import type { RandomStream } from './random-stream';

/** Fills a column with draws. One loop a distribution, so that each stays fast. */
export type Sampler = (stream: RandomStream, column: Float64Array) => void;

const each =
  (draw: (stream: RandomStream) => number): Sampler =>
  (stream, column) => {
    for (let i = 0; i < column.length; i++) column[i] = draw(stream);
  };

// The two commonest loops stand by themselves, not in closures: compiled once, they stay compiled for every budget.
function fillNormal(stream: RandomStream, column: Float64Array, mean: number, deviation: number): void {
  for (let i = 0; i < column.length; i++) column[i] = mean + deviation * normalDeviate(stream);
}

function fillRectangular(stream: RandomStream, column: Float64Array, lower: number, width: number): void {
  for (let i = 0; i < column.length; i++) column[i] = lower + width * stream.uniform();
}

const normal =
  (mean: number, deviation: number): Sampler =>
  (stream, column) =>
    fillNormal(stream, column, mean, deviation);

const rectangular =
  (lower: number, width: number): Sampler =>
  (stream, column) =>
    fillRectangular(stream, column, lower, width);

/** Scaled and shifted t: normal over the root of a chi-squared by its degrees of freedom (JCGM 101, 6.4.9.5). */
const studentT = (mean: number, scale: number, dof: number): Sampler =>
  each((stream) => mean + scale * normalDeviate(stream) * Math.sqrt(dof / (2 * gammaDeviate(stream, dof / 2))));

/** Inputs whose few degrees of freedom are a matter of scatter, and so sampled from t: readings, and normal ones from few. */
export const isSampledFromT = (d: Distribution): boolean =>
  (d.type === 'readings' || d.type === 'normal') && summarizeDistribution(d).dof !== null;

/**
 * The sampler of an input quantity (JCGM 101, 6.4). Readings, and normal inputs with finitely many degrees of freedom, are sampled
 * from the scaled and shifted t distribution (6.4.9). Degrees of freedom of any other kind say how well its width is known
 * (JCGM 100, G.4.2): its limits stay limits.
 */
export function samplerFor(quantity: Quantity): Sampler {
  const d: Distribution = quantity.distribution;
  const { estimate, standardUncertainty, dof } = summarizeDistribution(d);
  if (standardUncertainty === 0) return (_, column) => void column.fill(estimate);
  if (dof !== null && isSampledFromT(d)) return studentT(estimate, standardUncertainty, dof);
  switch (d.type) {
    case 'constant':
    case 'readings':
    case 'normal':
      return normal(estimate, standardUncertainty);
    case 'rectangular': {
      const { centre, halfWidth } = rectangularLimits(d);
      return rectangular(centre - halfWidth, 2 * halfWidth);
    }
    case 'triangular':
      return each((s) => d.mean + d.halfWidth * (s.uniform() + s.uniform() - 1));
    case 'trapezoidal': {
      const [wide, narrow] = [1 + d.shape, 1 - d.shape];
      return each((s) => d.mean + (d.halfWidth / 2) * (wide * (2 * s.uniform() - 1) + narrow * (2 * s.uniform() - 1)));
    }
    case 'arcsine':
      return each((s) => d.mean + d.halfWidth * Math.sin(2 * Math.PI * s.uniform()));
    case 'curvilinear-trapezoidal':
      return each((s) => {
        const reach = d.halfWidth + d.halfWidthUncertainty * (2 * s.uniform() - 1);
        return d.mean + reach * (2 * s.uniform() - 1);
      });
    case 'student-t':
      return studentT(d.mean, d.scale, d.dof);
    case 'exponential':
      return each((s) => -d.mean * Math.log(s.uniform()));
    case 'gamma':
      return each((s) => d.scale * gammaDeviate(s, d.shape));
  }
}
