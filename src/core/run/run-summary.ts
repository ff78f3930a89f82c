import { hasPair, setAsFound, setAsLeft, verdictAsFound, verdictAsLeft } from './run-results';
import { worstValue, type SummaryValue } from './judged-points';
import type { RunState } from '../state/run-state';

/** A run in a line: what used most of its tolerance as found and as left. */
export type RunSummary = { found: SummaryValue | null; left: SummaryValue | null; adjusted: boolean };

/** @example summarizeRun(run).found.verdict // 'fail' */
export function summarizeRun(state: RunState): RunSummary {
  const first = setAsFound(state);
  const found = worstValue(state, () => first);
  const left = worstValue(state, (series) => setAsLeft(state, series));
  return {
    found: found && { ...found, verdict: verdictAsFound(state) },
    left: left && { ...left, verdict: verdictAsLeft(state) },
    adjusted: state.adjusted.length > 0 || hasPair(state),
  };
}
