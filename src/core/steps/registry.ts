import type { StepDocument } from '../procedure/document-schema';
import type { Refusal } from '../state/refusal';
import type { StepRecord } from '../state/run-state';
import { check } from './check';
import { choose } from './choose';
import { confirm } from './confirm';
import { connect } from './connect';
import { doStep } from './do';
import { identify } from './identify';
import { measure } from './measure';
import { settings } from './settings';
import type { StepContext, StepKind, StepAnswer } from './step-context';
import { wait } from './wait';

const kinds: { [K in StepDocument['kind']]: StepKind<K> } = {
  confirm,
  identify,
  choose,
  measure,
  check,
  wait,
  do: doStep,
  connect,
  settings,
};

/** The rules of a step's kind, for a step of that kind. */
const rulesOf = (step: StepDocument) => kinds[step.kind] as unknown as StepKind<StepDocument['kind']>;

/** @example admitStep(context, { type: 'step-done' }).message // 'Type what is engraved or printed on it.' */
export const admitStep = (c: StepContext, act: StepAnswer): Refusal | null => rulesOf(c.step).admit(c as never, act);
/** @example stepSentence(context) // 'Number engraved on the frame' */
export const stepSentence = (c: StepContext): string => rulesOf(c.step).sentence(c as never);
export const stepSaid = (step: StepDocument, record: StepRecord): string => rulesOf(step).said(step as never, record);
