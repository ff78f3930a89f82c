import { offeredItems } from '../standard/assigned-value';
import { AnalysisError } from '../disciplines/discipline-analysis';
import { disciplineAnalyses } from '../disciplines/registry';
import { sourcesOf, evaluateText, isIn } from '../evaluate/setting';
import type { ActOf, PlanItem } from '../log/event-schema';
import { besideSteps, isOffScale, parseReading } from '../quantity/reading';
import { plainDecimal } from '../quantity/rounding';
import { outsideWords, withUnit } from '../steps/step-context';
import { adjustmentDoubt } from './adjustment-effect';
import { seriesOf, setTitle } from './place-words';
import { checkPlausibility } from './plausibility';
import { expectationOf, observationOf, observedLimits, observedResolution, observedUnit } from './reading-rules';
import { refuse, type Refusal } from './refusal';
import { settingIn } from './run-results';
import { numberAt, scopeAt } from './run-scope';
import { isClosed, isDone, placeOf, skipOf, slotKey, slotOf, type RunState, type Slot } from './run-state';

type Admission = Refusal | null;

/** Where readings stop for now: at the first thing that is not one and has to be done first. */
export function openReadings(state: RunState): { from: number; to: number } {
  let to = state.firstOpen;
  while (to < state.plan.length && (state.plan[to]!.type === 'reading' || isDone(state, state.plan[to]!))) to++;
  return { from: state.firstOpen, to };
}

/** Whether a reading may be taken now: nothing that has to be done before it is open. */
export const isOpenReading = (state: RunState, item: PlanItem): boolean => {
  const at = state.plan.indexOf(item);
  return item.type === 'reading' && !isClosed(state, item.set) && at >= 0 && at < openReadings(state).to;
};

const slotOfAct = (act: ActOf<'observed'>): Slot => ({ ...placeOf(act), observation: act.observation }) as Slot;

export function admitReading(state: RunState, act: ActOf<'observed'>): Admission {
  const slot = slotOfAct(act);
  const at = state.index.get(slotKey(slot));
  const item = at === undefined ? undefined : state.plan[at];
  const observation = observationOf(state, slot);
  if (!item || !observation) return refuse('The procedure asks for no such reading.', 'point');
  if (isClosed(state, slot.set))
    return refuse(`The readings ${setTitle(slot.set).toLowerCase()} are closed: they are evidence.`, 'set');
  if (state.live.has(slotKey(slot)))
    return refuse('This reading is taken. Strike it out, with the reason, to take it again.', 'repeat');
  if (skipOf(state, slot)) return refuse('This was skipped. Take it up again first.', 'point');
  if (at! >= openReadings(state).to)
    return refuse('Something has to be done before this reading. Do the step that is shown first.', 'point');
  if (observation.type === 'choice')
    return observation.options?.some((o) => o.id === act.text)
      ? null
      : refuse(`Choose one of ${observation.options?.map((o) => o.title).join(', ')}.`, 'text');
  if (observation.type === 'file') return admitFile(state, act, slot);
  return admitNumber(state, act, slot);
}

/** A file is taken when what is worked out of it can be: one that says nothing of the kind is told now, not at judging. */
function admitFile(state: RunState, act: ActOf<'observed'>, slot: Slot): Admission {
  const { repeat: _repeat, observation: id, ...place } = slot;
  const setting = settingIn(state, slot.set);
  for (const { use, of, with: given, when } of seriesOf(state, slot.series)?.analyses ?? []) {
    const analysis = disciplineAnalyses.get(use);
    if (of !== id || !analysis || !isIn(setting, when, scopeAt(setting, place))) continue;
    const needs = analysis.needs.map((need) => [need.id, numberAt(setting, given?.[need.id], place)] as const);
    if (needs.some(([, value]) => value === undefined)) continue;
    const before = Array.from(
      { length: slot.repeat - 1 },
      (_, i) => state.live.get(slotKey({ ...slot, repeat: i + 1 }))?.text ?? [],
    );
    try {
      analysis.analyse([...before.flat(), act.text], Object.fromEntries(needs) as Record<string, number>);
    } catch (error) {
      if (error instanceof AnalysisError)
        return refuse(`This does not hold what is wanted here: ${error.message} Look whether it is the right file.`, 'text');
      throw error;
    }
  }
  return null;
}

function admitNumber(state: RunState, act: ActOf<'observed'>, slot: Slot): Admission {
  const observation = observationOf(state, slot)!;
  if (isOffScale(act.text)) return admitOffScale(act, observation.title ?? observation.id);
  const parsed = parseReading(act.text);
  if (!parsed.ok) return refuse(parsed.message, 'text');
  const { value, text, resolution: typedStep } = parsed.reading;
  const unit = observedUnit(state, slot, observation);
  const doubt = doubtOf(state, slot, value) ?? adjustmentDoubt(state, act, slot);
  const offered = doubt?.suggestion ? { suggestion: doubt.suggestion } : {};
  const cannot = cannotShow(state, slot, value, typedStep);
  if (cannot)
    return {
      ...refuse(`${cannot.replace('{text}', text)} ${doubt?.suggestion ? doubt.message : 'Read it again.'}`, 'text'),
      ...offered,
    };
  if (doubt && !act.confirmed) return { ...refuse(doubt.message, 'text'), ...offered, keepable: true };
  if (doubt && !act.reason) return refuse(`${doubt.message} To keep ${text}, say in a few words why.`, 'reason');
  const outside = outsideWords(observation.title ?? observation.id, value, unit, observedLimits(state, slot, observation));
  return outside && !act.reason ? refuse(`${outside} Read it again, or give the reason for keeping it.`, 'reason') : null;
}

/** A reading that the display did not show as a number: kept on purpose, since it is outside or leaves the point undetermined. */
function admitOffScale(act: ActOf<'observed'>, title: string): Admission {
  if (!/^\s*[<>]\s*$/.test(act.text))
    return refuse(`Type > alone where ${title} is above its scale, < where it is below, or the number that is shown.`, 'text');
  return act.confirmed
    ? null
    : { ...refuse(`${title} is off its scale: look at its range, the wiring and the standard first.`, 'text'), keepable: true };
}

/** Why the display cannot have shown a value: more digits than it has, off its steps, or beyond what it reaches. */
function cannotShow(state: RunState, slot: Slot, value: number, typedStep: number): string | null {
  const observation = observationOf(state, slot)!;
  const unit = observedUnit(state, slot, observation);
  const step = observedResolution(state, slot, observation);
  if (step !== null && typedStep < step * 0.0999)
    return `It reads to ${withUnit(step, unit)}; {text} has more digits than it can show.`;
  const beside = step === null ? null : besideSteps(value, step);
  if (beside)
    return `It reads in steps of ${withUnit(step!, unit)}: it shows ${plainDecimal(beside[0])} or ${withUnit(beside[1], unit)}, not {text}.`;
  const { lower, upper, unit: ownUnit } = state.instrument;
  if (observation.of !== 'instrument' || unit !== ownUnit || upper <= lower) return null;
  // A little beyond its ends a display still counts.
  const over = Math.max(0.1 * (upper - lower), 20 * (step ?? 0));
  return value < lower - over || value > upper + over
    ? `It reaches from ${plainDecimal(lower)} to ${withUnit(upper, unit)}: it cannot show {text}.`
    : null;
}

type Doubt = { message: string; suggestion: string | null };

function doubtOf(state: RunState, slot: Slot, value: number): Doubt | null {
  const expected = expectationOf(state, slot, value);
  const plausible = expected ? checkPlausibility(value, expected) : null;
  return plausible && !plausible.plausible ? plausible : null;
}

export function admitStrike(state: RunState, sequence: number): Admission {
  const reading = state.readings.find((r) => r.sequence === sequence);
  if (!reading) return refuse('There is no such reading.', 'sequence');
  if (reading.struck) return refuse('This reading is already struck out.', 'sequence');
  return isClosed(state, reading.slot.set)
    ? refuse(`The readings ${setTitle(reading.slot.set).toLowerCase()} are closed: they are evidence.`, 'sequence')
    : null;
}

/** Items in place of those that the plan resolved: they must serve the point, and nothing may have been read on the others. */
export function admitItems(state: RunState, act: ActOf<'items-chosen'>): Admission {
  const place = placeOf(act);
  const use = state.procedure.series.find((s) => s.id === act.series)?.uses[act.use];
  if (!use || (use.stack === undefined && use.item === undefined)) return refuse('Nothing is chosen here.', 'use');
  if (isClosed(state, act.set))
    return refuse(`The readings ${setTitle(act.set).toLowerCase()} are closed: they are evidence.`, 'set');
  const isRead = [...state.live.values()].some(
    (r) => r.slot.set === act.set && r.slot.series === act.series && r.slot.each === act.each && r.slot.point === act.point,
  );
  if (isRead) return refuse('Readings have been taken on these. Strike them out first, with the reason.', 'items');
  if (new Set(act.items).size !== act.items.length) return refuse('One thing can be taken only once.', 'items');
  const s = settingIn(state, act.set);
  const scope = scopeAt(s, place);
  if (!scope.series || !scope.point) return refuse('The procedure has no such point.', 'point');
  const offered = offeredItems(sourcesOf(s, scope.series, act.use), {});
  const chosen = act.items.map((id) => offered.find((o) => o.item.id === id));
  if (chosen.some((o) => !o)) return refuse('One of these is not in the standard of this run.', 'items');
  if (use.stack === undefined) return act.items.length === 1 ? null : refuse('Choose one.', 'items');
  const wanted = evaluateText(s, use.stack, scope);
  const total = Number(chosen.reduce((sum, o) => sum + o!.item.nominal, 0).toPrecision(12));
  return Math.abs(total - wanted) <= 1e-9 * Math.max(1, Math.abs(wanted))
    ? null
    : refuse(`These add to ${plainDecimal(total)}; the point is ${plainDecimal(wanted)}.`, 'items');
}

/** The reading that comes before or after another in the plan; null at an end. Only what is open or taken in its set can be stepped to. */
export function readingBeside(state: RunState, slot: Slot, by: 1 | -1): Slot | null {
  const at = state.index.get(slotKey(slot));
  if (at === undefined) return null;
  const { to } = openReadings(state);
  for (let i = at + by; i >= 0 && i < state.plan.length; i += by) {
    const item = state.plan[i]!;
    if (item.type !== 'reading') continue;
    if (item.set !== slot.set) return null;
    if (i < to) return slotOf(item);
  }
  return null;
}
