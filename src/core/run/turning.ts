import { isDetermined } from '../evaluate/undetermined';
import type { Place, PlanItem } from '../plan/plan-schema';
import type { ResultDocument } from '../procedure/document-schema';
import { printedUnit } from '../quantity/unit';
import { plainDecimal } from '../quantity/rounding';
import type { RunState, Slot } from '../state/run-state';
import { unitIn } from '../steps/step-context';
import { outlookOf } from './adjustment-advice';
import { seriesOf, shownUnit } from './place-words';
import { observationOf, observedResolution, observedUnit } from './reading-rules';
import { determinedIn } from './run-results';
import { isThere, lookedAt, resultsIfRead } from './rungs';
import { shownPair, withPrintedUnit } from './shown-value';
import { nextTurn, type NextTurn } from './zero-and-span';

type AdjustItem = Extract<PlanItem, { type: 'adjust' }>;

/** Two settings that are turned in rounds, as the bench stands. */
export type Turning = {
  next: NextTurn;
  /** Where it is read. */ place: Place & { series: string; point: string };
  slots: Slot[];
  /** What the display that is watched is to be turned to, with its unit; null where nothing is turned. */ turnTo: {
    title: string;
    words: string;
  } | null;
  /** Errors so far, by what was read, in words without their unit. */ said: { sequence: number; place: Place; words: string }[];
  unit: string;
  within: string;
  most: number;
};

/** The display that is watched while a setting is turned: the instrument's own, else what is read last. */
const watched = (state: RunState, slots: readonly Slot[]): Slot =>
  slots.find((s) => observationOf(state, s)?.of === 'instrument') ?? slots.at(-1)!;

function errorIfRead(
  state: RunState,
  place: Place,
  result: ResultDocument,
  values: Readonly<Record<string, number>>,
): number | null {
  const found = resultsIfRead(state, place, [result], values)?.[result.symbol];
  return found && isDetermined(found) ? found.estimate : null;
}

/**
 * Where the rounds of an adjustment stand: of one that is turned (it stores nothing) at two points, the first for the zero, the second for
 * the span. Null for all others, and where what was found at them is not determined.
 */
export function turningOf(state: RunState, item: AdjustItem): Turning | null {
  const doc = state.procedure.adjustments.find((a) => a.id === item.id);
  const rounds = doc && outlookOf(state, item.set, item.id, item.each ?? null)?.rounds;
  if (!rounds || doc.kind !== 'mechanical' || doc.stored.length > 0 || rounds.points.length !== 2) return null;
  const series = seriesOf(state, doc.of[0]!)!;
  const result = series.results.find((r) => r.symbol === doc.result) ?? series.results[0];
  if (!result) return null;
  const sweep = series.sweeps?.[0]?.id;
  const placeAt = (point: string) => ({
    set: item.set,
    series: series.id,
    ...(item.each === undefined ? {} : { each: item.each }),
    point,
    ...(sweep === undefined ? {} : { sweep }),
  });
  const places = rounds.points.map((p) => placeAt(p.id));
  const found = places.map((p) => determinedIn(state, p, result)?.estimate);
  if (found.some((e) => e === undefined)) return null;
  const turns = state.turns.filter((t) => t.id === item.id && places.some((p) => isThere(p, t.place)));
  const read = turns.map((t) => ({
    at: places.findIndex((p) => isThere(p, t.place)) as 0 | 1,
    error: errorIfRead(state, t.place, result, t.values) ?? NaN,
  }));
  const slotsAt = (place: Place) => lookedAt(state, place);
  const ofDisplay = (place: Place, values: Readonly<Record<string, number>>) => {
    const slot = watched(state, slotsAt(place));
    const step = observedResolution(state, slot, observationOf(state, slot)!) ?? 1e-3;
    const now = values[slot.observation]!;
    const [here, there] = [values, { ...values, [slot.observation]: now + step }].map((v) =>
      errorIfRead(state, place, result, v),
    );
    return { slot, step, now, perStep: here === null || there === null ? 0 : there! - here! };
  };
  const last = turns.at(-1);
  const display = last ? ofDisplay(last.place, last.values) : null;
  const next = nextTurn({
    found: found as [number, number],
    readings: read,
    within: rounds.within,
    most: rounds.most,
    step: Math.abs(display?.perStep ?? 0),
  });
  const place = places[next.at]!;
  const [unit, shownIn] = [unitIn(state, result.unit, place), shownUnit(state, result, place)];
  const error = (e: number) => shownPair(e, rounds.within / 2, unit, shownIn, { lower: -1, upper: 1 }).value;
  let turnTo: Turning['turnTo'] = null;
  if (next.do === 'turn' && display && display.perStep !== 0) {
    const to = display.now + (display.step * (next.aim - read.at(-1)!.error)) / display.perStep;
    const observation = observationOf(state, display.slot)!;
    const rounded = Number((Math.round(to / display.step) * display.step).toPrecision(12));
    turnTo = {
      title: observation.title ?? observation.id,
      words: withPrintedUnit(plainDecimal(rounded).replace('-', '−'), observedUnit(state, display.slot, observation)),
    };
  }
  return {
    next,
    place,
    slots: slotsAt(place),
    turnTo,
    said: turns.map((t, i) => ({ sequence: t.sequence, place: t.place, words: error(read[i]!.error) })),
    unit: printedUnit(shownIn),
    within: withPrintedUnit(error(rounds.within).replace('+', ''), shownIn),
    most: rounds.most,
  };
}
