import { stackNominal } from '../disciplines/dimensional/gauge-stack';
import { dayIn } from '../quantity/calendar-day';
import { parseReading } from '../quantity/reading';
import { proposeAdjustment } from './adjustment-advice';
import { diagnose } from './diagnosis';
import type { Act, ActOf, Pass } from './event-schema';
import { nextAction } from './next-action';
import { checkPlausibility } from './plausibility';
import { passResults, referenceValue, toleranceOf } from './point-results';
import { isPassSettled, liveReadings, type RunState } from './run-state';
import { proposeNextDate } from '../interval/next-date';

export type Refusal = {
  message: string;
  path: (string | number)[];
  /** Offered in place of what was typed. */ suggestion?: string;
};

type Admission = Refusal | null;

const refuse = (message: string, ...path: (string | number)[]): Refusal => ({ message, path });

/**
 * Whether an act may be added to a run as it stands. The log is only ever appended to, so this is the one gate.
 * @param person who acts @param now ISO time
 * @returns null when it may, else what to tell the person
 */
export function admit(state: RunState, act: Act, person: string, now: string): Admission {
  if (act.type === 'run-started') return refuse('This run has already been started.', 'type');
  if (state.abandoned) return refuse('This run was broken off. Start a new one.', 'type');
  if (state.reviewed) return refuse('This run is signed. It cannot be changed.', 'type');
  if (state.completed)
    return act.type === 'run-reviewed'
      ? admitReview(state, person)
      : refuse('This run is finished. Only its review is open.', 'type');
  switch (act.type) {
    case 'check-answered':
      return admitCheck(state, act);
    case 'soak-started':
      return state.soak ? refuse('The soak is already running.', 'type') : null;
    case 'soak-ended':
      return admitSoakEnd(state, act, now);
    case 'conditions-recorded':
      return admitConditions(state, act, now);
    case 'stack-chosen':
      return admitStack(state, act);
    case 'reading-taken':
      return admitReading(state, act, now);
    case 'reading-struck':
      return admitStrike(state, act);
    case 'point-skipped':
    case 'point-resumed':
      return openPass(state, now) === act.pass && state.passes[act.pass][act.point]
        ? null
        : refuse('This point is not open now.', 'point');
    case 'adjustment-decided':
      return admitDecision(state, act);
    case 'zero-adjusted':
      return admitAdjustment(state, act);
    case 'note-added':
      return null;
    case 'interval-decided':
      return admitInterval(state, act, now);
    case 'run-completed':
      return nextAction(state, now).kind === 'complete'
        ? null
        : refuse('The run is not complete yet. Do the step that is shown first.', 'type');
    case 'run-reviewed':
      return refuse('The run is not finished yet: finish it before it is reviewed.', 'type');
    case 'run-abandoned':
      return null;
  }
}

/** The pass whose readings can be taken and struck out now; null when neither is open. */
export function openPass(state: RunState, now: string): Pass | null {
  if (state.completed || state.abandoned) return null;
  const action = nextAction(state, now);
  if (action.stage === 'prepare') return null;
  if (!state.adjustmentDecision) return 'as-found';
  return state.adjustment && state.conditions!.sequence > state.adjustment.sequence ? 'as-left' : null;
}

function admitCheck(state: RunState, act: ActOf<'check-answered'>): Admission {
  if (!state.procedure.checks.some((c) => c.id === act.check)) return refuse('The procedure has no such check.', 'check');
  if (act.outcome === 'no' && act.note.length < 3) return refuse('Say in a few words what is wrong.', 'note');
  return null;
}

function admitSoakEnd(state: RunState, act: ActOf<'soak-ended'>, now: string): Admission {
  if (!state.soak) return refuse('The soak has not been started.', 'type');
  if (state.soak.endedAt) return refuse('The soak has already ended.', 'type');
  if (Date.parse(now) < Date.parse(state.soak.endsAt) && !act.earlyReason)
    return refuse('The soak is still running. To end it early, give the reason.', 'earlyReason');
  return null;
}

function admitConditions(state: RunState, act: ActOf<'conditions-recorded'>, now: string): Admission {
  const { quantities, maximumDifference } = state.procedure.conditions;
  if (['answer-check', 'start-soak', 'wait-for-soak', 'end-soak'].includes(nextAction(state, now).kind))
    return refuse('The temperatures are read after the checks and the soak.', 'type');
  const values: Record<string, number> = {};
  for (const q of quantities) {
    const parsed = parseReading(act[q.id]);
    if (!parsed.ok) return refuse(`${q.title}: ${parsed.message}`, q.id);
    values[q.id] = parsed.reading.value;
    if (parsed.reading.value < -20 || parsed.reading.value > 60)
      return refuse(`${q.title}: ${parsed.reading.text} °C cannot be the temperature at a bench. Type it again.`, q.id);
  }
  if (act.reason) return null;
  const outside = quantities.find((q) => values[q.id]! < q.lower || values[q.id]! > q.upper);
  if (outside)
    return refuse(
      `${outside.title} is outside the procedure's ${outside.lower} to ${outside.upper} °C. Wait until it is inside, or give the reason for going on.`,
      'reason',
    );
  if (Math.abs(values['instrument']! - values['standard']!) > maximumDifference)
    return refuse(
      `Instrument and blocks differ by more than ${maximumDifference} K. Let them soak longer, or give the reason for going on.`,
      'reason',
    );
  return null;
}

function admitStack(state: RunState, act: ActOf<'stack-chosen'>): Admission {
  const point = state.points.find((p) => p.id === act.point);
  if (!point) return refuse('The procedure has no such point.', 'point');
  const hasReadings = (['as-found', 'as-left'] as const).some((pass) => liveReadings(state.passes[pass][act.point]).length > 0);
  if (hasReadings) return refuse('Readings have been taken on this stack. Strike them out first, with the reason.', 'items');
  if (new Set(act.items).size !== act.items.length) return refuse('A block can stand in a stack only once.', 'items');
  const items = act.items.map((id) => state.standard.items.find((i) => i.id === id));
  if (items.some((i) => !i)) return refuse('One of these blocks is not in the set of this run.', 'items');
  const total = stackNominal(items.map((i) => i!));
  if (Math.abs(total - point.nominal) > 1e-6)
    return refuse(`These blocks add to ${total} mm; the point is ${point.nominal} mm.`, 'items');
  return null;
}

function admitReading(state: RunState, act: ActOf<'reading-taken'>, now: string): Admission {
  const point = state.points.find((p) => p.id === act.point);
  if (!point) return refuse('The procedure has no such point.', 'point');
  if (openPass(state, now) !== act.pass) {
    const why =
      act.pass === 'as-found'
        ? state.adjustmentDecision
          ? 'The as-found readings are closed: they are evidence.'
          : 'Finish the preparation first.'
        : 'As-left readings follow an adjustment and fresh temperatures.';
    return refuse(why, 'pass');
  }
  const { readings, skipped } = state.passes[act.pass][act.point]!;
  if (skipped !== null) return refuse('This point was skipped. Take it up again first.', 'point');
  if (point.stack.length === 0) return refuse('No blocks are chosen for this point. Choose the stack first.', 'point');
  if (readings.filter((r) => !r.struck).length >= state.procedure.points.repeats)
    return refuse(
      `This point has its ${state.procedure.points.repeats} readings. Strike one out, with the reason, to take another.`,
      'point',
    );
  const parsed = parseReading(act.text);
  if (!parsed.ok) return refuse(parsed.message, 'text');
  const { value, resolution } = parsed.reading;
  if (resolution < state.instrument.resolution * 0.0999)
    return refuse(
      `The instrument reads to ${state.instrument.resolution} mm; ${parsed.reading.text} has more digits than it can show.`,
      'text',
    );
  const plausible = checkPlausibility(
    value,
    referenceValue(state, point, state.conditions).value,
    state.instrument.resolution,
    toleranceOf(state),
  );
  if (plausible.plausible || (act.confirmed && value >= 0)) return null;
  return { ...refuse(plausible.message, 'text'), ...(plausible.suggestion ? { suggestion: plausible.suggestion } : {}) };
}

function admitStrike(state: RunState, act: ActOf<'reading-struck'>): Admission {
  const pass = (['as-found', 'as-left'] as const).find((p) =>
    Object.values(state.passes[p]).some((point) => point.readings.some((r) => r.sequence === act.sequence)),
  );
  if (!pass) return refuse('There is no such reading.', 'sequence');
  if (pass === 'as-found' && state.adjustmentDecision)
    return refuse('The as-found readings are closed: they are evidence.', 'sequence');
  const reading = Object.values(state.passes[pass])
    .flatMap((p) => p.readings)
    .find((r) => r.sequence === act.sequence)!;
  return reading.struck ? refuse('This reading is already struck out.', 'sequence') : null;
}

function admitDecision(state: RunState, act: ActOf<'adjustment-decided'>): Admission {
  if (state.adjustmentDecision) return refuse('This has been decided.', 'type');
  if (!isPassSettled(state, 'as-found'))
    return refuse('The as-found readings are not complete. Take the missing ones, or skip a point with the reason.', 'type');
  const results = passResults(state, 'as-found');
  if (results.length === 0)
    return refuse('Every point was skipped: there is nothing to judge. Break the run off, or take a point up again.', 'type');
  if (act.adjust && !state.instrument.adjustmentAllowed)
    return refuse('The owner wants a check only: this instrument is not to be adjusted.', 'adjust');
  const advice = proposeAdjustment(state, results, diagnose(results, state.instrument.resolution));
  if (act.proposed !== advice.adjust) return refuse('The advice has changed since this was shown. Read it again.', 'proposed');
  if (act.adjust !== advice.adjust && act.reason.length < 3)
    return refuse('This goes against the advice: give the reason.', 'reason');
  return null;
}

function admitAdjustment(state: RunState, act: ActOf<'zero-adjusted'>): Admission {
  if (!state.adjustmentDecision?.adjust) return refuse('No adjustment was decided.', 'type');
  if (state.adjustment) return refuse('The zero has been adjusted; take the as-left readings.', 'type');
  for (const side of ['before', 'after'] as const) {
    const parsed = parseReading(act[side]);
    if (!parsed.ok) return refuse(`Indication ${side}: ${parsed.message}`, side);
    const nearest = Math.abs(parsed.reading.value) < 0.5 ? 0 : state.instrument.rangeLower;
    if (Math.abs(parsed.reading.value - nearest) > 0.5)
      return refuse(`Indication ${side}: ${parsed.reading.text} mm is not near the zero or the setting length.`, side);
  }
  return null;
}

function admitInterval(state: RunState, act: ActOf<'interval-decided'>, now: string): Admission {
  if (!['decide-interval', 'complete'].includes(nextAction(state, now).kind))
    return refuse('The next date is set after the readings.', 'type');
  const today = dayIn(now, state.timeZone);
  if (act.next <= today) return refuse('The next date must lie in the future.', 'next');
  if (act.next > `${Number(today.slice(0, 4)) + 10}${today.slice(4)}`)
    return refuse('The next date is more than ten years away.', 'next');
  const { date } = proposeNextDate(state, passResults(state, 'as-found'), today);
  if (act.proposed !== date) return refuse('The proposed date has changed since this was shown. Read it again.', 'proposed');
  if (act.next !== date && act.reason.length < 3)
    return refuse('This date differs from the proposed one: give the reason.', 'reason');
  return null;
}

function admitReview(state: RunState, person: string): Admission {
  return state.completed?.person === person
    ? refuse('The person who finished the run cannot review it. Ask a second person to sign.', 'person')
    : null;
}
