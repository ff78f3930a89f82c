import { asAct, type NewAct, type RecordedEvent } from '../../core/acts/registry';
import { admit } from '../../core/acts/admit';
import { runState, withEvent } from '../../core/acts/fold';
import { withPlan } from '../../core/acts/plan';
import { adjustmentAdvice } from '../../core/run/adjustment-advice';
import { diagnose, unmendable } from '../../core/run/diagnosis';
import { kindOfSet } from '../../core/evaluate/completeness';
import { seriesOf } from '../../core/run/place-words';
import { isBenchWorkOver, nextItem, waitMinutes } from '../../core/run/next-step';
import { observationOf } from '../../core/run/reading-rules';
import { toRuleOut, type ToRuleOut } from '../../core/run/rule-out';
import { rungPlace, rungsOf } from '../../core/run/rungs';
import { evaluationIfAny } from '../../core/run/run-results';
import { doneAt } from '../../core/state/logged';
import { slotOf } from '../../core/state/place-keys';
import type { RunState } from '../../core/state/run-state';
import { plainAct } from '../technician';
import { causeOf, displaySlots, shownAt, spentIn, truthAt, type PracticeBench } from './practice';
import { isThereStill, judgedSymbol, remedyOf, type HiddenFault } from './hidden-faults';
import { faultTitles, type Debrief, type FaultKind } from '../../core/practice/debrief-shape';

/** Whether what a practice run left is really inside: told from the truth, which nobody at a bench knows. */
function isInside(practice: PracticeBench, state: RunState, now: string): boolean | null {
  const set = lastSet(state);
  const truth = truthAt(practice, state, now, true);
  const checked = displaySlots(state, set).flatMap((slot) => {
    const series = seriesOf(state, slot.series)!;
    const symbol = judgedSymbol(series);
    if (series.gate || symbol === undefined) return [];
    const entry = evaluationIfAny(state, set).series.find((e) => e.id === slot.series && (e.each ?? undefined) === slot.each);
    const limits = entry?.points.find((p) => p.id === slot.point && (p.sweep ?? undefined) === slot.sweep)?.results[symbol]
      ?.limits;
    if (!limits || limits.lower === undefined || limits.upper === undefined) return [];
    const value = truth.trueValue(state, slot, symbol);
    return [value >= limits.lower && value <= limits.upper];
  });
  return checked.length ? checked.every(Boolean) : null;
}

/** Whether what takes a fault away was done. */
function isFound(state: RunState, fault: HiddenFault, isLeft: boolean | null): boolean {
  switch (remedyOf(state.procedure, fault)) {
    case 'look':
      return !isThereStill(state, fault);
    case 'adjust':
      return state.adjusted.length > 0 || isLeft === true;
    case 'none':
      return state.brokenOff !== null || lastVerdict(state) === 'fail';
  }
}

/** The set that says how it was left: the last that was judged, or was to be. */
const lastSet = (state: RunState): string => state.sets.findLast((s) => ['as-found', 'as-left'].includes(kindOfSet(s.id)))!.id;

const lastVerdict = (state: RunState) => evaluationIfAny(state, lastSet(state)).verdict;

/** Adjustments that were made while something around the instrument was wrong still. */
function adjustedOver(state: RunState, faults: readonly HiddenFault[]): HiddenFault[] {
  return faults.filter(({ cause }) => {
    if (cause === null) return false;
    const looked = [...state.rulings, ...state.rungs].filter((r) => r.id === cause).map((r) => r.sequence);
    return state.adjusted.some((a) => looked.every((sequence) => sequence > a.sequence));
  });
}

function mistakesOf(
  state: RunState,
  faults: readonly HiddenFault[],
  named: readonly FaultKind[],
  isLeft: boolean | null,
): string[] {
  const mistakes: string[] = [];
  const title = (kind: FaultKind) => `“${faultTitles[kind]}”`;
  const over = adjustedOver(state, faults);
  if (over.length)
    mistakes.push(
      `It was adjusted while something else was wrong (${over.map((f) => title(f.kind)).join(', ')}): that only moves the error.`,
    );
  const wanted = faults.some((f) => remedyOf(state.procedure, f) === 'adjust');
  const isAgainst = state.decisions.some((d) => d.adjustment !== null && d.adjustment !== d.proposed);
  if (!wanted && over.length === 0 && isAgainst)
    mistakes.push('It was adjusted against the advice, and there was nothing that an adjustment takes away.');
  for (const fault of faults) {
    if (isFound(state, fault, isLeft)) continue;
    const remedy = remedyOf(state.procedure, fault);
    if (remedy === 'look') mistakes.push(`Nobody looked for what was behind ${title(fault.kind)}.`);
    if (remedy === 'adjust') mistakes.push(`${title(fault.kind)} was the instrument’s own: an adjustment takes it away.`);
    if (remedy === 'none')
      mistakes.push(
        `${title(fault.kind)} stays whatever is done at this bench: it is to be left outside, or broken off as damaged.`,
      );
  }
  if (wanted && state.adjusted.length > 0 && isLeft === false && lastVerdict(state) !== 'fail')
    mistakes.push('As it was left it is not inside its limits, and the readings do not say so.');
  const missing = faults.filter((f) => !named.includes(f.kind)).map((f) => title(f.kind));
  if (missing.length) mistakes.push(`Not said: ${[...new Set(missing)].join(', ')}.`);
  const wrong = named.filter((kind) => !faults.some((f) => f.kind === kind)).map(title);
  if (wrong.length) mistakes.push(`Said, and not so: ${wrong.join(', ')}.`);
  return mistakes;
}

/** After how many of the first readings the readings alone name the first fault; looked at so often at the most. */
async function toldAfter(
  events: readonly RecordedEvent[],
  faults: readonly HiddenFault[],
  pause: Pause,
): Promise<Debrief['told']> {
  const [first] = faults;
  if (!first) return null;
  const set = 'as-found';
  const readings = events.flatMap((e, i) => (e.act.type === 'observed' && e.act.set === set ? [i] : []));
  const every = Math.max(1, Math.ceil(readings.length / mostLooks));
  for (let n = every; n <= readings.length; n += every) {
    await pause();
    const state = runState(events.slice(0, readings[n - 1]! + 1));
    const [look] = diagnose(state, set).looks;
    if (look && look.cause === causeOf(first.kind) && look.probability > 1 / 2) return { after: n, of: readings.length };
  }
  return null;
}
const mostLooks = 16;

/** A cause less probable than this is not looked for before something is adjusted. */
const worthLooking = 0.08;

/**
 * What somebody with experience does next: where something is outside, looks for what is cheap and probable at one point, reads
 * everything again where that moved it, and adjusts only then.
 */
function expertsAct(practice: PracticeBench, state: RunState, now: string): NewAct | null {
  const item = nextItem(state);
  if (isBenchWorkOver(state)) return null;
  if (item?.type === 'judge') {
    const { set } = item;
    const tried = rungsOf(state, set);
    const moved = tried.find(({ outcome }) => outcome?.moved)?.rung;
    if (moved) return { type: 'ruling-out', set, id: moved.id, note: moved.note };
    const diagnosis = diagnose(state, set);
    if (evaluationIfAny(state, set).verdict !== 'pass' || diagnosis.scatter) {
      const all = toRuleOut(state, set);
      const isNew = ({ doc }: ToRuleOut) => ![...state.rulings, ...state.rungs].some((x) => x.id === doc.id);
      const { adjustment, outlooks } = adjustmentAdvice(state, set);
      const isLast = adjustment === null;
      const next = all.find((r) => isNew(r) && (isLast || (r.probability ?? 0) >= worthLooking));
      const place = rungPlace(state, set);
      if (next && place)
        return {
          type: 'rung-tried',
          ...place,
          series: place.series!,
          point: place.point!,
          id: next.doc.id,
          note: next.doc.title,
        };
      // What moves with time cannot be told at one point: what was looked for is held against all of them.
      const [top] = diagnosis.looks;
      const behind = top && all.toSorted((p, q) => (q.doc.explains?.[top.cause] ?? 0) - (p.doc.explains?.[top.cause] ?? 0))[0];
      const again = next ?? (unmendable(diagnosis) > 1 / 2 ? behind : undefined);
      if (again && state.rulings.every((r) => r.id !== again.doc.id))
        return { type: 'ruling-out', set, id: again.doc.id, note: again.doc.title };
      // When nothing else is left: what the procedure can adjust.
      const untried = outlooks.find((o) => o.advice.wanted && !state.adjusted.some((a) => a.id === o.doc.id));
      const isStraight = top !== undefined && ['offset', 'span', 'offset-and-span'].includes(top.cause);
      if (isLast && untried && (untried.doc.kind === 'mechanical' || isStraight))
        return {
          type: 'adjustment-decided',
          set,
          adjustment: untried.doc.id,
          ...(untried.advice.each ? { each: untried.advice.each } : {}),
          proposed: null,
          reason: 'Every cause was looked for',
        };
    }
  }
  return plainAct(state, shownAt(practice, state, now), now);
}

/** No expert reads everything more often than so. */
const mostSets = 6;
const mostActs = 4000;

/** Lets others have their turn: what is told here takes seconds. */
export type Pause = () => Promise<void>;
const atOnce: Pause = () => Promise.resolve();

/** Plays a practice run as somebody with experience would. */
export async function expertsRun(
  practice: PracticeBench,
  first: RecordedEvent,
  pause: Pause = atOnce,
): Promise<{ events: RecordedEvent[]; state: RunState }> {
  const events = [first];
  let state = runState(events);
  let clock = Date.parse(doneAt(first));
  while (events.length < mostActs && state.sets.length <= mostSets) {
    await pause();
    clock += 30_000;
    const at = () => new Date(clock).toISOString();
    const entry = expertsAct(practice, state, at());
    if (!entry) break;
    clock += 1000 * secondsBefore(state, entry);
    const event = admittedEvent(state, events.length + 1, entry, first.person, at());
    events.push(event);
    state = withEvent(state, event);
  }
  return { events, state };
}

/** Seconds that pass before something can be recorded: what is to stand is let stand, a wait is waited for. */
export function secondsBefore(state: RunState, entry: NewAct): number {
  const item = nextItem(state);
  if (item?.type === 'reading') return observationOf(state, slotOf(item))?.settleSeconds ?? 0;
  return entry.type === 'wait-ended' ? waitMinutes(state) * 60 + 5 : 0;
}

/** An act as the event that it becomes; one that is asked about is kept, looked at twice. @throws Error when it is refused */
export function admittedEvent(state: RunState, sequence: number, entry: NewAct, person: string, at: string): RecordedEvent {
  const act = withPlan(state, asAct(entry));
  const refusal = admit(state, act, person, at);
  if (refusal?.keepable && entry.type === 'observed' && !entry.confirmed)
    return admittedEvent(state, sequence, { ...entry, confirmed: true, reason: 'Read twice: it shows this' }, person, at);
  if (refusal) throw new Error(`Refused (${entry.type}): ${refusal.message}`);
  return { sequence, at, person, act };
}

const decisionsOf = ({ events, state }: { events: RecordedEvent[]; state: RunState }): string[] =>
  events.flatMap(({ act }): string[] => {
    const cause = 'id' in act ? state.procedure.ruleOut.find((r) => r.id === act.id)?.title : undefined;
    if (act.type === 'rung-tried') return [`Looked for: ${cause}`];
    if (act.type === 'ruling-out') return [`Read everything again: ${cause}`];
    if (act.type !== 'adjustment-decided') return [];
    const doc = state.procedure.adjustments.find((a) => a.id === act.adjustment);
    return [doc ? `Adjusted: ${doc.title}` : 'Left it as it is'];
  });

/**
 * How a practice run went.
 * @param named what was said at the end to have been wrong
 */
export async function debrief(
  practice: PracticeBench,
  events: RecordedEvent[],
  named: readonly FaultKind[],
  pause: Pause = atOnce,
): Promise<Debrief> {
  const state = runState(events);
  const now = doneAt(events.at(-1)!);
  const left = isInside(practice, state, now);
  const mistakes = mistakesOf(state, practice.faults, named, left);
  const expert = await expertsRun(practice, events[0]!, pause);
  return {
    faults: practice.faults.map((f) => ({
      kind: f.kind,
      title: faultTitles[f.kind],
      behind: state.procedure.ruleOut.find((r) => r.id === f.cause)?.title ?? null,
      remedy: remedyOf(state.procedure, f),
      isFound: isFound(state, f, left),
      isNamed: named.includes(f.kind),
    })),
    isSolved: mistakes.length === 0,
    mistakes,
    isLeftInside: left,
    spent: spentIn(events, doneAt),
    expert: { ...spentIn(expert.events, doneAt), decisions: decisionsOf(expert) },
    told: await toldAfter(events, practice.faults, pause),
  };
}
