import * as z from 'zod';
import { AnalysisError } from '../disciplines/discipline-analysis';
import { disciplineAnalyses } from '../disciplines/registry';
import { isIn } from '../evaluate/setting';
import { id, nothingTyped, reason } from '../plan/atoms';
import { place, repeat, type Place } from '../plan/plan-schema';
import { isOffScale, parseReading } from '../quantity/reading';
import { adjustmentDoubt } from '../run/adjustment-effect';
import { cannotShow } from '../run/cannot-show';
import { openReadings } from '../run/open-readings';
import { readForm } from '../state/own-units';
import { seriesOf } from '../run/place-words';
import { checkPlausibility } from '../run/plausibility';
import { expectationOf, observationOf, observedLimits, observedUnit } from '../run/reading-rules';
import { refuse, type Refusal } from '../state/refusal';
import { settingIn } from '../run/run-results';
import { numberAt, scopeAt } from '../state/run-scope';
import { isClosed, skipOf } from '../state/progress';
import { placeOf, slotKey } from '../state/place-keys';
import type { Reading, RunState, Slot } from '../state/run-state';
import { withPrintedUnit } from '../run/shown-value';
import { outsideWords } from '../steps/step-context';
import { actKind } from './act-kind';
import { evidence, joined, lower, where } from './common';
import { byItem } from './spreading';

type Admission = Refusal | null;
/** What was read and where. */
type Observed = Place & {
  series: string;
  point: string;
  repeat: number;
  observation: string;
  text: string;
  unit?: string | undefined;
  confirmed?: boolean | undefined;
  reason?: string | undefined;
};

/** What a file observation holds at the most, in characters. */
const mostText = 400_000;

const slotOfAct = (act: Observed): Slot => ({ ...placeOf(act), observation: act.observation }) as Slot;

function admitReading(state: RunState, act: Observed): Admission {
  const slot = slotOfAct(act);
  const at = state.index.get(slotKey(slot));
  const item = at === undefined ? undefined : state.plan[at];
  const observation = observationOf(state, slot);
  if (!item || !observation) return refuse('The procedure asks for no such reading.', 'point');
  if (isClosed(state, slot.set)) return evidence(slot.set, 'set');
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
function admitFile(state: RunState, act: Observed, slot: Slot): Admission {
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

function admitNumber(state: RunState, act: Observed, slot: Slot): Admission {
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
function admitOffScale(act: Observed, title: string): Admission {
  if (!/^\s*[<>]\s*$/.test(act.text))
    return refuse(`Type > alone where ${title} is above its scale, < where it is below, or the number that is shown.`, 'text');
  return act.confirmed
    ? null
    : { ...refuse(`${title} is off its scale: look at its range, the wiring and the standard first.`, 'text'), keepable: true };
}

type Doubt = { message: string; suggestion: string | null };

function doubtOf(state: RunState, slot: Slot, value: number): Doubt | null {
  const expected = expectationOf(state, slot, value);
  const plausible = expected ? checkPlausibility(value, expected) : null;
  return plausible && !plausible.plausible ? plausible : null;
}

/** The value that a typed observation has: a number where it is one. */
function observedValue(state: RunState, act: Observed): { text: string; value: number | string } {
  const type = observationOf(state, slotOfAct(act))?.type ?? 'number';
  if (type !== 'number' || isOffScale(act.text)) return { text: act.text, value: act.text };
  const parsed = parseReading(act.text);
  if (!parsed.ok) throw new Error(`The log holds a number that cannot be read: ${act.text}`);
  return { text: parsed.reading.text, value: parsed.reading.value };
}

/** A reading of the instrument or of a standard. */
export const observed = actKind(
  'observed',
  {
    ...place,
    series: id,
    point: id,
    repeat,
    observation: id,
    text: z.string().trim().min(1, nothingTyped).max(mostText),
    /** The unit in which a standard was read, where that is not the document's; worked out by the core (`withPlan`). */
    unit: z.string().max(60).optional(),
    /** Kept as typed although it looked implausible. */
    confirmed: z.boolean().optional(),
    reason: reason.optional(),
  },
  {
    // A reading of a standard that shows another unit than the document's is kept with its unit.
    kept: (state, act) => {
      const series = seriesOf(state, act.series);
      const observation = observationOf(state, slotOfAct(act));
      const form = observation && observation.of !== 'instrument' ? readForm(state, series, observation) : null;
      return form ? { ...act, unit: form.unit } : act;
    },
    admit: admitReading,
    fold: (state, act, signed) => {
      const slot = slotOfAct(act);
      const reading: Reading = {
        ...signed,
        slot,
        ...observedValue(state, act),
        ...(act.unit === undefined ? {} : { unit: act.unit }),
        reason: act.reason ?? null,
        struck: null,
      };
      state.readings.push(reading);
      state.live.set(slotKey(slot), reading);
      state.done.set(slotKey(slot), signed);
    },
    words: (act, state) => {
      const observation = observationOf(state, act);
      const unit = observation ? observedUnit(state, act, observation) : '';
      const option = observation?.options?.find((o) => o.id === act.text)?.title;
      const text = observation?.type === 'file' ? `${act.text.length} characters` : (option ?? withPrintedUnit(act.text, unit));
      const note = act.reason ? `kept: ${act.reason}` : act.confirmed ? 'confirmed when asked' : '';
      return `${joined(lower(act.set), where(state, act))}, ${observation?.title ?? act.observation}: ${text}${note ? ` (${note})` : ''}`;
    },
    spread: byItem((act) => ({ type: 'reading', ...placeOf(act), id: act.observation })),
  },
);
