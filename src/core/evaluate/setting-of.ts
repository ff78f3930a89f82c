import type { ProcedureDocument, SeriesDocument } from '../procedure/document-schema';
import { offeredItems } from '../standard/assigned-value';
import type { StandardDocument } from '../standard/standard-schema';
import type { Case } from './case-schema';
import { kindOfSet } from './completeness';
import { Absent, DocumentError, ifHad } from '../faults';
import { namedPoint } from './names/at';
import { Observed } from './observed';
import { inDocumentUnit, ownUnitOf } from './own-unit';
import { slotsOf } from './slots';
import { isIn, noScope, pointsOf, seriesOf, sourcesOf, type Instance, type Point, type Series, type Setting } from './setting';

/** Points as a run's plan resolved them: of a series and, where there are several, an instance. */
export type ResolvedPoints = {
  series: string;
  each: string | null;
  points: readonly (Omit<Point, 'item'> & { item: string | undefined })[];
};

/** What a setting may be told besides its case. */
export type SettingOptions = {
  /** What is not known yet stands open. */ planning?: boolean;
  /** Points that are taken as they were resolved, not derived anew. */ resolved?: readonly ResolvedPoints[];
};

/**
 * Reads a case against its procedure: standards by role, series as they stand, observations in their places.
 * @example settingOf(document, setting.given).series.size // 1
 */
export function settingOf(
  doc: ProcedureDocument,
  given: Case,
  { planning = false, resolved = [] }: SettingOptions = {},
): Setting {
  const own = ownUnitOf(doc, given.instrument);
  const s: Setting = {
    doc,
    given: { ...given, instrument: inDocumentUnit(given.instrument, own) },
    own,
    standards: new Map(),
    series: new Map(),
    observed: new Observed(given),
    memo: new Map(),
  };
  for (const id of Object.keys(given.choices))
    if (!doc.choices.some((c) => c.id === id))
      throw new DocumentError(`"${id}" is not a choice of this procedure.`, ['choices', id]);
  for (const id of Object.keys(given.standards))
    if (!doc.standards.some((r) => r.role === id))
      throw new DocumentError(`"${id}" is not a role of this procedure.`, ['standards', id]);
  /** Whether something stands; in a plan that does not know the instrument what hangs on it stays open. */
  const stands = (when: Parameters<typeof isIn>[1], path: (string | number)[]): boolean => {
    try {
      return isIn(s, when, noScope(given.set, path));
    } catch (error) {
      if (planning && isNotKnownYet(error)) return true;
      throw error;
    }
  };
  // What was recorded first says which roles and series stand, so steps without a place are there already.
  const unfilled = new Set<string>();
  for (const role of doc.standards) {
    const list = given.standards[role.role];
    const standards: StandardDocument[] = list === undefined ? [] : Array.isArray(list) ? list : [list];
    if (!stands(role.when, ['procedure', 'standards'])) continue;
    if (standards.length) s.standards.set(role.role, standards);
    else if (role.optional) unfilled.add(role.role);
  }
  doc.series.forEach((series, i) => {
    const path = ['procedure', 'series', i];
    if (!stands(series.when, path)) return;
    const roles = Object.entries(series.uses).map(([use, u]) => u.role ?? use);
    const observed = series.observe.map((o) => o.of);
    // A series that uses an optional role which nobody fills is left out.
    if ([...roles, ...observed].some((r) => unfilled.has(r))) return;
    s.series.set(series.id, planning ? seriesOrOpen(s, series, path) : seriesOf(s, series, path));
  });
  for (const { series: id, each, points } of resolved) {
    const series = s.series.get(id);
    const instance = series?.instances.find((i) => i.id === each);
    if (series && instance)
      series.points.set(
        instance,
        points.map((p) => ({ ...p, item: heldItem(s, series, p.item) })),
      );
  }
  given.observations.forEach((row, i) => placeRow(s, row, i));
  addUnobserved(s);
  return s;
}

/** The item of a point that uses one, found again by its id. */
function heldItem(s: Setting, series: Series, id: string | undefined): Point['item'] {
  const use = series.doc.points?.items;
  if (id === undefined || use === undefined) return null;
  return offeredItems(sourcesOf(s, series, use), {}).find((o) => o.item.id === id) ?? null;
}

/** Where a plan is asked for before instrument or standards are known, what depends on them stands open. */
function seriesOrOpen(s: Setting, doc: SeriesDocument, path: (string | number)[]): Series {
  try {
    return seriesOf(s, doc, path);
  } catch (error) {
    if (!isNotKnownYet(error)) throw error;
    return {
      doc,
      path,
      instances: [],
      sweeps: null,
      leftOut: new Set(),
      leftOutAt: new Map(),
      points: new Map(),
      isOpen: true,
    };
  }
}

/**
 * A fault that says only that the question does not state the instrument or a standard.
 * @example isNotKnownYet(new Error('broken')) // false
 */
export const isNotKnownYet = (error: unknown): boolean =>
  error instanceof Absent ||
  (error instanceof DocumentError && (error.path[0] === 'instrument' || error.path[0] === 'standards'));

function placeRow(s: Setting, row: Case['observations'][number], i: number): void {
  const path = ['observations', i];
  const set = row.set ?? s.given.set;
  const series = s.series.get(row.series);
  if (!series) {
    if (s.doc.series.some((x) => x.id === row.series))
      throw new DocumentError(`The series ${row.series} is left out here: nothing is read for it.`, [...path, 'series']);
    throw new DocumentError(`"${row.series}" is not a series of this procedure.`, [...path, 'series']);
  }
  const each = row.each ?? null;
  let instance: Instance | undefined;
  if (series.doc.forEach) {
    instance = each === null && series.instances.length === 1 ? series.instances[0] : series.instances.find((x) => x.id === each);
    if (!instance)
      throw new DocumentError(
        each === null
          ? `Say in "each" for which of ${series.instances.map((x) => x.id).join(', ')} this was read.`
          : `"${each}" is not one of ${series.instances.map((x) => x.id).join(', ')}.`,
        [...path, 'each'],
      );
  } else {
    if (each !== null) throw new DocumentError(`The series ${row.series} is not read for each of anything.`, [...path, 'each']);
    instance = series.instances[0]!;
  }
  const sweep = sweepOfRow(series, row.sweep ?? null, path, row.readings.length > 0);
  // Conditions and steps of the row hold from here on, and points may depend on them.
  s.observed.add({ ...row, readings: [] }, i, set, { instance: instance.id, point: null, sweep });
  if (row.readings.length === 0 && row.point === undefined) return;
  const points = pointsOf(s, series, instance);
  let point: Point | undefined;
  if (row.point === undefined) {
    if (points.length !== 1)
      throw new DocumentError(`Say at which point this was read: ${points.map((p) => p.id).join(', ')}.`, [...path, 'point']);
    point = points[0];
  } else point = ifHad(() => namedPoint(s, series, { ...noScope(set, [...path, 'point']), series, instance }, row.point!));
  if (!point) throw new DocumentError(`The point "${row.point}" is left out here.`, [...path, 'point']);
  for (const [k, reading] of row.readings.entries())
    for (const id of Object.keys(reading))
      if (!series.doc.observe.some((o) => o.id === id))
        throw new DocumentError(`"${id}" is not observed in ${row.series}.`, [...path, 'readings', k, id]);
  s.observed.add({ ...row, steps: {}, conditions: {} }, i, set, { instance: instance.id, point: point.id, sweep });
}

/**
 * Where a reading of a run stands for `Observed`; null where its point is not there.
 * @example scopedPlace(setting, theSeries, slot) // { instance: null, point: 'p3', sweep: null }
 */
export function scopedPlace(
  s: Setting,
  series: Series,
  slot: { each?: string | undefined; point: string; sweep?: string | undefined },
): { instance: string | null; point: string; sweep: string | null } | null {
  const instance = series.instances.find((i) => i.id === (slot.each ?? null));
  const point = instance && pointsOf(s, series, instance).find((p) => p.id === slot.point);
  return instance && point ? { instance: instance.id, point: point.id, sweep: slot.sweep ?? null } : null;
}

function sweepOfRow(series: Series, sweep: string | null, path: (string | number)[], isReading: boolean): string | null {
  if (series.sweeps === null) {
    if (sweep !== null) throw new DocumentError(`The series ${series.doc.id} has no sweeps.`, [...path, 'sweep']);
    return null;
  }
  if (sweep === null && series.sweeps.length === 1) return series.sweeps[0]!.id;
  if (sweep === null && !isReading) return null;
  if (!series.sweeps.some((w) => w.id === sweep))
    throw new DocumentError(
      sweep === null
        ? `Say in which sweep this was read: ${series.sweeps.map((w) => w.id).join(', ')}.`
        : `"${sweep}" is not a sweep of ${series.doc.id}.`,
      [...path, 'sweep'],
    );
  return sweep;
}

/** A series that observes nothing is worked out all the same, at every place. */
function addUnobserved(s: Setting): void {
  for (const series of s.series.values()) {
    if (series.doc.observe.length > 0 || !series.doc.sets.includes(kindOfSet(s.given.set))) continue;
    for (const slot of slotsOf(s, series))
      s.observed.add(
        { series: series.doc.id, conditions: {}, steps: {}, items: {}, readings: [{}] },
        Number.MAX_SAFE_INTEGER,
        s.given.set,
        { instance: slot.instance.id, point: slot.point.id, sweep: slot.sweep },
      );
  }
}
