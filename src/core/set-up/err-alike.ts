import { logSum, quadrature } from '../diagnose/gaussian';
import { errorsTogether, type ErrorsTogether } from '../run/errors-together';
import { differenceInShownUnit, signed, significant, withPrintedUnit } from '../run/shown-value';
import { mean } from '../statistics/moments';
import type { RunState } from '../state/run-state';

export type ErrAlike = {
  /** How probable it is that what they are compared with is off, and not they. */ probability: number;
  sentence: string;
};

/** Sound instruments differ by so much of what is allowed, and a fault is between so much and so much of it, its logarithm alike probable. */
const [sound, low, high] = [0.1, 0.3, 3];
/** Of instruments that come in so many have a fault of their own; of references so many, before anything is read. */
const [faulty, referenceOff] = [0.2, 0.02];

/** Sizes of a fault with the logarithms of their weights, either sign. */
const sizes: [number, number][] = quadrature(Math.log(low), Math.log(high), 14).flatMap(([u, w]) =>
  [1, -1].map((sign): [number, number] => [sign * Math.exp(u), Math.log(w / Math.log(high / low) / 2)]),
);
const logNormal = (x: number, centre: number): number =>
  -0.5 * ((x - centre) / sound) ** 2 - Math.log(sound * Math.sqrt(2 * Math.PI));

/**
 * How probable it is that a reference is off, and not the instruments that were held against it.
 * @param errors mean error of each, as a share of half of what is allowed @returns 0 to 1; of one alone nothing can be said: 0
 * @example referenceIsOff([0.6, 0.62, 0.58]) > 0.99 // true
 */
export function referenceIsOff(errors: readonly number[]): number {
  if (errors.length < 2) return 0;
  const own = errors.map((e) =>
    logSum([Math.log(1 - faulty) + logNormal(e, 0), ...sizes.map(([a, w]) => Math.log(faulty) + w + logNormal(e, a))]),
  );
  const apart = Math.log(1 - referenceOff) + own.reduce((sum, l) => sum + l, 0);
  const together =
    Math.log(referenceOff) + logSum(sizes.map(([a, w]) => w + errors.reduce((sum, e) => sum + logNormal(e, a), 0)));
  return Math.exp(together - logSum([apart, together]));
}

/**
 * Whether the instruments of a set-up err alike, which points at what they were compared with; null where it does not.
 * @param states of the members @param set that is judged
 * @example errAlike([run], 'as-found') // null
 */
export function errAlike(states: readonly RunState[], set: string): ErrAlike | null {
  const key = (g: ErrorsTogether) => `${g.series.id}|${g.result.symbol}`;
  const all = states.map((s) => errorsTogether(s, set).filter((g) => g.each === null));
  const found = (all[0] ?? []).flatMap((first) => {
    const same = all.flatMap((groups) => groups.find((g) => key(g) === key(first)) ?? []);
    if (same.length < states.length) return [];
    const means = same.map((g) => mean(g.question.points.flatMap((p) => p.readings.map((r) => r.error))));
    const half = Math.min(...same.flatMap((g) => g.question.points.map((p) => p.limits.upper!)));
    return [{ probability: referenceIsOff(means.map((m) => m / half)), size: mean(means), of: first }];
  });
  const [worst] = found.sort((a, b) => b.probability - a.probability);
  if (!worst || worst.probability < 1 / 2) return null;
  const { size, of, probability } = worst;
  const value = signed(withPrintedUnit(significant(differenceInShownUnit(size, of.unit, of.shownIn), 2), of.shownIn));
  return {
    probability,
    sentence: `All ${states.length} err alike, by ${value} on the average: with ${Math.min(99, Math.floor(100 * probability))} % probability what they are compared with is off, and not they. Hold it against another reference before anything is adjusted.`,
  };
}
