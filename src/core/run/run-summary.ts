import { hasPair, setAsFound, setAsLeft, verdictAsFound, verdictAsLeft } from './run-results';
import { limitedWords } from './limiting';
import { worstValue, type SummaryValue } from './judged-points';
import type { RunState } from '../state/run-state';

/** A run in a line: what used most of its tolerance as found and as left. */
export type RunSummary = {
  found: SummaryValue | null;
  left: SummaryValue | null;
  adjusted: boolean;
  /** What it may be used for although it is outside as left, in words. */ limited?: string;
};

/** @example summarizeRun(run).found.verdict // 'fail' */
export function summarizeRun(state: RunState): RunSummary {
  const first = setAsFound(state);
  const found = worstValue(state, () => first);
  const left = worstValue(state, (series) => setAsLeft(state, series));
  return {
    found: found && { ...found, verdict: verdictAsFound(state) },
    left: left && { ...left, verdict: verdictAsLeft(state) },
    adjusted: state.adjusted.length > 0 || hasPair(state),
    ...(state.limited ? { limited: limitedWords(state, state.limited.to) } : {}),
  };
}
