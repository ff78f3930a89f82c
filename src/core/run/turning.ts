import { isDetermined } from '../evaluate/undetermined';
import type { Place, PlanItem } from '../plan/plan-schema';
import type { ResultDocument } from '../procedure/document-schema';
import { printedUnit } from '../quantity/unit';
import { plainDecimal } from '../quantity/rounding';
import type { RunState, Slot, TurnRecord } from '../state/run-state';
import { unitIn } from '../steps/step-context';
import { outlookOf } from './adjustment-advice';
import { nextItem } from './next-step';
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

/** Worked out once for a state, and the error of each reading once for all: the page asks at every tick of its clock. */
const turnings = new WeakMap<RunState, Turning | null>();
const errors = new WeakMap<TurnRecord, number>();

function errorOf(state: RunState, result: ResultDocument, turn: TurnRecord): number {
  const known = errors.get(turn);
  if (known !== undefined) return known;
  const error = errorIfRead(state, turn.place, result, turn.values) ?? NaN;
  errors.set(turn, error);
  return error;
}

/**
 * Where the rounds of the adjustment that comes next stand: of one that is turned (it stores nothing) at two points, the first for the zero, the second for
 * the span. Null for all others, and where what was found at them is not determined.
 * @example turningOf(run) // null
 */
export function turningOf(state: RunState): Turning | null {
  const item = nextItem(state);
  if (!turnings.has(state)) turnings.set(state, item?.type === 'adjust' ? workedOut(state, item) : null);
  return turnings.get(state)!;
}

function workedOut(state: RunState, item: AdjustItem): Turning | null {
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
    error: errorOf(state, result, t),
  }));
  const ofDisplay = (place: Place, values: Readonly<Record<string, number>>) => {
    const slot = watched(state, lookedAt(state, place));
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
    slots: lookedAt(state, place),
    turnTo,
    said: turns.map((t, i) => ({ sequence: t.sequence, place: t.place, words: error(read[i]!.error) })),
    unit: printedUnit(shownIn),
    within: withPrintedUnit(error(rounds.within).replace('+', ''), shownIn),
    most: rounds.most,
  };
}
