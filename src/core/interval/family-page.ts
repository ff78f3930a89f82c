import type { FamilyOutlier, GoodnessOfFit, Range } from './family';
import type { ObservedStep } from './observed-steps';
import type { Policy } from './policy';
import type { Survival, SurvivalModel } from './survival';

/** What the page of a family is made of: members and what is known of how long they stay inside. */
export type FamilyMember = {
  id: string;
  identification: string;
  designation: string;
  owner: string;
  isInUse: boolean;
  nextDue: string | null;
  /** Times it was seen again, and outside. */ seen: number;
  outside: number;
  outlier: FamilyOutlier | null;
};
export type FamilyPage = {
  kind: string;
  told: string[];
  policy: Policy;
  /** Those most unlike the others first; not more than can be looked through. */ members: FamilyMember[];
  /** How many there are, and how many of them are in use. */ count: { all: number; inUse: number };
  seen: number;
  outside: number;
  way: 'likelihood' | 'few';
  curve: Survival;
  months: Range;
  evidence: Record<SurvivalModel, number> | null;
  band: (Range & { months: number })[];
  steps: ObservedStep[];
  goodness: GoodnessOfFit | null;
};
