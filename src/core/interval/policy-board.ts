import type { Policy, PolicyScope } from './policy';
import type { SchoolId } from './proposal';

/** A date that a policy would move. */
export type Moved = {
  id: string;
  identification: string;
  designation: string;
  now: string | null;
  then: string;
  school: SchoolId;
  reason: string;
};
export type PolicyPreview = {
  /** What was looked at; null: the policy taken back. */ policy: Policy | null;
  /** Instruments in use that the policy is for. */ concerned: number;
  moved: Moved[];
  /** Calibrations in the next year, before and after. */ inAYear: { now: number; then: number };
};

/** Something a policy can be for, and what is set for it itself; null: nothing. */
export type PolicySubject = { scope: PolicyScope; subject: string; title: string; policy: Policy | null; instruments: number };

/** A line of how policies came to be what they are. */
export type PolicyLine = { scope: PolicyScope; subject: string; policy: Policy | null; at: string; person: string };
export type PolicyBoard = {
  subjects: PolicySubject[];
  /** Each with the laboratory's day of it. */ history: (PolicyLine & { day: string })[];
};
