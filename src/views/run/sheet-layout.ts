import type { PlanItem } from '../../core/plan/plan-schema';
import { seriesOf } from '../../core/run/place-words';
import { placesKey, slotKey } from '../../core/state/place-keys';
import type { RunState, Slot } from '../../core/state/run-state';

/** One column of readings: an observation, with its repeat and sweep where those stand side by side. */
export type SheetColumn = { observation: string; repeat: number | null; sweep: string | null };
/** One row: a point, with its sweep and repeat where those stand one above the other. */
export type SheetRow = {
  key: string;
  point: string;
  sweep: string | null;
  repeat: number | null;
  /** Whether it is the first row of its point, which carries its name and its results. */ isFirst: boolean;
};
export type SheetLayout = {
  columns: SheetColumn[];
  rows: SheetRow[];
  /** Slots that the plan asks for. */ slots: ReadonlySet<string>;
};

/** More columns of readings than this cannot be read side by side. */
const mostColumns = 6;

type ReadingItem = Extract<PlanItem, { type: 'reading' }>;
export type SheetPlace = { set: string; series: string; each: string | null };

const layouts = new WeakMap<readonly PlanItem[], Map<string, SheetLayout>>();

/** How the readings of one instance of a series stand on a sheet; told from the plan alone, and remembered with it. */
export function sheetLayout(state: RunState, place: SheetPlace): SheetLayout {
  const known = layouts.get(state.plan) ?? new Map<string, SheetLayout>();
  layouts.set(state.plan, known);
  const key = `${place.set}|${place.series}|${place.each ?? ''}`;
  let layout = known.get(key);
  if (!layout) {
    layout = lay(state, place);
    known.set(key, layout);
  }
  return layout;
}

function lay(state: RunState, { set, series: id, each }: SheetPlace): SheetLayout {
  const series = seriesOf(state, id)!;
  const items = state.plan.filter(
    (i): i is ReadingItem => i.type === 'reading' && i.set === set && i.series === id && (i.each ?? null) === each,
  );
  const observations = series.observe.map((o) => o.id).filter((o) => items.some((i) => i.id === o));
  const sweeps = series.sweeps?.map((s) => s.id).filter((s) => items.some((i) => i.sweep === s)) ?? [];
  const repeats = Math.max(1, ...items.map((i) => i.repeat ?? 1));
  const points = (state.places.get(placesKey(set, id, each))?.points ?? []).filter((p) => items.some((i) => i.point === p.id));
  const perSweep = series.results.some((r) => !r.over?.includes('sweeps'));
  const repeatsBeside = observations.length * repeats <= mostColumns && !(points.length === 1 && repeats > 3);
  const beside = observations.length * (repeatsBeside ? repeats : 1);
  const sweepsBeside = sweeps.length > 0 && !perSweep && beside * sweeps.length <= mostColumns;
  const range = (n: number) => Array.from({ length: n }, (_, i) => i + 1);
  const columns = (sweepsBeside ? sweeps : [null]).flatMap((sweep) =>
    (repeatsBeside ? range(repeats) : [null]).flatMap((repeat) =>
      observations
        // What is read once at a point or in a passage has no column for each repeat.
        .filter((o) => repeat === null || items.some((i) => i.id === o && (i.repeat ?? 1) === repeat))
        .map((observation) => ({ observation, repeat, sweep })),
    ),
  );
  const along = sweepsBeside || sweeps.length === 0 ? [null] : sweeps;
  const rowsOf = (point: string, sweep: string | null): SheetRow[] =>
    (repeatsBeside ? [null] : range(repeats)).map((repeat, i) => ({
      key: `${point}|${sweep ?? ''}|${repeat ?? ''}`,
      point,
      sweep,
      repeat,
      isFirst: i === 0,
    }));
  // At each point all passages before the next point; else one passage after the other.
  const rows =
    series.by === 'point'
      ? points.flatMap((p) => along.flatMap((sweep) => rowsOf(p.id, sweep)))
      : along.flatMap((sweep) => {
          const backwards = series.sweeps?.find((s) => s.id === sweep)?.backwards;
          return (backwards ? [...points].reverse() : points).flatMap((p) => rowsOf(p.id, sweep));
        });
  return { columns, rows, slots: new Set(items.map((i) => slotKey(slotIn(i)))) };
}

const slotIn = (i: ReadingItem): Slot => ({
  set: i.set,
  series: i.series!,
  ...(i.each === undefined ? {} : { each: i.each }),
  point: i.point!,
  ...(i.sweep === undefined ? {} : { sweep: i.sweep }),
  repeat: i.repeat ?? 1,
  observation: i.id,
});

/** The slot at a row and column. */
export function slotAt({ set, series, each }: SheetPlace, row: SheetRow, column: SheetColumn): Slot {
  const sweep = row.sweep ?? column.sweep;
  return {
    set,
    series,
    ...(each === null ? {} : { each }),
    point: row.point,
    ...(sweep === null ? {} : { sweep }),
    repeat: row.repeat ?? column.repeat ?? 1,
    observation: column.observation,
  };
}

/** How much of something has been read, of how much that is wanted. */
export function progressOf(
  state: RunState,
  set: string,
  series: string,
  each?: string | null,
): { taken: number; wanted: number } {
  let [taken, wanted] = [0, 0];
  for (const i of state.plan) {
    if (i.type !== 'reading' || i.set !== set || i.series !== series || (each !== undefined && (i.each ?? null) !== each))
      continue;
    wanted++;
    if (state.live.has(slotKey(slotIn(i)))) taken++;
  }
  return { taken, wanted };
}
