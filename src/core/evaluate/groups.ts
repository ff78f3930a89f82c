import { readingsIn } from './observed';
import { DocumentError, LeftOut } from '../faults';
import { slotsOf } from './slots';
import { noScope, pointsOf, type Instance, type Path, type Point, type Scope, type Series, type Setting } from './setting';

/** One thing that an aggregate or a fit runs through: a cell, or one repeat of it. */
export type Member = {
  instance: Instance;
  point: Point;
  sweep: string | null;
  /** From 0; null where repeats are averaged. */ repeat: number | null;
  scope: Pick<Scope, 'instance' | 'point' | 'sweep' | 'reading'>;
};

/** What `over` leaves, with its members in the order of the plan. */
export type Group = { instance: Instance | null; point: Point | null; sweep: string | null; scope: Scope; members: Member[] };

type Runs = { over: readonly string[]; among?: readonly string[] | undefined };

/** Names of points, sweeps and instances to which a statistic is limited. @throws LeftOut when one of them is left out */
function amongOf(series: Series, s: Setting, among: readonly string[], path: Path) {
  const allPoints = among.length ? series.instances.flatMap((i) => pointsOf(s, series, i)) : [];
  const [points, sweeps, instances] = [new Set<string>(), new Set<string>(), new Set<string>()];
  for (const name of among) {
    if (series.sweeps?.some((w) => w.id === name)) sweeps.add(name);
    else if (series.instances.some((i) => i.id === name)) instances.add(name);
    else if (name === 'first' || name === 'last' || allPoints.some((p) => p.id === name || p.label === name)) points.add(name);
    else if (series.leftOut.has(name)) throw new LeftOut(name);
    else
      throw new DocumentError(`"${name}" is neither a point nor a sweep nor an instance of ${series.doc.title}.`, [
        ...path,
        'among',
      ]);
  }
  const isAmong = (point: Point, instance: Instance): boolean => {
    if (points.size === 0) return true;
    const own = pointsOf(s, series, instance);
    return (
      points.has(point.id) ||
      (point.label !== undefined && points.has(point.label)) ||
      (points.has('first') && own[0] === point) ||
      (points.has('last') && own.at(-1) === point)
    );
  };
  return {
    point: isAmong,
    sweep: (sweep: string | null) => sweeps.size === 0 || (sweep !== null && sweeps.has(sweep)),
    instance: (instance: Instance) => instances.size === 0 || (instance.id !== null && instances.has(instance.id)),
    /** Whether an instance leaves out a point that is named. */
    isLeftOut: (instance: Instance) => [...points].some((name) => series.leftOutAt.get(instance)?.has(name) ?? false),
  };
}

/** The groups of what runs through some dimensions, of cells that have readings in a set. */
export function groupsOf(s: Setting, series: Series, { over, among = [] }: Runs, set: string, path: Path): Group[] {
  const within = amongOf(series, s, among, path);
  const byRepeat = over.includes('repeats');
  const groups = new Map<string, Group>();
  const seen = new Set<string>();
  const leavesOut = new Set(over.includes('instances') ? [] : series.instances.filter(within.isLeftOut));
  for (const slot of slotsOf(s, series)) {
    if (leavesOut.has(slot.instance)) continue;
    if (!within.instance(slot.instance) || !within.sweep(slot.sweep) || !within.point(slot.point, slot.instance)) continue;
    const cell: Scope = { ...noScope(set, path), series, instance: slot.instance, point: slot.point, sweep: slot.sweep };
    const readings = readingsIn(s, cell);
    if (byRepeat ? slot.repeat >= readings.length : readings.length === 0) continue;
    const cellId = `${slot.instance.id ?? ''}|${slot.point.id}|${slot.sweep ?? ''}`;
    if (!byRepeat) {
      if (seen.has(cellId)) continue;
      seen.add(cellId);
    }
    const instance = over.includes('instances') ? null : slot.instance;
    const point = over.includes('points') ? null : slot.point;
    const sweep = over.includes('sweeps') ? null : slot.sweep;
    const key = `${instance?.id ?? ''}|${point?.id ?? ''}|${sweep ?? ''}`;
    let group = groups.get(key);
    if (!group) groups.set(key, (group = { instance, point, sweep, scope: { ...cell, instance, point, sweep }, members: [] }));
    group.members.push({
      instance: slot.instance,
      point: slot.point,
      sweep: slot.sweep,
      repeat: byRepeat ? slot.repeat : null,
      scope: { instance: slot.instance, point: slot.point, sweep: slot.sweep, reading: byRepeat ? readings[slot.repeat]! : null },
    });
  }
  for (const group of groups.values()) {
    const used = group.members.flatMap((m) =>
      m.scope.reading ? [m.scope.reading] : readingsIn(s, { ...group.scope, ...m.scope }),
    );
    group.scope = { ...group.scope, used };
  }
  // In the order of instances, points and sweeps, whatever the order in which they are read.
  const rank = (g: Group) => [
    g.instance?.index ?? -1,
    g.point?.index ?? -1,
    g.sweep === null ? -1 : (series.sweeps ?? []).findIndex((w) => w.id === g.sweep),
  ];
  return [...groups.values()].sort((a, b) => {
    const [x, y] = [rank(a), rank(b)];
    return x[0]! - y[0]! || x[1]! - y[1]! || x[2]! - y[2]!;
  });
}
