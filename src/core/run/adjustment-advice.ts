import { worstVerdict } from '../conformity/decide';
import type { Diagnosis } from './diagnosis';
import { greatestError, type PointResult } from './point-results';
import type { RunState } from './run-state';

export type AdjustmentAdvice = { adjust: boolean; reason: string };

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/**
 * Whether the procedure's policy asks for an adjustment, and why. The person decides; going against this takes a reason.
 */
export function proposeAdjustment(state: RunState, results: readonly PointResult[], diagnosis: Diagnosis): AdjustmentAdvice {
  const no = (reason: string): AdjustmentAdvice => ({ adjust: false, reason });
  const { policy } = state.procedure.adjustment;
  const worst = greatestError(results);
  const used = worst?.conformity.toleranceUsed ?? 0;
  const verdict = worstVerdict(results.map((r) => r.conformity.verdict));
  const isOutside = verdict === 'fail' || verdict === 'conditional-fail';
  const wanted = {
    'never-while-inside': () => isOutside,
    'beyond-share': () => policy.kind === 'beyond-share' && used > policy.share,
    'always-centre': () => Math.abs(diagnosis.offset) > state.instrument.resolution / 2,
  }[policy.kind]();

  if (!wanted) {
    if (policy.kind === 'always-centre')
      return no('The mean error is below half a step of the display: there is nothing to centre.');
    const beyond =
      policy.kind === 'beyond-share'
        ? `below the ${percent(policy.share)} at which this procedure adjusts`
        : 'and this procedure never adjusts inside the limits';
    return no(`The greatest error uses ${percent(used)} of the tolerance, ${beyond}.`);
  }
  if (!state.instrument.adjustmentAllowed) return no('The owner wants a check only.');
  if (diagnosis.kind === 'odd-point' || diagnosis.kind === 'scatter')
    return no('Look for the cause that the readings point to first; a zero adjustment would not cure it.');
  const present = Math.abs(worst?.conformity.error ?? 0);
  if (diagnosis.remaining > 0.9 * present) return no('A zero adjustment would not make the greatest error smaller.');
  return {
    adjust: true,
    reason: `The greatest error uses ${percent(used)} of the tolerance, and setting the zero would bring it to about ${percent((used * diagnosis.remaining) / present)}.`,
  };
}
