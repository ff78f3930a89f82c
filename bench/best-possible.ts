import { quickNormalCdf } from '../src/core/interval/normal';
import type { Member } from '../src/core/interval/family';
import { outcomesOf } from '../src/core/interval/family-visits';
import { shareStillInside, varianceAt, type Survival } from '../src/core/interval/survival';
import { monthsBetween } from '../src/core/interval/visit';
import type { AdjustmentPolicy } from './simulated-laboratory';

/** Nodes between 0 and 1 of the midpoint rule: all weigh alike. */
const nodes = Array.from({ length: 24 }, (_, i) => (i + 0.5) / 24);

const density = (x: number, variance: number): number => Math.exp((-0.5 * x * x) / variance) / Math.sqrt(variance);
const logOf = (isInside: boolean, share: number): number => {
  const p = Math.min(1 - 1e-12, Math.max(1e-12, share));
  return isInside ? Math.log(p) : Math.log1p(-p);
};

/**
 * Log likelihood of all visits of one instrument whose error walks: each seen in the light of every one before it, by what is known of
 * where the error was (its distribution among those left as they were, |error| ≤ `within`).
 */
function walkLikelihood(s: Survival, visits: Member['visits'], within: number): number {
  const all = varianceAt(s.target);
  const sum = (values: readonly number[]) => values.reduce((a, b) => a + b, 0);
  let likelihood = 0;
  let where: number[] | null = null;
  for (const [i, visit] of visits.slice(1).entries()) {
    const step = (all * (1 - s.shape) * monthsBetween(visits[i]!.day, visit.day)) / s.time;
    const first = all * s.shape + step;
    const before: number[] | null = where;
    const [sd, half] = [Math.sqrt(step), 1 / Math.sqrt(first)];
    const inside = before
      ? sum(
          before.map(
            (p, k) => p * (quickNormalCdf((1 - within * nodes[k]!) / sd) - quickNormalCdf((-1 - within * nodes[k]!) / sd)),
          ),
        )
      : 2 * quickNormalCdf(half) - 1;
    likelihood += logOf(visit.isInside!, inside);
    if (visit.isRenewed) {
      where = null;
      continue;
    }
    const here = nodes.map((to): number =>
      before
        ? sum(before.map((p, k) => p * (density(within * (to - nodes[k]!), step) + density(within * (to + nodes[k]!), step))))
        : density(within * to, first),
    );
    const total = sum(here);
    where = here.map((p) => p / total);
  }
  return likelihood;
}

/** Log likelihood of one instrument at a curve; exactly what was simulated. */
function likelihoodOf(s: Survival, { visits }: Member, adjust: AdjustmentPolicy): number {
  if (s.model === 'random-walk') return walkLikelihood(s, visits, adjust === 'when-near' ? 0.8 : 1);
  return outcomesOf(visits).reduce((sum, o) => sum + logOf(o.isInside, shareStillInside(s, o.since, o.until)), 0);
}

/**
 * The share of families in which the months could be found within 10 % by the best of all unbiased ways, told the model beforehand:
 * from the least variance that the data allow (Cramér and Rao), the information being the mean square of the scores at the truth.
 * @param family how the families are made, from a seed
 */
export function mostWithin(
  truth: Survival,
  adjust: AdjustmentPolicy,
  family: (seed: number) => readonly Member[],
  families: number,
): number {
  const h = 0.02;
  const changed = (by: number, shape: number): Survival => ({
    ...truth,
    time: truth.time * Math.exp(by),
    shape: truth.model === 'random-walk' ? truth.shape + shape : truth.shape * Math.exp(shape),
  });
  const score = (m: Member, by: number, shape: number) =>
    (likelihoodOf(changed(by, shape), m, adjust) - likelihoodOf(changed(-by, -shape), m, adjust)) / (2 * h);
  let [time, both, shape] = [0, 0, 0];
  for (let seed = 0; seed < families; seed++)
    for (const member of family(seed)) {
      const a = score(member, h, 0);
      const b = truth.model === 'exponential' ? 0 : score(member, 0, h);
      time += (a * a) / families;
      both += (a * b) / families;
      shape += (b * b) / families;
    }
  const information = shape > 0 ? time - (both * both) / shape : time;
  return 2 * quickNormalCdf(Math.log(1.1) * Math.sqrt(information)) - 1;
}
