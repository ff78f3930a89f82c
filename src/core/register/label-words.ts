import type { Verdict } from '../conformity/decide';

/** What is known when a label is printed. */
export type LabelFacts = {
  state: 'in-use' | 'out-of-use';
  lastCalibrated: string | null;
  nextDue: string | null;
  /** The latest finished calibration; null where it has none here. */
  latest: {
    isReviewed: boolean;
    verdictAsLeft: Verdict | null;
    /** What it may be used for, where that was agreed. */ limited?: string | undefined;
  } | null;
};

/** What a label may say: that it is calibrated, or why it must not be used as if it were. */
export type LabelWords = { calibrated: string; due: string | null; limited?: string } | { notCalibrated: string };

/**
 * A label never says more than the verdict and the signature allow.
 * @example labelWords({ state: 'out-of-use', lastCalibrated: null, nextDue: null, latest: null }) // { notCalibrated: 'Out of use' }
 */
export function labelWords({ state, lastCalibrated, nextDue, latest }: LabelFacts): LabelWords {
  if (state === 'out-of-use') return { notCalibrated: 'Out of use' };
  if (lastCalibrated === null) return { notCalibrated: 'Not calibrated yet' };
  if (latest && !latest.isReviewed) return { notCalibrated: 'Measured, not signed yet' };
  if (latest?.limited) return { calibrated: lastCalibrated, due: nextDue, limited: latest.limited };
  const verdict = latest?.verdictAsLeft;
  if (verdict === 'fail' || verdict === 'conditional-fail') return { notCalibrated: 'Outside its limits: not to be used' };
  if (latest && verdict !== 'pass' && verdict !== 'conditional-pass')
    return { notCalibrated: 'Not determined whether it is inside its limits' };
  return { calibrated: lastCalibrated, due: nextDue };
}
