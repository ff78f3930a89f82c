import type { Places } from '../plan/plan-schema';
import type { Case } from '../evaluate/case-schema';
import { settingOf, type ResolvedPoints } from '../evaluate/setting-of';
import type { Setting } from '../evaluate/setting';
import { dayIn } from '../quantity/day-in-zone';
import { convert } from '../quantity/unit';
import { ownFormIn } from './own-units';
import { usedItemsKey } from './place-keys';
import type { Reading, RunState, StepRecord, RunBeginning } from './run-state';

type Row = Case['observations'][number];

/** Where a run has come to, as far as its case goes; `observations` are the readings of its sets up to one. */
export type CaseSource = Pick<RunBeginning, 'instrument' | 'standards' | 'choices'>;

/**
 * The case of a run without what was read: its instrument, standards and choices.
 * @example bareCase(run, 'as-found', '2026-11-24').observations // []
 */
export function bareCase(source: CaseSource, set: string, date: string): Case {
  const { instrument } = source;
  return {
    date,
    set: set,
    instrument: {
      kind: instrument.kind,
      unit: instrument.unit,
      lower: instrument.lower,
      upper: instrument.upper,
      usedLower: instrument.usedLower,
      usedUpper: instrument.usedUpper,
      resolution: instrument.resolution,
      characteristics: instrument.characteristics,
      lists: instrument.lists,
    },
    standards: Object.fromEntries(Object.entries(source.standards).map(([role, list]) => [role, list.map((s) => s.document)])),
    choices: source.choices,
    steps: {},
    stored: instrument.stored,
    conditions: {},
    observations: [],
    ...(instrument.decisionRule ? { decisionRule: instrument.decisionRule } : {}),
  };
}

/**
 * A reading as the case has it: as typed; of a standard read in another unit, in that of its observation.
 * @example valueForCase(run, reading) // '7.702'
 */
export function valueForCase(state: RunState, reading: Reading): string | number {
  const { unit, value, text, slot } = reading;
  if (unit === undefined || typeof value !== 'number') return text;
  const declared = state.procedure.series.find((s) => s.id === slot.series)?.observe.find((o) => o.id === slot.observation)?.unit;
  return typeof declared === 'string' ? convert(value, unit, declared) : text;
}

/** The live readings of each repeat together: what was read at one place, one time. */
type Repeat = { readings: Reading[]; sequence: number };

function repeatsOf(state: RunState, sets: ReadonlySet<string>): Repeat[] {
  const repeats = new Map<string, Repeat>();
  for (const reading of state.live.values()) {
    const { set, series, each, point, sweep, repeat } = reading.slot;
    if (!sets.has(set)) continue;
    const key = `${set}|${series}|${each ?? ''}|${point}|${sweep ?? ''}|${repeat}`;
    const known = repeats.get(key);
    if (known) {
      known.readings.push(reading);
      known.sequence = Math.max(known.sequence, reading.sequence);
    } else repeats.set(key, { readings: [reading], sequence: reading.sequence });
  }
  return [...repeats.values()].sort((a, b) => a.sequence - b.sequence);
}

/**
 * Items that were used at a place: chosen at the bench, else as the plan resolved them.
 * @example itemsAt(run, slot, 'blocks') // ['gb-47-6', 'gb-47-1.7']
 */
export function itemsAt(state: RunState, place: Reading['slot'], use: string): string[] | undefined {
  return (
    state.items.get(usedItemsKey(place, use)) ??
    state.places.get(`${place.set}|${place.series}|${place.each ?? ''}`)?.points.find((p) => p.id === place.point)?.items[use]
  );
}

/**
 * Items of every use that a reading was taken on.
 * @example itemsOfReading(run, reading) // { blocks: ['gb-47-6', 'gb-47-1.7'] }
 */
export function itemsOfReading(state: RunState, reading: Reading): Record<string, string[]> {
  const uses = state.procedure.series.find((s) => s.id === reading.slot.series)?.uses ?? {};
  return Object.fromEntries(
    Object.keys(uses).flatMap((use) => {
      const chosen = itemsAt(state, reading.slot, use);
      return chosen?.length ? [[use, chosen]] : [];
    }),
  );
}

/**
 * What the command-line door would be asked about a set of a run: every number of the record comes from
 * this case. Sets that began later are not in it, so what was found stays what it was.
 * @example caseOf(run, 'as-found').set // 'as-found'
 */
export function caseOf(state: RunState, set: string): Case {
  const upTo = state.sets.findIndex((s) => s.id === set);
  const sets = new Set(state.sets.slice(0, upTo + 1).map((s) => s.id));
  const repeats = repeatsOf(state, sets);
  const steps = state.steps.filter((s) => sets.has(s.item.set));
  const isPlaced = (s: StepRecord): boolean => s.item.series !== undefined;
  const conditions = state.conditions.filter((c) => sets.has(c.set));
  const bare = bareCase(state, set, dayIn(state.startedAt, state.timeZone));

  // Rows in the order of the bench; what was recorded between two readings holds from the second on.
  type Timed = { sequence: number; row: Row };
  const empty = { conditions: {}, steps: {}, items: {}, readings: [] };
  const rows: Timed[] = [];
  for (const { readings, sequence } of repeats) {
    const { set: of, series, each, point, sweep } = readings[0]!.slot;
    const items = itemsOfReading(state, readings[0]!);
    rows.push({
      sequence,
      row: {
        ...empty,
        series,
        ...(of === set ? {} : { set: of }),
        ...(each === undefined ? {} : { each }),
        point,
        ...(sweep === undefined ? {} : { sweep }),
        items,
        readings: [Object.fromEntries(readings.map((r) => [r.slot.observation, valueForCase(state, r)]))],
      },
    });
  }
  for (const step of steps.filter(isPlaced)) {
    const { set: of, series, each, point, sweep } = step.item;
    rows.push({
      sequence: step.sequence,
      row: {
        ...empty,
        series: series!,
        ...(of === set ? {} : { set: of }),
        ...(each === undefined ? {} : { each }),
        ...(point === undefined ? {} : { point }),
        ...(sweep === undefined ? {} : { sweep }),
        steps: { [step.item.id]: step.value },
      },
    });
  }
  rows.sort((a, b) => a.sequence - b.sequence);
  let next = 0;
  for (const { sequence, row } of rows) {
    const held: Record<string, number> = {};
    while (next < conditions.length && conditions[next]!.sequence < sequence) {
      held[conditions[next]!.id] = conditions[next]!.value;
      next++;
    }
    if (Object.keys(held).length) row.conditions = held;
  }
  // Before the first reading, what is in force is what was recorded last.
  const pending = rows.length === 0 ? conditions : [];
  return {
    ...bare,
    steps: Object.fromEntries(steps.filter((s) => !isPlaced(s)).map((s) => [s.item.id, s.value])),
    stored: storedBy(state, upTo),
    conditions: Object.fromEntries(pending.map((c) => [c.id, c.value])),
    observations: rows.map((r) => r.row),
  };
}

/** What the instrument has stored when a set begins: from the register, then each adjustment in turn. */
function storedBy(state: RunState, upTo: number): Case['stored'] {
  const stored: Case['stored'] = { ...state.instrument.stored };
  const until = state.sets[upTo + 1]?.begun.sequence ?? Infinity;
  for (const { sequence, each, id: adjustment, stored: values } of state.adjusted) {
    if (sequence >= until) continue;
    const declared = state.procedure.adjustments.find((a) => a.id === adjustment)?.stored;
    for (const [id, { after }] of Object.entries(values)) {
      const typed = Number(after.replace(',', '.'));
      if (!Number.isFinite(typed)) continue;
      const value = ownFormIn(state, declared?.find((x) => x.id === id)?.unit)?.toDocument(typed) ?? typed;
      if (each === undefined) stored[id] = value;
      else stored[id] = { ...(typeof stored[id] === 'object' ? stored[id] : {}), [each]: value };
    }
  }
  return stored;
}

const resolvedFrom = (places: Iterable<Places>): ResolvedPoints[] =>
  [...places].map((p) => ({
    series: p.series,
    each: p.each,
    points: p.points.map(({ id, index, label, nominal, columns, item }) => ({ id, index, label, nominal, columns, item })),
  }));

/** The points that the run's plan resolved for its sets up to one; a later set's replace an earlier one's. */
export function resolvedPoints(state: RunState, set: string): ResolvedPoints[] {
  const order = state.sets.map((s) => s.id);
  const upTo = order.indexOf(set);
  const latest = new Map<string, { rank: number; places: Places }>();
  for (const [key, places] of state.places) {
    const rank = order.indexOf(key.slice(0, key.indexOf('|')));
    if (rank > upTo) continue;
    const place = key.slice(key.indexOf('|') + 1);
    if ((latest.get(place)?.rank ?? -1) <= rank) latest.set(place, { rank, places });
  }
  return resolvedFrom([...latest.values()].map((l) => l.places));
}

/**
 * The setting of a set of a run: its case read against its procedure, its points as they were resolved.
 * @example settingOfRun(run, 'as-found').given.set // 'as-found'
 */
export const settingOfRun = (state: RunState, set: string, given: Case = caseOf(state, set)): Setting =>
  settingOf(state.procedure, given, { planning: true, resolved: resolvedPoints(state, set) });
