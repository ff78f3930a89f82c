/** Names of places, readings and items of a plan, as they are told apart in a run. */

import type { Place, PlanItem } from '../plan/plan-schema';

import type { Slot } from './run-state';

const part = (text: string | number | undefined): string => (text === undefined ? '' : String(text));
/** @example placeKey(place) // 'as-found|error||p3|' */
export const placeKey = (p: Place): string => `${p.set}|${part(p.series)}|${part(p.each)}|${part(p.point)}|${part(p.sweep)}`;

/**
 * The place that a key of what is skipped stands for.
 * @example placeOfKey('as-found|error||p3|') // { set: 'as-found', series: 'error', point: 'p3' }
 */
export function placeOfKey(key: string): Place & { series: string } {
  const [set, series, each, point, sweep] = key.split('|');
  return { set: set!, series: series!, ...(each ? { each } : {}), ...(point ? { point } : {}), ...(sweep ? { sweep } : {}) };
}

/** What tells one item of a plan from every other. @example itemKey(run.plan[0]) // 'step|as-found||||||number' */
export const itemKey = (item: PlanItem): string =>
  `${item.type}|${placeKey(item)}|${part('repeat' in item ? item.repeat : undefined)}|${'id' in item ? item.id : ''}`;

/** @example slotKey(slot) // 'reading|as-found|error||p3||1|R' */
export const slotKey = ({ observation, ...place }: Slot): string => `reading|${placeKey(place)}|${place.repeat}|${observation}`;

/** The slot of a reading's item. @example slotOf({ type: 'reading', ...slot, id: 'R' }).point // 'p3' */
export const slotOf = (item: PlanItem & { type: 'reading' }): Slot => ({
  set: item.set,
  series: item.series!,
  ...(item.each === undefined ? {} : { each: item.each }),
  point: item.point!,
  ...(item.sweep === undefined ? {} : { sweep: item.sweep }),
  repeat: item.repeat ?? 1,
  observation: item.id,
});

/** @example placesKey('as-found', 'error', null) // 'as-found|error|' */
export const placesKey = (set: string, series: string, each: string | null | undefined): string =>
  `${set}|${series}|${each ?? ''}`;
/** @example usedItemsKey(place, 'blocks') // 'as-found|error||p3|blocks' */
export const usedItemsKey = (p: Place, use: string): string =>
  `${p.set}|${part(p.series)}|${part(p.each)}|${part(p.point)}|${use}`;

/**
 * The place of an act without its other members.
 * @example placeOf({ ...place, id: 'x' }) // { set: 'as-found', series: 'error', point: 'p3' }
 */
export const placeOf = (p: Place): Place => ({
  set: p.set,
  ...(p.series === undefined ? {} : { series: p.series }),
  ...(p.each === undefined ? {} : { each: p.each }),
  ...(p.point === undefined ? {} : { point: p.point }),
  ...(p.sweep === undefined ? {} : { sweep: p.sweep }),
  ...(p.repeat === undefined ? {} : { repeat: p.repeat }),
});

/** @example waitKey({ ...place, id: 'soak' }) // 'step|as-found|error||p3|||soak' */
export const waitKey = (p: Place & { id: string }): string => itemKey({ type: 'step', ...placeOf(p), id: p.id });
