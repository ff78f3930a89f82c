import { besideSteps } from '../quantity/reading';
import { plainDecimal } from '../quantity/rounding';
import type { RunState, Slot } from '../state/run-state';
import { withUnit } from '../steps/step-context';
import { observationOf, observedResolution, observedUnit } from './reading-rules';

/**
 * Why the display cannot have shown a value: more digits than it has, off its steps, or beyond what it reaches.
 * @example cannotShow(run, slot, 7.7025, 0.0001) // 'It reads in steps of 0.001 mm: it shows 7.702 or 7.703 mm, not {text}.'
 */
export function cannotShow(state: RunState, slot: Slot, value: number, typedStep: number): string | null {
  const observation = observationOf(state, slot)!;
  const unit = observedUnit(state, slot, observation);
  const step = observedResolution(state, slot, observation);
  if (step !== null && typedStep < step * 0.0999)
    return `It reads to ${withUnit(step, unit)}; {text} has more digits than it can show.`;
  const beside = step === null ? null : besideSteps(value, step);
  if (beside)
    return `It reads in steps of ${withUnit(step!, unit)}: it shows ${plainDecimal(beside[0])} or ${withUnit(beside[1], unit)}, not {text}.`;
  const { lower, upper, unit: ownUnit } = state.instrument;
  if (observation.of !== 'instrument' || unit !== ownUnit || upper <= lower) return null;
  // A little beyond its ends a display still counts.
  const over = Math.max(0.1 * (upper - lower), 20 * (step ?? 0));
  return value < lower - over || value > upper + over
    ? `It reaches from ${plainDecimal(lower)} to ${withUnit(upper, unit)}: it cannot show {text}.`
    : null;
}
