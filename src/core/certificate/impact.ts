import { DocumentError } from '../faults';
import { adjustmentAdvice } from '../run/adjustment-advice';
import { faultIn, setAsFound, verdictAsFound, verdictAsLeft } from '../run/run-results';
import type { StandardDocument } from '../standard/standard-schema';
import type { RunState } from '../state/run-state';
import type { Verdict } from '../conformity/decide';
import { certificateOf } from './certificate';
import { verdictWords } from './certificate-words';
import { changesBetween, type CertificateChange } from './changes';

/** What another certificate of a standard would have made of a finished run; null where that run says the same. */
export type Impact = {
  verdicts: { found: [string, string]; left: [string, string] };
  /** Whether a verdict or what was advised is another. */ isJudgedOtherwise: boolean;
  changes: CertificateChange[];
};

export type AffectedRun = Impact & { run: string; identification: string; certificate: string | null; day: string; more: number };
export type StandardImpact = {
  /** Runs that were worked out anew, and those among them that say the same. */
  looked: number;
  same: number;
  affected: AffectedRun[];
  /** Runs that cannot be worked out with it, and why. */
  failed: { run: string; identification: string; why: string }[];
  /** Standards whose certificates were issued by these runs, and what rests on them in turn. */
  chain: { standard: string; identification: string; certificate: string; runs: number; step: number }[];
};

/** A run as it would stand had a standard been certified so. The run itself is not touched. */
function withStandard(state: RunState, standard: string, document: StandardDocument): RunState {
  const standards = Object.fromEntries(
    Object.entries(state.standards).map(([role, all]) => [role, all.map((s) => (s.id === standard ? { ...s, document } : s))]),
  );
  // Another list of readings is another log for whatever is kept of it.
  return { ...state, standards, readings: [...state.readings] };
}

const nobody = { name: '', address: '' };

/**
 * Works a finished run out anew with another certificate of one of its standards.
 * @returns null where verdicts, advice, results and uncertainties are the same
 * @throws DocumentError where it cannot be worked out with it: an item or a value that was used is not there
 * @example impactOf(finished, blocks.identification, blocks) // null
 */
export function impactOf(state: RunState, standard: string, document: StandardDocument): Impact | null {
  const then = withStandard(state, standard, document);
  for (const { id } of state.sets) {
    const why = faultIn(then, id);
    if (why !== null && faultIn(state, id) === null) throw new DocumentError(why, []);
  }
  const words = (v: Verdict | null) => (v ? verdictWords(v) : 'not judged');
  const verdictsOf = (s: RunState) => [words(verdictAsFound(s)), words(verdictAsLeft(s))] as const;
  const [before, after] = [verdictsOf(state), verdictsOf(then)];
  const adviceOf = (s: RunState) => adjustmentAdvice(s, setAsFound(s)).adjustment ?? 'leave it';
  const [advised, advisedThen] = [adviceOf(state), adviceOf(then)];
  // Which certificate it is differs by what was asked.
  const changes = changesBetween(certificateOf(state, nobody), certificateOf(then, nobody)).filter((c) => c.what !== 'Standards');
  if (advised !== advisedThen) changes.unshift({ what: 'Advice as found', before: advised, after: advisedThen });
  if (changes.length === 0) return null;
  return {
    verdicts: { found: [before[0], after[0]], left: [before[1], after[1]] },
    isJudgedOtherwise: before[0] !== after[0] || before[1] !== after[1] || advised !== advisedThen,
    changes,
  };
}

/**
 * Why a run cannot be worked out so, in words; null for what is no fault of a document.
 * @example whyNot(new Error('a broken invariant')) // null
 */
export const whyNot = (error: unknown): string | null => (error instanceof DocumentError ? error.message : null);
