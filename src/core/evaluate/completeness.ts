import type { SeriesDocument } from '../procedure/document-schema';
import { Absent, ifHad } from '../faults';
import { once } from './once';
import { scopedObservation } from './observed';
import { isObserved, noScope, type Scope, type Series, type Setting } from './setting';
import { slotsOf, type Slot } from './slots';

/** The kind of a set: `as-found-2` is an as-found set. @example kindOfSet('as-found-2') // 'as-found' */
export const kindOfSet = (set: string): SeriesDocument['sets'][number] =>
  set.replace(/-\d+$/, '') as SeriesDocument['sets'][number];

/** A place of the set where something that is wanted was not read. */
export type NotRead = { series: string; each?: string | null; point?: string; sweep?: string | null };

/** Whether every slot of the set that is neither optional nor left out has been read. */
export const isComplete = (s: Setting): boolean => notRead(s).length === 0;

/** Places of the set that are neither optional nor left out and have not been read, in the order of the plan; remembered. */
export const notRead = (s: Setting): NotRead[] =>
  once(s.memo, 'not read', () => [...s.series.values()].flatMap((series) => missingIn(s, series)));

function missingIn(s: Setting, series: Series): NotRead[] {
  const { doc } = series;
  if (doc.optional || doc.observe.length === 0 || !doc.sets.includes(kindOfSet(s.given.set))) return [];
  let slots: Slot[];
  try {
    slots = slotsOf(s, series);
  } catch (error) {
    if (error instanceof Absent) return [{ series: doc.id }];
    throw error;
  }
  const places = new Map<string, NotRead>();
  for (const slot of slots) {
    if (isRead(s, series, slot)) continue;
    const key = `${slot.instance.id ?? ''}|${slot.point.id}|${slot.sweep ?? ''}`;
    places.set(key, {
      series: doc.id,
      ...(doc.forEach ? { each: slot.instance.id } : {}),
      point: slot.point.id,
      ...(series.sweeps ? { sweep: slot.sweep } : {}),
    });
  }
  return [...places.values()];
}

/** Whether everything that is observed in a slot has been. */
function isRead(s: Setting, series: Series, { instance, point, sweep, repeat }: Slot): boolean {
  const reading = s.observed.cell(s.given.set, series.doc.id, instance.id, point.id, sweep)[repeat];
  if (!reading) return false;
  const scope: Scope = { ...noScope(s.given.set, series.path), series, instance, point, sweep };
  return series.doc.observe.every((o) => {
    if (o.per === 'repeat') return reading.values[o.id] !== undefined || !isObserved(s, o, scope);
    const { per } = o;
    return ifHad(() => scopedObservation(s, series, reading, o.id, per)) !== undefined || !isObserved(s, o, scope);
  });
}
