import type { Place } from '../plan/plan-schema';
import { Absent, DocumentError } from '../faults';
import { noScope, numberOf, pointsOf, type Scope, type Setting } from '../evaluate/setting';
import type { Num } from '../procedure/document-schema';

/** Where a place of the run stands, for formulas. @example scopeAt(setting, place).point.id // 'p3' */
export function scopeAt(s: Setting, place: Place): Scope {
  const bare = noScope(place.set);
  const series = place.series === undefined ? undefined : s.series.get(place.series);
  if (!series) return bare;
  const instance = series.instances.find((i) => i.id === (place.each ?? null)) ?? null;
  const point =
    instance && place.point !== undefined ? (pointsOf(s, series, instance).find((p) => p.id === place.point) ?? null) : null;
  return { ...bare, path: series.path, series, instance, point, sweep: place.sweep ?? null };
}

/**
 * A number of the document where a place stands; undefined while it cannot be told.
 * @example numberAt(setting, { is: 'point.nominal' }, place) // 7.7
 */
export function numberAt(s: Setting, number: Num | undefined, place: Place): number | undefined {
  if (number === undefined) return undefined;
  if (typeof number === 'number') return number;
  try {
    return numberOf(s, number, scopeAt(s, place));
  } catch (error) {
    // What it depends on has not been read, or does not exist here: then nothing is limited by it.
    if (error instanceof Absent || error instanceof DocumentError) return undefined;
    throw error;
  }
}
