import { seededRandom, normalDeviate } from '../src/bench/random';
import type { DriftVisit } from '../src/core/interval/drift-filter';
import type { Member } from '../src/core/interval/family';
import { dayAfter } from '../src/core/interval/visit';
import { varianceAt, type Survival } from '../src/core/interval/survival';

/** What is done when an instrument comes back: adjusted every time, when most of its tolerance is used, or only when it is outside. */
export type AdjustmentPolicy = 'always' | 'when-near' | 'when-outside';

/** The error of an instrument in half tolerances; what is outside is beyond 1. */
export type Wanderer = { error: number; age: number };

const birth = '2000-01-01';

/** Months between two visits, as they are in life: called early, forgotten, sent in with others. */
const unequal = (random: () => number, from: number, to: number) => from * (to / from) ** random();

/** Instruments whose time to failure follows a curve, or whose error wanders as it says, seen at unequal intervals. */
export function simulatedFamily(
  truth: Survival,
  instruments: number,
  visits: number,
  intervals: [number, number],
  adjust: AdjustmentPolicy,
  seed: number,
): Member[] {
  const random = seededRandom(seed);
  return Array.from({ length: instruments }, (_, i) => {
    let months = 0;
    const seen: { day: string; isInside: boolean; isRenewed: boolean; share: number | null }[] = [
      { day: birth, isInside: true, isRenewed: true, share: null },
    ];
    let state = renewed(truth, random);
    for (let v = 0; v < visits; v++) {
      const dt = unequal(random, ...intervals);
      months += dt;
      const isInside = state.ages(dt);
      const share = state.share();
      const near = share === null ? random() < 0.4 : share > 0.8;
      const isRenewed = adjust === 'always' || !isInside || (adjust === 'when-near' && near);
      if (isRenewed) state = renewed(truth, random);
      seen.push({ day: dayAfter(birth, months), isInside, isRenewed, share });
    }
    return { id: `i${i + 1}`, visits: seen };
  });
}

/** One that has just been put in order. */
function renewed(truth: Survival, random: () => number) {
  if (truth.model === 'random-walk') {
    const all = varianceAt(truth.target);
    let error = Math.sqrt(all * truth.shape) * normalDeviate(random);
    return {
      ages: (dt: number) => {
        error += Math.sqrt((all * (1 - truth.shape) * dt) / truth.time) * normalDeviate(random);
        return Math.abs(error) <= 1;
      },
      share: (): number | null => Math.abs(error),
    };
  }
  const shape = truth.model === 'weibull' ? truth.shape : 1;
  const fails = truth.time * (Math.log(1 - random()) / Math.log(truth.target)) ** (1 / shape);
  let age = 0;
  return {
    ages: (dt: number) => (age += dt) < fails,
    // Nothing is seen of a failure before it comes: who adjusts all the same does so at random.
    share: (): number | null => null,
  };
}

/** What the error of an instrument does between visits. */
export type Motion = 'constant' | 'linear' | 'random walk' | 'moving and wandering' | 'stepping';

/** An error in half tolerances that moves as it is told: by 0.35 a year, by 0.25 in the root of a year, or by 0.5 once in three years. */
export function errorThatMoves(motion: Motion, random: () => number) {
  let error = 0.25 * normalDeviate(random);
  const moves = motion === 'linear' || motion === 'moving and wandering';
  const wanders = motion === 'random walk' || motion === 'moving and wandering';
  const rate = moves ? (0.35 * normalDeviate(random)) / 12 : 0;
  const walk = wanders ? 0.25 / Math.sqrt(12) : 0;
  return {
    error: () => error,
    ages: (months: number): void => {
      error += rate * months + (walk > 0 ? walk * Math.sqrt(months) * normalDeviate(random) : 0);
      if (motion === 'stepping' && random() < 1 - Math.exp(-months / 36)) error += 0.5 * normalDeviate(random);
    },
    adjust: (to: number): void => {
      error = to;
    },
  };
}

/** Six visits, six to eighteen months apart, of an error in half tolerances that moves as it is told; put in order where it is far off. */
export function driftHistory(motion: Motion, seed: number): { truth: ReturnType<typeof errorThatMoves>; visits: DriftVisit[] } {
  const random = seededRandom(7 * seed + 1);
  const u = 0.05 + 0.1 * random();
  const truth = errorThatMoves(motion, random);
  const visits: DriftVisit[] = [];
  const read = () => ({ value: truth.error() + u * normalDeviate(random), standardUncertainty: u, sharedUncertainty: 0 });
  for (let at = 0; visits.length < 6;) {
    if (visits.length) {
      const dt = 6 + 12 * random();
      truth.ages(dt);
      at += dt;
    }
    const found = read();
    const isFar = Math.abs(found.value) > 0.7;
    if (isFar) truth.adjust(0.1 * normalDeviate(random));
    visits.push({ at, found, left: isFar ? read() : null, hasNewStandards: false });
  }
  return { truth, visits };
}
