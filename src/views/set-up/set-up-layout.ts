import type { PlanItem } from '../../core/plan/plan-schema';
import { isShared } from '../../core/plan/shared';
import { commonKey, pointKey } from '../../core/set-up/turn';
import { placesKey } from '../../core/state/place-keys';
import type { RunState } from '../../core/state/run-state';
import type { SheetPlace } from '../run/sheet-layout';

/** One passage over the instruments: what is read once for all, and what is read on each; by the names they have in all plans. */
export type PassageRow = { own: string | null; shared: string[]; isBack: boolean };
/** A point with its passages. `name` is the same in all plans; `sweep` where there are several. */
export type PointRows = { name: string; sweep: string | null; rows: PassageRow[] };

type ReadingItem = Extract<PlanItem, { type: 'reading' }>;

/**
 * The sheet of a set-up: point by point, a line for each passage over the instruments as it is read, there and back. What is read of
 * the reference stands in the line that it begins, or ends.
 * @example S a b c c b a S becomes two lines: (S; a b c, there) and (S; a b c, back)
 */
export function setUpLayout(states: readonly RunState[], place: SheetPlace): PointRows[] {
  const found = new Map<string, { first: RunState; items: ReadingItem[]; point: string; sweep: string | null }>();
  for (const state of states)
    for (const item of state.plan) {
      if (item.type !== 'reading' || item.set !== place.set || item.series !== place.series) continue;
      if ((item.each ?? null) !== place.each) continue;
      const point = pointKey(state, item);
      const key = `${item.sweep ?? ''}|${point}`;
      const entry = found.get(key) ?? { first: state, items: [], point, sweep: item.sweep ?? null };
      found.set(key, entry);
      if (entry.first === state) entry.items.push(item);
    }
  const rows = [...found.values()].map(({ first, items, point, sweep }) => ({
    name: point,
    sweep,
    rows: passages(first, items),
  }));
  return rows.sort((a, b) => compareRows(states, place, a, b));
}

function passages(state: RunState, items: readonly ReadingItem[]): PassageRow[] {
  const rows: PassageRow[] = [];
  let waiting: string[] = [];
  for (const item of items) {
    const key = commonKey(state, item);
    const last = rows.at(-1);
    if (!isShared(state.procedure, item)) {
      rows.push({ own: key, shared: waiting, isBack: rows.length % 2 === 1 });
      waiting = [];
    } else if (last?.isBack && last.shared.length === 0) last.shared.push(key);
    else waiting.push(key);
  }
  for (const key of waiting) {
    const last = rows.at(-1);
    if (last?.own && last.shared.length === 0) last.shared.push(key);
    else rows.push({ own: null, shared: [key], isBack: false });
  }
  return rows;
}

/** Passage after passage as the document has them; in each from the lower points to the higher, or back. */
function compareRows(states: readonly RunState[], place: SheetPlace, a: PointRows, b: PointRows): number {
  const series = states[0]!.procedure.series.find((s) => s.id === place.series);
  const sweepAt = (row: PointRows) => series?.sweeps?.findIndex((s) => s.id === row.sweep) ?? 0;
  const bySweep = series?.by === 'point' ? 0 : sweepAt(a) - sweepAt(b);
  const isBackwards = series?.by !== 'point' && series?.sweeps?.find((s) => s.id === a.sweep)?.backwards;
  const nominal = (row: PointRows) => nominalOf(states, place, row.name);
  const byPoint = nominal(a) - nominal(b);
  return bySweep || (isBackwards ? -byPoint : byPoint) || sweepAt(a) - sweepAt(b);
}

function nominalOf(states: readonly RunState[], place: SheetPlace, name: string): number {
  for (const state of states) {
    const points = state.places.get(placesKey(place.set, place.series, place.each))?.points ?? [];
    const point = points.find((p) => pointKey(state, { ...place, each: place.each ?? undefined, point: p.id } as never) === name);
    if (point) return point.nominal ?? point.index;
  }
  return 0;
}
