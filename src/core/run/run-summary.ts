import type { Verdict } from '../conformity/decide';
import { greatestError, passResults, passVerdict } from './point-results';
import { asLeftPass, type RunState } from './run-state';
import type { Pass } from './event-schema';

/** The worst point of a pass, for lists and charts: errors and limits in mm. */
export type PassSummary = {
  verdict: Verdict | null;
  nominal: number;
  error: number;
  expandedUncertainty: number;
  limit: number;
  toleranceUsed: number;
};

export type RunSummary = { found: PassSummary | null; left: PassSummary | null; adjusted: boolean };

function summarizePass(state: RunState, pass: Pass): PassSummary | null {
  const results = passResults(state, pass);
  const worst = greatestError(results);
  if (!worst) return null;
  const { conformity } = worst;
  return {
    verdict: passVerdict(state, pass, results),
    nominal: worst.point.nominal,
    error: conformity.error,
    expandedUncertainty: worst.uncertainty.expandedUncertainty,
    limit: Math.abs(
      (conformity.error >= 0 ? conformity.limits.upper : conformity.limits.lower) ??
        conformity.limits.upper ??
        conformity.limits.lower ??
        0,
    ),
    toleranceUsed: conformity.toleranceUsed ?? 0,
  };
}

/** A run in a line: its greatest errors as found and as left. */
export function summarizeRun(state: RunState): RunSummary {
  const found = summarizePass(state, 'as-found');
  return {
    found,
    left: asLeftPass(state) === 'as-found' ? found : summarizePass(state, 'as-left'),
    adjusted: state.adjustment !== null,
  };
}
