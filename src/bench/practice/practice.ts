import { takenBy } from '../../core/evaluate/adjustments';
import type { NewAct, RecordedEvent } from '../../core/acts/registry';
import type { ProcedureDocument } from '../../core/procedure/document-schema';
import { heldByRecord, proposedFromHeld } from '../../core/run/adjustment-advice';
import { instanceTitle, seriesOf } from '../../core/run/place-words';
import { conditionsNow, contextOf, isBenchWorkOver, nextItem } from '../../core/run/next-step';
import { observationOf } from '../../core/run/reading-rules';
import { settingIn } from '../../core/run/run-results';
import { lookedAt } from '../../core/run/rungs';
import { recorded } from '../../core/steps/identify';
import type { StepContext } from '../../core/steps/step-context';
import { numberAt } from '../../core/state/run-scope';
import { placeOf, slotKey, slotOf } from '../../core/state/place-keys';
import { placedPoint, type RunState, type Slot } from '../../core/state/run-state';
import { benchTruth, type BenchTruth } from '../bench';
import { seededRandom } from '../random';
import { asShown } from '../simulated-run';
import { plainAct, type Shown } from '../technician';
import type { Truth } from '../truths';
import { hiddenBenches } from '../works/hidden-benches';
import { addedBy, judgedSymbol, mends, misled, type HiddenFault } from './hidden-faults';
import type { PracticeCase } from './practice-cases';

/** A number told from a text, for seeds of things by their names (FNV-1a). */
function numberOfText(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  // Texts that differ in one letter shall not lie beside each other.
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}

const drawsOf =
  (seed: number) =>
  (key: string): (() => number) =>
    seededRandom(numberOfText(`${seed} ${key}`));

/** What is hidden in a case as a seed draws it, at the procedure that is gone through. */
export function drawnFaults(of: PracticeCase, procedure: ProcedureDocument, seed: number): HiddenFault[] {
  const main = procedure.series.find((s) => !s.gate && judgedSymbol(s) !== undefined)!;
  const taken = new Set<string>();
  return of.faults.map(({ kind, isOwn, series = main.id, size: [least, greatest] = [1.5, 2.5] }, i) => {
    const random = drawsOf(seed)(`fault ${i}`);
    const sign = random() < 0.5 ? -1 : 1;
    const size = sign * (least + (greatest - least) * random());
    const at = random();
    const causes = isOwn ? [] : procedure.ruleOut.filter((r) => (r.explains?.[causeOf(kind)] ?? 0) > 0 && !taken.has(r.id));
    // Among those that explain it, as often as each does.
    const total = causes.reduce((sum, r) => sum + r.explains![causeOf(kind)]!, 0);
    let left = random() * total;
    const cause = causes.find((r) => (left -= r.explains![causeOf(kind)]!) <= 0) ?? causes.at(-1);
    if (cause) taken.add(cause.id);
    return { kind, series, size, at, cause: cause?.id ?? null };
  });
}

/** What a fault looks like, as causes are named where errors are looked at. */
export const causeOf = (kind: HiddenFault['kind']) => (kind === 'stuck' ? 'curvature' : kind);

/** A bench with what is hidden at it. */
export type PracticeBench = { procedure: string; seed: number; faults: readonly HiddenFault[] };

/** How far an adjustment went of the way that it was to go, by what was entered. */
function wayGone(state: RunState, made: RunState['adjusted'][number]): number {
  const held = Object.fromEntries(Object.entries(made.stored).map(([id, s]) => [id, s.before ?? '0']));
  const proposed = proposedFromHeld(state, made.set, made.id, made.each ?? null, held);
  const ways = Object.entries(made.stored).flatMap(([id, { after }]) => {
    const whole = Number(proposed[id]) - Number(held[id]);
    return Number.isFinite(whole) && whole !== 0 ? [(Number(after) - Number(held[id])) / whole] : [];
  });
  return ways.length ? ways.reduce((sum, w) => sum + w, 0) / ways.length : 1;
}

/** What adjustments have taken away of a result where a reading stands. */
function correctedBy(state: RunState, slot: Slot, symbol: string): number {
  const series = seriesOf(state, slot.series)!;
  const result = series.results.find((r) => r.symbol === symbol)!;
  const { repeat: _repeat, observation: _observation, ...place } = slot;
  return state.adjusted.reduce((sum, made) => {
    const doc = state.procedure.adjustments.find((a) => a.id === made.id)!;
    if (made.set === slot.set || (made.each !== undefined && made.each !== slot.each)) return sum;
    const taken = takenBy(settingIn(state, made.set), doc, made.set, made.each ?? null);
    if (!taken?.series.includes(slot.series) || JSON.stringify(taken.unit) !== JSON.stringify(result.unit)) return sum;
    const x = numberAt(settingIn(state, slot.set), result.reference, place) ?? placedPoint(state, slot)?.nominal ?? 0;
    return sum + wayGone(state, made) * taken.by(x);
  }, 0);
}

/** An adjustment that no formula tells is made by the instrument itself: afterwards it is right, as far as it can be. */
function isSelfMade(state: RunState, made: RunState['adjusted'][number]): boolean {
  const doc = state.procedure.adjustments.find((a) => a.id === made.id)!;
  return takenBy(settingIn(state, made.set), doc, made.set, made.each ?? null) === null;
}

function faultsLeft(state: RunState, faults: readonly HiddenFault[]): readonly HiddenFault[] {
  const moved = state.adjusted.filter((made) => isSelfMade(state, made));
  const of = (id: string) => state.procedure.adjustments.find((a) => a.id === id)!;
  return faults.filter((fault) => !moved.some((made) => mends(of(made.id), fault)));
}

/**
 * The bench as it is at a moment of the run.
 * @param isOwn the instrument alone, without what is wrong around it
 */
export function truthAt({ procedure, seed, faults }: PracticeBench, state: RunState, now: string, isOwn = false): BenchTruth {
  const { bench } = hiddenBenches.get(procedure)!;
  const drawFor = drawsOf(seed);
  const there = { faults: faultsLeft(state, faults), now, drawFor };
  const truth = benchTruth(bench, !isOwn, {
    drawFor,
    more: (s, slot, symbol) => addedBy(s, slot, symbol, there, isOwn) - correctedBy(s, slot, symbol),
  })(drawFor('instrument'));
  return {
    ...truth,
    ...misled(truth, there),
    stored: (id, proposed) => {
      const held = state.adjusted.findLast((a) => a.stored[id] && a.each === undefined)?.stored[id]?.after;
      const { before, after } = truth.stored(id, proposed);
      // What each of several instances holds stands in the record.
      const now = held ?? (state.adjusted.some((a) => a.stored[id]) ? undefined : before);
      return { after, ...(now === undefined ? {} : { before: now }) };
    },
  };
}

/** What the technician's hands and eyes are given at a bench. */
export function shownAt(practice: PracticeBench, state: RunState, now: string): Shown {
  const truth: Truth = truthAt(practice, state, now);
  const drawFor = drawsOf(practice.seed);
  return {
    reading: (s, slot) => asShown(truth.shows(s, slot, drawFor(`shown ${s.sequence} ${slotKey(slot)}`))),
    condition: (id) => truth.condition(id, drawFor(`condition ${id} ${state.sets.length}`)),
    measured: truth.measured,
    stored: truth.stored,
  };
}

/** A line of what the instruments at the bench show. */
export type ShownLine = { title: string; text: string; unit: string };

const unitText = (unit: unknown, own: string): string => (typeof unit === 'string' ? unit : own);

/**
 * What is to be seen at the bench for what is done now.
 * @param at the reading that is looked at, where it is not the next one
 */
export function displayAt(practice: PracticeBench, state: RunState, now: string, at?: Slot): ShownLine[] {
  const item = nextItem(state);
  const shown = shownAt(practice, state, now);
  const own = state.instrument.unit;
  const readingLine = (slot: Slot): ShownLine => {
    const observation = observationOf(state, slot);
    const text = shown.reading(state, slot);
    const option = observation?.options?.find((o) => o.id === text);
    return {
      title: observation?.title ?? 'Display',
      text: option?.title ?? text,
      unit: option ? '' : unitText(observation?.unit, own),
    };
  };
  if (at) return [readingLine(at)];
  switch (item?.type) {
    case 'reading':
      return [readingLine(slotOf(item))];
    case 'look':
      return lookedAt(state, placeOf(item)).map(readingLine);
    case 'condition':
      return conditionsNow(state).map(({ id }) => {
        const condition = state.procedure.conditions.find((c) => c.id === id)!;
        return { title: condition.title, text: shown.condition(id), unit: unitText(condition.unit, own) };
      });
    case 'step': {
      const context = contextOf(state, item, now)!;
      const { step } = context;
      if (step.kind === 'identify') {
        const { texts } = recorded(context as StepContext<'identify'>);
        return texts.map((text) => ({ title: 'It says', text, unit: '' }));
      }
      if (step.kind !== 'measure') return [];
      return [{ title: step.title, text: String(shown.measured(item.id, state, placeOf(item))), unit: unitText(step.unit, own) }];
    }
    case 'adjust': {
      const doc = state.procedure.adjustments.find((a) => a.id === item.id)!;
      const record = heldByRecord(state, item.set, item.id, item.each ?? null);
      const of = item.each === undefined ? '' : `${instanceTitle(state, doc.of[0]!, item.each)}: `;
      return doc.stored.map((s) => ({
        title: `${of}${s.title}, as it is stored`,
        text: shown.stored(s.id, undefined).before ?? record[s.id] ?? '0',
        unit: unitText(s.unit, own),
      }));
    }
    default:
      return [];
  }
}

/** One reading of each place of a set, as far as it was read. */
export function displaySlots(state: RunState, set: string): Slot[] {
  const places = new Map<string, Slot>();
  for (const { slot } of state.live.values())
    if (slot.set === set) places.set(JSON.stringify([slot.series, slot.each, slot.point, slot.sweep]), slot);
  return [...places.values()];
}

/** What an assistant would do next: everything but to judge. */
export function assistantsAct(practice: PracticeBench, state: RunState, now: string): NewAct | null {
  const item = nextItem(state);
  if (isBenchWorkOver(state) || item?.type === 'judge') return null;
  return plainAct(state, shownAt(practice, state, now), now);
}

/** Readings that were taken, and minutes from the first entry to the last. */
export function spentIn(
  events: readonly RecordedEvent[],
  timeOf: (event: RecordedEvent) => string,
): { readings: number; minutes: number } {
  const readings = events.filter((e) => e.act.type === 'observed' || e.act.type === 'looked').length;
  const minutes = (Date.parse(timeOf(events.at(-1)!)) - Date.parse(timeOf(events[0]!))) / 60_000;
  return { readings, minutes: Math.round(minutes) };
}
