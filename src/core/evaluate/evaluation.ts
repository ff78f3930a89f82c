import { type Verdict } from '../conformity/decide';
import type { BudgetResult } from '../uncertainty/propagate';
import { type AdjustmentAdvice } from './adjustments';
import { type JudgedAggregate } from './aggregates';
import type { NotRead } from './completeness';
import { type Judged, type School } from './results';
import { type Undetermined } from './undetermined';

/** What comes out of a set: results, aggregates and fits of every series, what is proposed, the verdict. */

export type EvaluatedResult = BudgetResult & {
  reference?: number;
  indication?: number;
  schools?: Record<string, School>;
} & Partial<Judged>;
export type EvaluatedPoint = {
  id: string;
  label?: string;
  nominal?: number;
  sweep?: string | null;
  computed: Record<string, number[]>;
  results: Record<string, EvaluatedResult | Undetermined>;
  choices: Record<string, 'pass' | 'fail'>;
};
export type EvaluatedAggregate = { id: string; at: string | null; sweep?: string | null } & (JudgedAggregate | Undetermined);
export type EvaluatedFit = {
  at?: string | null;
  sweep?: string | null;
  coefficients: number[];
  standardUncertainties: (number | null)[];
  residualStandardDeviation: number | null;
  dof: number;
};
export type EvaluatedSeries = {
  id: string;
  each?: string | null;
  points: EvaluatedPoint[];
  aggregates: EvaluatedAggregate[];
  fits: Record<string, EvaluatedFit | EvaluatedFit[]>;
};
export type Evaluation = {
  complete: boolean;
  series: EvaluatedSeries[];
  adjustments: AdjustmentAdvice[];
  verdict: Verdict | null;
  /** What the set plans and nobody has read; absent where all is read. */ notRead?: NotRead[];
};
