import { observedSteps, type ObservedStep } from '../interval/observed-steps';
import published from './published-shares.json';
import type { FunctionComparison } from './published-functions';

const shareAfter = (steps: readonly ObservedStep[], months: number): number =>
  steps.find((s) => s.from <= months && months < s.to)?.share ?? steps.at(-1)!.share;

/**
 * The share that goes out in each interval of a published set of lives, by the curve that assumes no model (Turnbull 1976).
 * @example compareShares().every((line) => line.agrees) // true
 */
export function compareShares(): FunctionComparison[] {
  const steps = observedSteps(published.lives.map(([after, by]) => ({ after: after!, by: by! })));
  return published.masses.map(([from, to, value]) => {
    const computed = shareAfter(steps, from!) - shareAfter(steps, to!);
    const { source, within } = published;
    const agrees = Math.abs(computed - value!) <= within;
    return { function: 'share that goes out', args: [from!, to!], value: value!, within, source, unit: '1', computed, agrees };
  });
}
