import { itemsAt } from '../state/run-case';
import { placeTitle, seriesOf, setTitle } from './place-words';
import { skipOf } from '../state/progress';
import type { RunState, Slot } from '../state/run-state';

/** A point that was skipped in one set and read in a later one: the two must not contradict each other. */
export type ReadLater = { skipped: string; reason: string; read: Slot };

/** The skip of the same point in an earlier set; null where it was read there, or was not wanted. */
export function skippedBefore(state: RunState, slot: Slot): { set: string; reason: string } | null {
  const at = state.sets.findIndex((s) => s.id === slot.set);
  for (const { id } of state.sets.slice(0, Math.max(0, at))) {
    const skip = skipOf(state, { ...slot, set: id });
    if (skip?.reason) return { set: id, reason: skip.reason };
  }
  return null;
}

/** Every point that was skipped in one set and read in a later one, once. */
export function readLater(state: RunState): ReadLater[] {
  const seen = new Set<string>();
  return [...state.live.values()].flatMap(({ slot }) => {
    const before = skippedBefore(state, slot);
    const key = `${slot.set}|${slot.series}|${slot.each ?? ''}|${slot.point}`;
    if (!before || seen.has(key)) return [];
    seen.add(key);
    return [{ skipped: before.set, reason: before.reason, read: slot }];
  });
}

/** The items of a point as they are marked. */
function itemsUsed(state: RunState, slot: Slot): string {
  const uses = seriesOf(state, slot.series)?.uses ?? {};
  const markings = Object.keys(uses).flatMap((use) => {
    const all = (state.standards[uses[use]!.role ?? use] ?? []).flatMap(({ document: d }) => [
      ...(d.items ?? []),
      ...(d.parts ?? []).flatMap((p) => p.items ?? []),
    ]);
    return (itemsAt(state, slot, use) ?? []).map((id) => all.find((i) => i.id === id)?.marking || id);
  });
  return markings.length ? ` on ${[...new Set(markings)].join(' + ')}` : '';
}

/** The same in a sentence, for whoever reads the results. @example readLaterWords(run) // [] */
export const readLaterWords = (state: RunState): string[] =>
  readLater(state).map(({ skipped, reason, read }) => {
    const { set, series, each, point } = read;
    const place = { set, series, ...(each === undefined ? {} : { each }), point };
    const title = placeTitle(state, place) || seriesOf(state, series)?.title;
    return `${title} was not measured ${setTitle(skipped).toLowerCase()} (${reason}); ${setTitle(set).toLowerCase()} it was${itemsUsed(state, read)}.`;
  });
