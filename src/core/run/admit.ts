import { dayIn } from '../quantity/day-in-zone';
import { kindOfSet } from '../evaluate/evaluate';
import type { Act, ActOf, Place, PlanItem } from '../log/event-schema';
import { parseReading } from '../quantity/reading';
import { proposeNextDate } from '../interval/next-date';
import { admitStep } from '../steps/registry';
import { limitsIn, outsideWords, unitIn, withUnit } from '../steps/step-context';
import { isMove } from '../procedure/declarations';
import { diagnose } from './diagnosis';
import { adjustmentAdvice, heldByRecord, notWorkedOut } from './adjustment-advice';
import { admitReading, admitStrike, admitItems } from './admit-readings';
import { conditionsNow, contextOf, nextItem, stepOf, waitingNow } from './next-step';
import { setTitle } from './place-words';
import { refuse, type Refusal } from './refusal';
import { isSamePerson } from '../register/person-name';
import { tookPart } from './review-points';
import { gateStanding } from './gates';
import { caseOf, settingOfRun } from './run-case';
import { ownFormIn } from './own-units';
import { faultIn, settingIn, verdictAsFound } from './run-results';
import { isClosed, isDone, isQuickCheck, itemKey, placeOf, setOf, skipOf, type RunState } from './run-state';

type Admission = Refusal | null;

/**
 * Whether an act may be added to a run as it stands. The log is only ever appended to, so this is the one gate.
 * @param person who acts @param now ISO time at the bench
 * @returns null when it may, else what to tell the person
 */
export function admit(state: RunState, act: Act, person: string, now: string): Admission {
  if (act.type === 'run-started') return refuse('This run has already been started.', 'type');
  if (state.brokenOff) return refuse('This run was broken off. Start a new one.', 'type');
  if (state.reviewed) return refuse('This run is signed. It cannot be changed.', 'type');
  if (state.completed && isQuickCheck(state)) return refuse('This quick check is finished. Begin another one.', 'type');
  if (state.completed) {
    if (act.type !== 'run-reviewed' && act.type !== 'run-returned')
      return refuse('This run is finished. Only its review is open.', 'type');
    return [...tookPart(state)].some((p) => isSamePerson(p, person))
      ? refuse('Whoever took the readings or finished the run cannot review it. Ask a second person.', 'person')
      : null;
  }
  switch (act.type) {
    case 'step-done':
      return admitStepDone(state, act, now);
    case 'wait-begun':
      return isNext(state, { type: 'step', ...placeOf(act), id: act.id })
        ? state.waits.has(itemKey({ type: 'step', ...placeOf(act), id: act.id }))
          ? refuse('This wait is already running.', 'type')
          : null
        : notNow();
    case 'watched':
      return admitWatched(state, act);
    case 'wait-ended':
      return admitWaitEnd(state, act, now);
    case 'conditions-recorded':
      return admitConditions(state, act);
    case 'items-chosen':
      return admitItems(state, act);
    case 'observed':
      return admitReading(state, act);
    case 'struck':
      return admitStrike(state, act.sequence);
    case 'skipped':
    case 'resumed':
      return admitSkip(state, act);
    case 'plan-resolved':
      return isNext(state, { type: 'open', ...placeOf(act), id: act.series })
        ? act.plan.items.length > 0
          ? null
          : refuse('The points of this series cannot be told yet.', 'series')
        : notNow();
    case 'gate-passed':
      return admitGate(state, act);
    case 'set-begun':
      return isNext(state, { type: 'begin', set: act.set }) ? null : notNow();
    case 'set-ended':
      return state.sets.at(-1)!.id === act.set && !setOf(state, act.set)!.ended && isReading(state, act.set)
        ? null
        : refuse('Only the set that is being read can be ended early.', 'set');
    case 'withdrawn':
      return state.sets.at(-1)!.id === act.set && isReading(state, act.set)
        ? null
        : refuse(`The readings ${setTitle(act.set).toLowerCase()} are closed: they are evidence.`, 'set');
    case 'adjustment-decided':
      return admitDecision(state, act);
    case 'adjustment-abandoned':
      return isBeforeAdjusting(state, act.set)
        ? null
        : refuse('Only an adjustment that is about to be made can be given up.', 'type');
    case 'ruling-out':
      return admitRuling(state, act);
    case 'adjusted':
      return admitAdjusted(state, act);
    case 'note-added':
    case 'run-broken-off':
      return null;
    case 'left-set-up':
      return state.setUp && !state.setUp.left ? null : refuse('This run stands alone already.', 'type');
    case 'interval-decided':
      return admitInterval(state, act, now);
    case 'run-completed':
      return nextItem(state)?.type === 'complete'
        ? null
        : refuse('The run is not complete yet. Do the step that is shown first.', 'type');
    case 'run-reviewed':
    case 'run-returned':
      return refuse('The run is not finished yet: finish it before it is reviewed.', 'type');
  }
}

const notNow = (): Refusal => refuse('This is not what comes next. Do the step that is shown first.', 'type');

function isNext(state: RunState, item: PlanItem): boolean {
  const next = nextItem(state);
  return next !== null && itemKey(next) === itemKey(item);
}

/** Whether a set's readings are open: its judgement has not been made. */
const isReading = (state: RunState, set: string): boolean => !isClosed(state, set) && setOf(state, set) !== undefined;

function admitStepDone(state: RunState, act: ActOf<'step-done'>, now: string): Admission {
  const key = itemKey({ type: 'step', ...placeOf(act), id: act.id });
  const at = state.index.get(key);
  const item = at === undefined ? undefined : state.plan[at]!;
  if (item?.type !== 'step') return refuse('The procedure has no such step.', 'id');
  // An answer may be corrected while its set is open; the first one stays in the log.
  if (at! !== state.firstOpen && !(isDone(state, item) && isReading(state, item.set))) return notNow();
  const context = contextOf(state, item, now);
  if (!context) return refuse('The procedure has no such step.', 'id');
  return admitStep(context, act);
}

function admitWatched(state: RunState, act: ActOf<'watched'>): Admission {
  const wait = state.waits.get(itemKey({ type: 'step', ...placeOf(act), id: act.id }));
  if (!wait || wait.ended) return refuse('This wait is not running.', 'type');
  const parsed = parseReading(act.text);
  return parsed.ok ? null : refuse(parsed.message, 'text');
}

function admitWaitEnd(state: RunState, act: ActOf<'wait-ended'>, now: string): Admission {
  if (!isNext(state, { type: 'step', ...placeOf(act), id: act.id })) return notNow();
  const standing = waitingNow(state, now);
  if (!standing || standing.state === 'not-begun') return refuse('This wait has not been started.', 'type');
  const title = stepOf(state, { type: 'step', ...placeOf(act), id: act.id })?.title ?? act.id;
  if (standing.state === 'running' && !act.reason)
    return refuse(`${title} is still running. To end it early, give the reason.`, 'reason');
  return null;
}

function admitConditions(state: RunState, act: ActOf<'conditions-recorded'>): Admission {
  const wanted = conditionsNow(state);
  const isWanted =
    wanted.length > 0 && wanted[0]!.set === act.set && wanted[0]!.point === act.point && wanted[0]!.each === act.each;
  const known = state.conditions.some((c) => c.set === act.set);
  if (!isWanted && !(known && isReading(state, act.set))) return notNow();
  for (const { id } of isWanted ? wanted : [])
    if (act.values[id] === undefined)
      return refuse(`${state.procedure.conditions.find((c) => c.id === id)!.title} is missing.`, 'values', id);
  const place = placeOf(act);
  const values: Record<string, number> = {};
  for (const [id, text] of Object.entries(act.values)) {
    const declared = state.procedure.conditions.find((c) => c.id === id);
    if (!declared) return refuse(`"${id}" is not a condition of this procedure.`, 'values', id);
    const parsed = parseReading(text);
    if (!parsed.ok) return refuse(`${declared.title}: ${parsed.message}`, 'values', id);
    values[id] = parsed.reading.value;
    const absurd = isAbsurd(declared, parsed.reading.value);
    if (absurd) return refuse(absurd, 'values', id);
  }
  if (act.reason) return null;
  // What another condition is compared with may be among those that are recorded now.
  const inForce = Object.fromEntries(state.conditions.filter((c) => c.set === act.set).map((c) => [c.id, c.value]));
  const setting = () =>
    settingOfRun(state, act.set, { ...caseOf(state, act.set), conditions: { ...inForce, ...values }, observations: [] });
  for (const [id, value] of Object.entries(values)) {
    const declared = state.procedure.conditions.find((c) => c.id === id)!;
    // What another condition is compared with may be among those that are recorded now.
    const limits = limitsIn({ state, place, setting }, declared);
    const outside = outsideWords(declared.title, value, unitIn(state, declared.unit, place), limits);
    if (outside) return refuse(`${outside} Wait until it is inside, or give the reason for going on.`, 'reason');
  }
  return null;
}

/** A condition ten times its own allowed span away from it was mistyped, not measured. */
function isAbsurd(declared: RunState['procedure']['conditions'][number], value: number): string | null {
  const { lower, upper, title } = declared;
  if (typeof lower !== 'number' || typeof upper !== 'number') return null;
  const span = 10 * (upper - lower);
  if (value >= lower - span && value <= upper + span) return null;
  const unit = typeof declared.unit === 'string' ? declared.unit : '';
  return `${title}: ${withUnit(value, unit)} cannot be right where ${withUnit(lower, unit)} to ${withUnit(upper, unit)} is wanted. Type it again.`;
}

function admitSkip(state: RunState, act: ActOf<'skipped'> | ActOf<'resumed'>): Admission {
  const series = state.procedure.series.find((s) => s.id === act.series);
  if (!series) return refuse('The procedure has no such series.', 'series');
  const reads = state.plan.some(
    (i) =>
      i.type === 'reading' &&
      i.set === act.set &&
      i.series === act.series &&
      (act.each === undefined || i.each === act.each) &&
      (act.point === undefined || i.point === act.point),
  );
  if (!reads || !isReading(state, act.set)) return refuse('This is not open now.', 'series');
  const { type: _type, version: _version, ...place } = { ...act, reason: undefined };
  const skipped = skipOf(state, place as Place);
  if (act.type === 'resumed') return skipped ? null : refuse('This was not skipped.', 'series');
  if (skipped) return refuse('This is skipped already.', 'series');
  return act.reason.length >= 3 || series.optional ? null : refuse('Give the reason in a few words.', 'reason');
}

function admitGate(state: RunState, act: ActOf<'gate-passed'>): Admission {
  if (!isNext(state, { type: 'gate', ...placeOf(act), id: act.id })) return notNow();
  const { passes, sentence } = gateStanding(state, { type: 'gate', ...placeOf(act), id: act.id });
  if (act.passes !== passes) return refuse('This has changed since it was shown. Look at it again.', 'passes');
  return passes || act.reason ? null : refuse(`${sentence} Look for the cause, or give the reason for going on.`, 'reason');
}

function admitDecision(state: RunState, act: ActOf<'adjustment-decided'>): Admission {
  if (!isNext(state, { type: 'judge', set: act.set }))
    return isClosed(state, act.set)
      ? refuse('This has been decided.', 'type')
      : refuse('The readings are not complete. Take the missing ones, or skip a point with the reason.', 'type');
  if (![...state.live.values()].some((r) => r.slot.set === act.set))
    return refuse('Everything was skipped: there is nothing to judge. Break the run off, or take a point up again.', 'type');
  const fault = faultIn(state, act.set);
  if (fault !== null) return refuse(notWorkedOut(fault), 'set');
  if (act.adjustment !== null) {
    const doc = state.procedure.adjustments.find((a) => a.id === act.adjustment);
    if (!doc) return refuse('The procedure has no such adjustment.', 'adjustment');
    if (!state.instrument.adjustmentAllowed)
      return refuse('The owner wants a check only: this instrument is not to be adjusted.', 'adjustment');
    if (doc.separately && act.each === undefined && settingIn(state, act.set).series.get(doc.of[0]!)!.instances.length > 1)
      return refuse('Say which one is adjusted.', 'each');
  }
  const advice = adjustmentAdvice(state, act.set);
  if (act.proposed !== advice.adjustment)
    return refuse('The advice has changed since this was shown. Read it again.', 'proposed');
  const follows = act.adjustment === advice.adjustment && (act.each ?? null) === (act.adjustment === null ? null : advice.each);
  if (act.reason.length >= 3) return null;
  if (!follows) return refuse('This goes against the advice: give the reason.', 'reason');
  // Pooled with the others it would count for less than it is: somebody answers for that.
  const { scatter } = diagnose(state, act.set);
  return scatter
    ? refuse(`Scatter at ${scatter}. Strike those readings out and read the point again, or say why it may stand.`, 'reason')
    : null;
}

function admitRuling(state: RunState, act: ActOf<'ruling-out'>): Admission {
  const next = nextItem(state);
  if (!state.procedure.ruleOut.some((r) => r.id === act.id)) return refuse('The procedure has no such cause.', 'id');
  const isHere = next?.set === act.set && (next.type === 'judge' || (next.type === 'gate' && !gateStanding(state, next).passes));
  if (!isHere) return notNow();
  return kindOfSet(act.set) === 'as-found' || kindOfSet(act.set) === 'as-left' ? null : notNow();
}

/** Whether an adjustment of a set was decided on and has not been made yet. */
export function isBeforeAdjusting(state: RunState, set: string): boolean {
  const decision = state.decisions.at(-1);
  const adjusts = decision?.plan.items.find((i) => i.type === 'adjust');
  return decision?.set === set && adjusts !== undefined && !isDone(state, adjusts);
}

function admitAdjusted(state: RunState, act: ActOf<'adjusted'>): Admission {
  const item: PlanItem = { type: 'adjust', set: act.set, ...(act.each === undefined ? {} : { each: act.each }), id: act.id };
  if (!isNext(state, item)) return notNow();
  const doc = state.procedure.adjustments.find((a) => a.id === act.id)!;
  const place: Place = { set: act.set, series: doc.of[0]!, ...(act.each === undefined ? {} : { each: act.each }) };
  for (const stored of doc.stored) {
    const given = act.stored[stored.id];
    if (!given) return refuse(`${stored.title} is missing.`, 'stored', stored.id);
    const moves = isMove(doc, stored.id);
    for (const side of moves ? (['after'] as const) : (['before', 'after', 'readBack'] as const)) {
      const text = given[side];
      if (text === undefined)
        return refuse(
          side === 'before'
            ? `${stored.title}: read from the instrument what it holds now, and type it.`
            : `${stored.title}: read it back from the instrument, and type what it shows.`,
          'stored',
          stored.id,
          side,
        );
      const parsed = parseReading(text);
      if (!parsed.ok) return refuse(`${stored.title}: ${parsed.message}`, 'stored', stored.id, side);
      const limits = limitsIn(
        { state, place, setting: () => settingIn(state, act.set) },
        { lower: stored.lower, upper: stored.upper },
      );
      const form = ownFormIn(state, stored.unit);
      const value = form ? form.toDocument(parsed.reading.value) : parsed.reading.value;
      const outside = outsideWords(stored.title, value, unitIn(state, stored.unit, place), limits);
      // What it was found to hold may be beyond what it should: then somebody says so.
      if (outside && (side !== 'before' || act.note.length < 3))
        return refuse(
          side === 'before' ? `${outside} Read it again, or say in the note why.` : outside,
          'stored',
          stored.id,
          side,
        );
    }
    if (moves) continue;
    const known = heldByRecord(state, act.set, act.id, act.each ?? null)[stored.id];
    if (known !== undefined && Number(known) !== Number(given.before!.replace(',', '.').replace('−', '-')) && act.note.length < 3)
      return refuse(
        `${stored.title}: the record has ${known.replace('-', '−')}, the instrument holds ${given.before}. Read it again, or say in the note why they differ.`,
        'note',
      );
    if (given.readBack !== undefined && Number(given.readBack.replace(',', '.')) !== Number(given.after.replace(',', '.')))
      return refuse(
        `${stored.title}: ${given.after} was entered, but ${given.readBack} was read back. Enter it again.`,
        'stored',
        stored.id,
        'readBack',
      );
  }
  const held = doc.stored.filter((s) => !isMove(doc, s.id)).map((s) => act.stored[s.id]!);
  const number = (text: string) => Number(text.replace(',', '.').replace('−', '-'));
  if (held.length > 0 && held.length === doc.stored.length && held.every((s) => number(s.before!) === number(s.after)))
    return refuse(
      `It holds ${held.map((s) => s.before).join(' and ')} already: entering the same again adjusts nothing. Enter another value, or go back and look for the cause.`,
      'stored',
      doc.stored[0]!.id,
      'after',
    );
  return null;
}

function admitInterval(state: RunState, act: ActOf<'interval-decided'>, now: string): Admission {
  if (isQuickCheck(state)) return refuse('A quick check sets no date.', 'type');
  if (!['interval', 'complete'].includes(nextItem(state)?.type ?? ''))
    return refuse('The next date is set after the readings.', 'type');
  const today = dayIn(now, state.timeZone);
  if (act.next <= today) return refuse('The next date must lie in the future.', 'next');
  if (act.next > `${Number(today.slice(0, 4)) + 10}${today.slice(4)}`)
    return refuse('The next date is more than ten years away.', 'next');
  // What a school proposed rests on more than this log: whoever keeps the histories holds it against them.
  const date = act.school === undefined ? proposeNextDate(state, verdictAsFound(state), today).date : act.proposed;
  if (act.proposed !== date) return refuse('The proposed date has changed since this was shown. Read it again.', 'proposed');
  if (act.next !== date && act.reason.length < 3)
    return refuse('This date differs from the proposed one: give the reason.', 'reason');
  return null;
}
