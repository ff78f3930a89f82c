import { isPassSettled, isPointSettled, liveReadings, type RunState } from './run-state';
import type { Pass } from './event-schema';

export const stages = ['prepare', 'as-found', 'judge', 'adjust', 'as-left', 'finish', 'done'] as const;
export type Stage = (typeof stages)[number];

export type NextAction =
  | { kind: 'answer-check'; stage: 'prepare'; check: string }
  | { kind: 'start-soak'; stage: 'prepare' }
  | { kind: 'wait-for-soak'; stage: 'prepare'; endsAt: string }
  | { kind: 'end-soak'; stage: 'prepare' }
  | { kind: 'record-conditions'; stage: 'prepare' | 'as-left' }
  | { kind: 'take-reading'; stage: Pass; pass: Pass; point: string; repeat: number }
  | { kind: 'decide-adjustment'; stage: 'judge' }
  | { kind: 'adjust-zero'; stage: 'adjust' }
  | { kind: 'decide-interval'; stage: 'finish' }
  | { kind: 'complete'; stage: 'finish' }
  | { kind: 'review'; stage: 'done' }
  | { kind: 'nothing'; stage: 'done' };

/**
 * What the procedure asks for next. Pure: the time is an argument, because a soak ends by itself.
 * @param now ISO time
 */
export function nextAction(state: RunState, now: string): NextAction {
  if (state.abandoned || state.reviewed) return { kind: 'nothing', stage: 'done' };
  if (state.completed) return { kind: 'review', stage: 'done' };
  const check = state.procedure.checks.find((c) => !state.checks[c.id]);
  if (check) return { kind: 'answer-check', stage: 'prepare', check: check.id };
  if (state.procedure.soak.minutes > 0) {
    if (!state.soak) return { kind: 'start-soak', stage: 'prepare' };
    if (!state.soak.endedAt)
      return Date.parse(now) < Date.parse(state.soak.endsAt)
        ? { kind: 'wait-for-soak', stage: 'prepare', endsAt: state.soak.endsAt }
        : { kind: 'end-soak', stage: 'prepare' };
  }
  if (!state.conditions) return { kind: 'record-conditions', stage: 'prepare' };
  const found = nextReading(state, 'as-found');
  if (found) return found;
  if (!state.adjustmentDecision) return { kind: 'decide-adjustment', stage: 'judge' };
  if (state.adjustmentDecision.adjust) {
    if (!state.adjustment) return { kind: 'adjust-zero', stage: 'adjust' };
    // Adjusting takes time and hands: the temperatures are read again before the as-left readings.
    if (state.conditions.sequence < state.adjustment.sequence) return { kind: 'record-conditions', stage: 'as-left' };
    const left = nextReading(state, 'as-left');
    if (left) return left;
  }
  return state.interval ? { kind: 'complete', stage: 'finish' } : { kind: 'decide-interval', stage: 'finish' };
}

function nextReading(state: RunState, pass: Pass): NextAction | null {
  if (isPassSettled(state, pass)) return null;
  const point = state.points.find((p) => !isPointSettled(state, pass, p.id))!;
  return {
    kind: 'take-reading',
    stage: pass,
    pass,
    point: point.id,
    repeat: liveReadings(state.passes[pass][point.id]).length + 1,
  };
}

/** The stage in the trade's words. */
export const stageNames: Record<Stage, string> = {
  prepare: 'Prepare',
  'as-found': 'As found',
  judge: 'Judge',
  adjust: 'Adjust',
  'as-left': 'As left',
  finish: 'Finish',
  done: 'Record',
};

/** What to do now, in one sentence. */
export function actionSentence(state: RunState, action: NextAction): string {
  switch (action.kind) {
    case 'answer-check':
      return state.procedure.checks.find((c) => c.id === action.check)!.ask;
    case 'start-soak':
      return state.procedure.soak.instruction;
    case 'wait-for-soak':
      return `Leave instrument and blocks on the plate: ${state.procedure.soak.minutes} minutes together.`;
    case 'end-soak':
      return 'The soak is over. Carry on when you are ready.';
    case 'record-conditions':
      return state.procedure.conditions.instruction;
    case 'take-reading': {
      const point = state.points.find((p) => p.id === action.point)!;
      return `Measure ${point.nominal.toFixed(1)} mm, reading ${action.repeat} of ${state.procedure.points.repeats}.`;
    }
    case 'decide-adjustment':
      return 'The as-found readings are complete. Leave it as it is, or adjust?';
    case 'adjust-zero':
      return state.procedure.adjustment.instruction;
    case 'decide-interval':
      return 'Set the date of the next calibration.';
    case 'complete':
      return 'Everything is there. Finish the run and make its certificate.';
    case 'review':
      return 'A second person reads the record and signs it.';
    case 'nothing':
      return state.abandoned ? 'This run was broken off.' : 'This run is finished and signed.';
  }
}
