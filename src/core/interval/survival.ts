import normalQuantile from '@stdlib/stats-base-dists-normal-quantile';
import { quickNormalCdf } from './normal';

/** How the share that is still inside falls with the time since it was put in order. */
export type SurvivalModel = 'exponential' | 'weibull' | 'random-walk';
export const survivalModels: readonly SurvivalModel[] = ['exponential', 'weibull', 'random-walk'];

/**
 * One member of a model: the months `time` at which the share is `target`, and one shape. Told so because the time is what is asked
 * for, and what the data tell best. Shapes: none for the exponential; β of the Weibull; of the random walk the part of the variance
 * that is there at once.
 */
export type Survival = { model: SurvivalModel; target: number; time: number; shape: number };

/** Bounds of the shape that a fit looks between. */
export const shapeBounds: Record<SurvivalModel, [number, number]> = {
  exponential: [1, 1],
  weibull: [0.35, 4],
  'random-walk': [0, 0.9],
};

/** Told before: a fit asks for that of one target a million times. */
let [targetTold, varianceTold] = [NaN, NaN];

/** Variance of the walk, in squared limits, whose share inside ±1 is `target`. @example varianceAt(0.9) // 0.369612 */
export function varianceAt(target: number): number {
  if (target !== targetTold) [targetTold, varianceTold] = [target, 1 / normalQuantile((1 + target) / 2, 0, 1) ** 2];
  return varianceTold;
}

const insideWalk = (variance: number): number => (variance <= 0 ? 1 : 2 * quickNormalCdf(1 / Math.sqrt(variance)) - 1);

const walkVariance = ({ target, time, shape }: Survival, months: number): number =>
  varianceAt(target) * (shape + ((1 - shape) * months) / time);

/**
 * Share still inside, some months after being put in order. Exponential R^(t/T); Weibull R^((t/T)^β); random walk 2Φ(1/σ(t)) − 1
 * with σ²(t) = σ²(T)·(c + (1 − c)·t/T) (Castrup, statistical interval analysis; ILAC-G24/OIML D 10).
 * @example shareInside({ model: 'exponential', target: 0.95, time: 12, shape: 1 }, 24) // 0.9025
 */
export function shareInside(s: Survival, months: number): number {
  if (months <= 0 && s.model !== 'random-walk') return 1;
  switch (s.model) {
    case 'exponential':
      return Math.exp((Math.log(s.target) * months) / s.time);
    case 'weibull':
      return Math.exp(Math.log(s.target) * (months / s.time) ** s.shape);
    case 'random-walk':
      return insideWalk(walkVariance(s, Math.max(0, months)));
  }
}

/** Half of the interval from −1 to 1, which is like the other: nodes and weights of Gauss and Legendre, of order 8. */
const nodes = [0.1834346424956498, 0.525532409916329, 0.7966664774136267, 0.9602898564975363];
const weights = [0.362683783378362, 0.3137066458778873, 0.2223810344533745, 0.1012285362903763];

/**
 * Share inside at `until`, of those that were seen inside at `since` and left as they were; months since being put in order.
 * For the walk the two are one after the other: the first place within what was left as it was, then the step from there.
 * @param within the most of its tolerance that was used where nothing was done: 1, or less where those near the limit are adjusted
 * @example shareStillInside(survival, 0, 12) // 0.95
 */
export function shareStillInside(s: Survival, since: number, until: number, within = 1): number {
  if (since <= 0) return shareInside(s, until);
  if (until <= since) return 1;
  if (s.model === 'exponential') return shareInside(s, until - since);
  // Of the difference of exponents, not of shares: both may be too small for a number.
  if (s.model === 'weibull') return Math.exp(Math.log(s.target) * ((until / s.time) ** s.shape - (since / s.time) ** s.shape));
  const first = walkVariance(s, since);
  const step = walkVariance(s, until) - first;
  if (step <= 0) return 1;
  const [sd, d] = [Math.sqrt(step), 1 / Math.sqrt(first)];
  let [both, once] = [0, 0];
  for (let i = 0; i < nodes.length; i++) {
    const x = within * nodes[i]!;
    const density = weights[i]! * Math.exp(-0.5 * (x * d) ** 2);
    once += density;
    both += density * (quickNormalCdf((1 - x) / sd) - quickNormalCdf((-1 - x) / sd));
  }
  return once > 0 ? Math.min(1, both / once) : 1;
}

/**
 * Months after which the share is `share`, of those last seen inside `since` months after being put in order; `most` where it stays above.
 * @example monthsUntil(survival, 0.95) // 12
 */
export function monthsUntil(s: Survival, share: number, since = 0, most = 1200): number {
  const holds = (months: number) => shareStillInside(s, since, since + months) >= share;
  if (s.model === 'exponential') return Math.min(most, (s.time * Math.log(share)) / Math.log(s.target));
  if (s.model === 'weibull')
    return Math.min(most, ((since / s.time) ** s.shape + Math.log(share) / Math.log(s.target)) ** (1 / s.shape) * s.time - since);
  if (holds(most)) return most;
  let [a, b] = [0, most];
  for (let i = 0; i < 40; i++) {
    const c = (a + b) / 2;
    if (holds(c)) a = c;
    else b = c;
  }
  return a;
}
