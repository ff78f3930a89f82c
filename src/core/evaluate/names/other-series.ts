import { Absent, DocumentError, LeftOut, Undeterminable } from '../../faults';
import { pointsOf, type Point, type Scope, type Series, type Setting } from '../setting';

/** What is said of another series: where it matches this place, and in which set. */

/** Where another series matches this place: instance and sweep by id, points by label, else by nominal; null over the rest. */
export function matchingScope(s: Setting, other: Series, scope: Scope): Scope {
  if (other === scope.series) return { ...scope, reading: null, own: {}, used: undefined };
  const instance =
    other.instances.find((i) => i.id !== null && i.id === scope.instance?.id) ??
    (other.instances.length === 1 ? other.instances[0]! : null);
  const sweep = other.sweeps?.some((w) => w.id === scope.sweep) ? scope.sweep : null;
  let point: Point | null = null;
  if (scope.point) {
    const points = instance ? pointsOf(s, other, instance) : other.instances.flatMap((i) => pointsOf(s, other, i));
    const label = scope.point.label;
    const nominal = scope.point.nominal;
    point =
      (label === undefined ? undefined : points.find((p) => p.label === label)) ??
      (nominal === undefined
        ? undefined
        : points.find(
            (p) =>
              p.nominal !== undefined && Math.abs(p.nominal - nominal) <= 1e-9 * Math.max(Math.abs(nominal), Math.abs(p.nominal)),
          )) ??
      null;
  }
  return { ...scope, series: other, instance, sweep, point, reading: null, own: {}, used: undefined };
}

export function seriesNamed(s: Setting, id: string, scope: Scope): Series {
  const found = s.series.get(id);
  if (found) return found;
  if (s.doc.series.some((x) => x.id === id)) throw new LeftOut(`series ${id}`);
  throw new DocumentError(`"${id}" is not a series of this procedure.`, scope.path);
}

/** What is said of another series, in this set, else in the latest set that has it. */
export function inThisSetOrLatest(s: Setting, series: Series, scope: Scope, say: (at: Scope) => number): number {
  const here = matchingScope(s, series, scope);
  try {
    return say(here);
  } catch (error) {
    const other =
      error instanceof Absent && !(error instanceof LeftOut) && !(error instanceof Undeterminable)
        ? s.observed.latestOther(scope.set, series.doc.id)
        : undefined;
    if (other === undefined) throw error;
    return say({ ...here, set: other });
  }
}
