import type { StepDocument } from '../procedure/document-schema';
import type { Case, StepValue } from './case-schema';
import { Absent, DocumentError } from '../faults';
import { once } from './once';
import type { Instance, Path, Point, Reading, Scope, Series, Setting } from './setting';

type StepRecord = {
  id: string;
  time: number;
  value: StepValue;
  series: string | null;
  instance: string | null;
  point: string | null;
  sweep: string | null;
};
type ConditionRecord = { id: string; time: number; value: number };

/** Everything that was recorded for a case, in the order in which it was. */
export class Observed {
  readonly readings: Reading[] = [];
  private readonly steps: StepRecord[] = [];
  private readonly conditions: ConditionRecord[] = [];
  private readonly byCell = new Map<string, Reading[]>();
  /** Sets in the order in which they were read. */ readonly sets: string[] = [];

  constructor(given: Case) {
    for (const [id, value] of Object.entries(given.conditions)) this.conditions.push({ id, time: -1, value });
    for (const [id, value] of Object.entries(given.steps))
      this.steps.push({ id, time: -1, value, series: null, instance: null, point: null, sweep: null });
  }

  /** Takes one row of observations. */
  add(
    row: Case['observations'][number],
    time: number,
    set: string,
    place: { instance: string | null; point: string | null; sweep: string | null },
  ): void {
    if (!this.sets.includes(set)) this.sets.push(set);
    for (const [id, value] of Object.entries(row.conditions)) this.conditions.push({ id, time, value });
    for (const [id, value] of Object.entries(row.steps)) this.steps.push({ id, time, value, series: row.series, ...place });
    if (place.point === null) return;
    for (const values of row.readings) {
      const reading: Reading = {
        set,
        series: row.series,
        instance: place.instance,
        point: place.point,
        sweep: place.sweep,
        time,
        values,
        items: row.items,
      };
      this.readings.push(reading);
      const key = cellKey(reading);
      const cell = this.byCell.get(key);
      if (cell) cell.push(reading);
      else this.byCell.set(key, [reading]);
    }
  }

  /** Puts further observations into the reading that was taken last: one repeat of several things read one after the other. */
  addToLast(values: Reading['values']): void {
    const last = this.readings.at(-1)!;
    const whole: Reading = { ...last, values: { ...last.values, ...values } };
    this.readings[this.readings.length - 1] = whole;
    const cell = this.byCell.get(cellKey(last))!;
    cell[cell.length - 1] = whole;
  }

  cell(set: string, series: string, instance: string | null, point: string, sweep: string | null): readonly Reading[] {
    return this.byCell.get(cellKey({ set, series, instance, point, sweep })) ?? [];
  }

  /** The readings of a series in a set, cell by cell, in the order in which the first of each was taken. */
  cells(set: string, series: string): (readonly Reading[])[] {
    return [...this.byCell.values()].filter(([first]) => first!.set === set && first!.series === series);
  }

  /** Whether anything of a series was read in a set. */
  has(set: string, series: string): boolean {
    return this.readings.some((r) => r.set === set && r.series === series);
  }

  /** The latest set other than this one in which a series was read. */
  latestOther(set: string, series: string): string | undefined {
    return [...this.sets].reverse().find((other) => other !== set && this.has(other, series));
  }

  isStepRecorded(id: string): boolean {
    return this.steps.some((r) => r.id === id);
  }

  /** The condition in force at a time: the last one recorded, else the first that came later. */
  conditionAt(id: string, time: number): number {
    const own = this.conditions.filter((c) => c.id === id);
    const last = own.filter((c) => c.time <= time).at(-1) ?? own[0];
    if (!last) throw new Absent(`condition ${id}`, 'record');
    return last.value;
  }

  /** What a step found, for where the formula stands: the last recorded there, else the first that came later. Undefined when nothing was. */
  stepValue(s: Setting, id: string, scope: Scope): StepValue | undefined {
    const all = this.steps.filter((r) => r.id === id);
    if (all.length === 0) return undefined;
    const declared = scope.series?.doc.steps.find((step) => step.id === id);
    const records = declared ? nearestScope(all, declared, scope) : matchingInstance(all, scope);
    const time = scope.reading?.time ?? latestTime(s, scope);
    return (records.filter((r) => r.time <= time).at(-1) ?? records[0])?.value;
  }
}

const cellKey = (r: Pick<Reading, 'set' | 'series' | 'instance' | 'point' | 'sweep'>): string =>
  `${r.set}|${r.series}|${r.instance ?? ''}|${r.point}|${r.sweep ?? ''}`;

/** Records of the scope for which the step is done: of this repeat's point, sweep and instance, as far as it is done for each. */
function nearestScope(all: StepRecord[], step: StepDocument, scope: Scope): StepRecord[] {
  const level = step.before ?? (step.after === 'run' ? 'instance' : step.after) ?? 'instance';
  const tests: ((r: StepRecord) => boolean)[] = [(r) => r.instance === (scope.instance?.id ?? r.instance)];
  if (level !== 'instance' && scope.sweep !== null) tests.push((r) => r.sweep === scope.sweep);
  if ((level === 'point' || level === 'repeat') && scope.point !== null) tests.push((r) => r.point === scope.point!.id);
  // The narrowest scope in which something was recorded; a record holds from there on.
  for (let n = tests.length; n > 0; n--) {
    const found = all.filter((r) => r.series === scope.series!.doc.id && tests.slice(0, n).every((t) => t(r)));
    if (found.length) return found;
  }
  return all;
}

const matchingInstance = (all: StepRecord[], scope: Scope): StepRecord[] => {
  const id = scope.instance?.id ?? null;
  const same = id === null ? [] : all.filter((r) => r.instance === id);
  return same.length ? same : all;
};

/** When the last reading of a scope was taken; Infinity where there is none. */
function latestTime(s: Setting, scope: Scope): number {
  const times = readingsIn(s, scope).map((r) => r.time);
  return times.length ? Math.max(...times) : Infinity;
}

/**
 * Cells of a scope that have readings: over all points, sweeps and instances that it does not fix.
 * @example cellsIn(setting, scope, (s, instance) => pointsOf(setting, s, instance)).length // 1
 */
export function cellsIn(
  s: Setting,
  scope: Scope,
  points: (series: Series, instance: Instance) => Point[],
): { instance: Instance; point: Point; sweep: string | null; readings: readonly Reading[] }[] {
  const series = scope.series;
  if (!series) return [];
  const sweeps = series.sweeps === null ? [null] : scope.sweep !== null ? [scope.sweep] : series.sweeps.map((w) => w.id);
  return (scope.instance ? [scope.instance] : series.instances).flatMap((instance) =>
    (scope.point ? [scope.point] : points(series, instance)).flatMap((point) =>
      sweeps.map((sweep) => ({
        instance,
        point,
        sweep,
        readings: s.observed.cell(scope.set, series.doc.id, instance.id, point.id, sweep),
      })),
    ),
  );
}

/** Readings of a scope. */
export function readingsIn(s: Setting, scope: Scope): readonly Reading[] {
  if (scope.reading) return [scope.reading];
  const series = scope.series;
  if (!series) return [];
  const isCell = scope.instance !== null && scope.point !== null && (scope.sweep !== null || series.sweeps === null);
  if (isCell) return s.observed.cell(scope.set, series.doc.id, scope.instance!.id, scope.point!.id, scope.sweep);
  const key = `readings|${scope.set}|${series.doc.id}|${scope.instance?.id ?? '*'}|${scope.point?.id ?? '*'}|${scope.sweep ?? '*'}`;
  return once(s.memo, key, () =>
    s.observed.readings.filter(
      (r) =>
        r.set === scope.set &&
        r.series === series.doc.id &&
        (scope.instance === null || r.instance === scope.instance.id) &&
        (scope.point === null || r.point === scope.point.id) &&
        (scope.sweep === null || r.sweep === scope.sweep),
    ),
  );
}

/** The value of an observation that is read once in a wider scope than the repeat: it stands in the first reading there. */
export function scopedObservation(
  s: Setting,
  series: Series,
  reading: Reading,
  id: string,
  per: 'point' | 'sweep' | 'instance',
): number | string {
  const key = `scoped|${id}|${per}|${reading.set}|${reading.series}|${reading.instance ?? ''}|${per === 'instance' ? '' : (reading.sweep ?? '')}|${per === 'point' ? reading.point : ''}`;
  return once(s.memo, key, () => {
    const found = s.observed.readings.find(
      (r) =>
        r.set === reading.set &&
        r.series === reading.series &&
        r.instance === reading.instance &&
        (per === 'instance' || r.sweep === reading.sweep) &&
        (per !== 'point' || r.point === reading.point) &&
        r.values[id] !== undefined,
    );
    if (!found) throw new Absent(`${id} of ${series.doc.title}`);
    return found.values[id]!;
  });
}

/** A typed reading as a number. @throws DocumentError when it is none @example readingNumber('7.702', 'R', []) // 7.702 */
export function readingNumber(value: number | string, id: string, path: Path): number {
  if (typeof value === 'number') return value;
  const text = value.trim().replace(/[−–]/g, '-').replace(',', '.');
  if (!/^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/.test(text)) throw new DocumentError(`"${value}" is not a number (${id}).`, path);
  return Number(text);
}
