import { disciplineFunctions } from '../disciplines/registry';
import { formula, formulaValue, ModelSyntaxError } from '../formula/formula';
import type { Num, ProcedureDocument, SeriesDocument, When } from '../procedure/document-schema';
import {
  certifiedPlaces,
  nominalInUse,
  offeredItems,
  isSame,
  pickItem,
  type Offered,
  type Source,
} from '../standard/assigned-value';
import type { StandardDocument } from '../standard/standard-schema';
import { isSameKind, printedUnit } from '../quantity/unit';
import type { Case } from './case-schema';
import { Absent, DocumentError, LeftOut } from '../faults';
import type { Memo } from './once';
import { nearestLength } from './nearest-length';
import { functionsOf } from './functions';
import { columnOf } from './names/columns';
import { valueOf } from './names/registry';
import type { Observed } from './observed';
import { ownForm, stepInOwn, type OwnUnit } from './own-unit';

export type Path = (string | number)[];

/** One row of what a series runs through: of an instrument's list, of the document, or an item of a standard. */
export type Instance = { id: string | null; index: number; row: Record<string, unknown>; item: Offered | null };

export type Point = {
  id: string;
  index: number;
  label: string | undefined;
  nominal: number | undefined;
  columns: Record<string, unknown>;
  /** The item that a point of items uses. */ item: Offered | null;
};

export type Sweep = { id: string; backwards: boolean };

/** A series as it stands for this case. */
export type Series = {
  doc: SeriesDocument;
  path: Path;
  instances: Instance[];
  /** Null where none is declared. */ sweeps: Sweep[] | null;
  /** Ids of instances and sweeps that are left out, and of points that some instance leaves out. */ leftOut: Set<string>;
  /** Ids and labels of the points that an instance leaves out. */ leftOutAt: Map<Instance, Set<string>>;
  points: Map<Instance, Point[]>;
  /** In a plan only: what it runs through is not known yet. */ isOpen?: boolean;
};

/** Where a formula stands: what it can see. */
export type Scope = {
  set: string;
  series: Series | null;
  instance: Instance | null;
  point: Point | null;
  sweep: string | null;
  /** The one repeat that `computed` works on. */ reading: Reading | null;
  /** Values of the moment, before all other names: an aggregate's own value, an estimate. */ own: Readonly<
    Record<string, number>
  >;
  /** Readings that a statistic has run through, where it names a condition. */
  used?: readonly Reading[] | undefined;
  path: Path;
};

export type Reading = {
  set: string;
  series: string;
  instance: string | null;
  point: string;
  sweep: string | null;
  /** Order in which it was taken. */ time: number;
  values: Readonly<Record<string, number | string>>;
  /** Items that were used in place of those proposed. */ items: Readonly<Record<string, readonly string[]>>;
};

export type Setting = {
  doc: ProcedureDocument;
  /** The instrument's numbers are in the document's unit; its readings as they were typed. */ given: Case;
  /** The instrument's own unit, where the document sees another. */ own: OwnUnit | null;
  /** What readings at the end of a scale count as, where that is asked. */ offScale?: OffScaleLens;
  /** Standards by role; a role that is left out or that nobody fills is absent. */
  standards: Map<string, StandardDocument[]>;
  series: Map<string, Series>;
  observed: Observed;
  memo: Memo;
};

/** Readings of some cells that are taken to lie at the ends of their scales, or a little beyond. */
export type OffScaleLens = {
  readings: ReadonlySet<Reading>;
  ends: ReadonlyMap<string, ScaleEnd>;
  at: 'end' | 'beyond';
};
export type ScaleEnd = { side: 'lower' | 'upper'; end: number };

/** @example noScope('as-found').point // null */
export const noScope = (set: string, path: Path = []): Scope => ({
  set,
  series: null,
  instance: null,
  point: null,
  sweep: null,
  reading: null,
  own: {},
  path,
});

/**
 * A formula's value where it stands. @throws DocumentError with path and place for a formula that cannot be read
 * @example evaluateText(setting, 'point.nominal + 1', scope) // 8.7
 */
export function evaluateText(s: Setting, text: string, scope: Scope): number {
  try {
    const compiled = formula(text);
    const value = formulaValue(compiled, (name) => valueOf(s, name, scope), functionsOf(s, scope));
    // Degrees of freedom that nobody states are infinitely many; any other infinity is a fault.
    if (!Number.isFinite(value) && !(value === Infinity && /\.dof$/.test(text.trim())))
      throw new DocumentError(
        `The formula "${text}" has no finite value: look for a division by zero, or a root of a negative number.`,
        scope.path,
      );
    return value;
  } catch (error) {
    if (error instanceof ModelSyntaxError)
      throw new DocumentError(`${error.message} (character ${error.start + 1} of "${text}")`, scope.path);
    throw error;
  }
}

/** A number of the document: itself, or its formula's value. @example numberOf(setting, 2, scope) // 2 */
export const numberOf = (s: Setting, number: Num, scope: Scope): number =>
  typeof number === 'number' ? number : evaluateText(s, number.is, scope);

/** The chosen option of a choice. @throws LeftOut when the choice is left out */
export function chosenOption(s: Setting, id: string, path: Path): { option: Record<string, unknown>; index: number } {
  const choice = s.doc.choices.find((c) => c.id === id);
  if (!choice) throw new DocumentError(`"${id}" is not a choice of this procedure.`, path);
  if (!isIn(s, choice.when, noScope(s.given.set, path))) throw new LeftOut(`choice ${id}`);
  const wanted = s.given.choices[id] ?? choice.default ?? choice.options[0]!.id;
  const index = choice.options.findIndex((o) => o.id === wanted);
  if (index < 0)
    throw new DocumentError(`"${wanted}" is not an option of ${id}: choose ${choice.options.map((o) => o.id).join(', ')}.`, [
      'choices',
      id,
    ]);
  return { option: choice.options[index]!, index };
}

/**
 * Whether something stays in, by its `when`. What names something left out is left out too.
 * @example isIn(setting, { positive: '1 - 2' }, noScope('as-found')) // false
 */
export function isIn(s: Setting, when: When | undefined, scope: Scope): boolean {
  if (when === undefined) return true;
  if (Array.isArray(when)) return when.every((w) => isIn(s, w, scope));
  try {
    if ('positive' in when) return evaluateText(s, when.positive, scope) > 0;
    const among = Array.isArray(when.is) ? when.is : [when.is];
    if ('choice' in when) return among.includes(String(chosenOption(s, when.choice, scope.path).option['id']));
    const found = s.observed.stepValue(s, when.step, scope);
    return found !== undefined && among.includes(String(found));
  } catch (error) {
    // What is left out, or not known yet, takes with it what depends on it.
    if (error instanceof Absent) return false;
    throw error;
  }
}

/**
 * Whether an observation is made here: one of a standard that is left out is not.
 * @example isObserved(setting, series.observe[0], scope) // true
 */
export const isObserved = (s: Setting, o: SeriesDocument['observe'][number], scope: Scope): boolean => {
  const role = scope.series?.doc.uses[o.of]?.role ?? o.of;
  const isLeftOut = s.doc.standards.some((r) => r.role === role && !isIn(s, r.when, noScope(s.given.set)));
  return !isLeftOut && isIn(s, o.when, scope);
};

/**
 * The standards that serve a use, each in the unit of the use. @throws LeftOut when nobody fills the role
 * @example sourcesOf(setting, setting.series.get('error'), 'blocks').length // 1
 */
export function sourcesOf(s: Setting, series: Series | null, use: string): Source[] {
  const doc = series?.doc.uses[use];
  const role = doc?.role ?? use;
  const standards = s.standards.get(role);
  const declared = s.doc.standards.find((r) => r.role === role);
  if (!standards) {
    // Left out by its condition, or optional: then what names it is left out too. A role that must be filled is missing.
    if (declared && !declared.optional && isIn(s, declared.when, noScope(s.given.set)))
      throw new DocumentError(`Nobody fills the role ${role} (${declared.title}): name a standard for it.`, ['standards', role]);
    throw new LeftOut(`standard for ${role}`);
  }
  const unit = doc?.unit ?? declared?.unit;
  const sources = standards.flatMap((standard): Source[] => {
    // Where no use names a part, it is the standard as a whole.
    if (!standard.parts || !doc) return [{ standard, content: { id: '', ...standard }, unit }];
    const part = standard.parts.find((p) => p.id === doc?.part);
    return part ? [{ standard, content: part, unit }] : [];
  });
  if (unit === undefined) return sources;
  const ofKind = sources.filter((x) => isOfKind(x, unit));
  if (sources.length > 0 && ofKind.length === 0)
    throw new DocumentError(
      `${sources[0]!.standard.identification} is in ${sources.map(unitOfSource).map(printedUnit).join(', ')}; ${declared?.title ?? role} is read in ${printedUnit(unit)}, and one cannot become the other. Choose another standard.`,
      ['standards', role],
    );
  return ofKind;
}

const unitOfSource = ({ standard, content }: Source): string => content.unit ?? standard.unit ?? '';
const isOfKind = (source: Source, unit: string): boolean => {
  const own = unitOfSource(source);
  return own === '' || isSameKind(own, unit);
};

/** Reads instances, sweeps and points of a series; points lazily, since they may depend on earlier steps. */
export function seriesOf(s: Setting, doc: SeriesDocument, path: Path): Series {
  const scope = noScope(s.given.set, path);
  const series: Series = {
    doc,
    path,
    instances: [],
    sweeps: null,
    leftOut: new Set(),
    leftOutAt: new Map(),
    points: new Map(),
  };
  if (doc.sweeps) {
    series.sweeps = [];
    for (const sweep of doc.sweeps)
      if (isIn(s, sweep.when, { ...scope, series })) series.sweeps.push({ id: sweep.id, backwards: sweep.backwards ?? false });
      else series.leftOut.add(sweep.id);
  }
  const each = doc.forEach;
  if (!each) series.instances = [{ id: null, index: 0, row: {}, item: null }];
  else if ('list' in each) {
    const rows = s.given.instrument.lists[each.list] ?? [];
    series.instances = rows.map((row, index) => ({ id: row.id, index, row, item: null }));
  } else if ('of' in each) {
    each.of.forEach((row, index) => {
      if (isIn(s, row.when, { ...scope, series })) series.instances.push({ id: row.id, index, row, item: null });
      else series.leftOut.add(row.id);
    });
  } else {
    const offered = offeredItems(sourcesOf(s, series, each.items), {});
    series.instances = offered.map((item, index) => ({ id: item.item.id, index, row: itemRow(item), item }));
  }
  return series;
}

/** The columns that an item offers to `each` and `point`. */
const itemRow = (offered: Offered): Record<string, unknown> => ({
  title: offered.item.marking || offered.item.id,
  ...offered.item.properties,
  nominal: nominalInUse(offered.source, offered.item),
  certified: offered.item.certified,
  expandedUncertainty: offered.item.expandedUncertainty,
  coverageFactor: offered.item.coverageFactor,
});

/** Rounds to a step, halves away from zero. */
export function toStep(value: number, step: number): number {
  const steps = Math.abs(value / step);
  const whole = Math.floor(steps + 0.5 + 1e-9);
  return Number((Math.sign(value) * whole * step).toPrecision(12)) + 0;
}

/** A rounded fraction stays within its range: beyond, it is the next step inside. */
function withinRange(value: number, from: number, to: number, step: number): number {
  const slack = 1e-9 * Math.max(Math.abs(from), Math.abs(to), step);
  if (value > to + slack) return Number((Math.floor(to / step + 1e-9) * step).toPrecision(12));
  if (value < from - slack) return Number((Math.ceil(from / step - 1e-9) * step).toPrecision(12));
  return value;
}

/** The most points a series may have: what a person could ever read. */
export const mostPoints = 2000;

/**
 * The points of one instance; those left out keep their number.
 * @example pointsOf(setting, theSeries, theSeries.instances[0]).length // 10
 */
export function pointsOf(s: Setting, series: Series, instance: Instance): Point[] {
  const known = series.points.get(instance);
  if (known) return known;
  const points = readPoints(s, series, instance);
  series.points.set(instance, points);
  return points;
}

/** The points as the document states them for this instrument: those for its own unit where it names some. */
function declaredPoints(s: Setting, series: Series) {
  const declared = series.doc.points;
  const inUnit = s.own && declared?.inUnit?.[s.own.own];
  return inUnit ? { points: inUnit, isOwn: true } : { points: declared, isOwn: false };
}

function readPoints(s: Setting, series: Series, instance: Instance): Point[] {
  const { points: declared, isOwn } = declaredPoints(s, series);
  const path = [...series.path, 'points'];
  const scope: Scope = { ...noScope(s.given.set, path), series, instance };
  // Points in the document's unit are counted in the instrument's own, and so are literals that are written for it.
  const form = ownForm(s.own, isOwn ? s.own!.document : declared?.unit);
  const num = (n: Num) => (typeof n === 'number' && isOwn && form ? form.toDocument(n) : numberOf(s, n, scope));
  const shift = (n: Num) =>
    typeof n === 'number' && isOwn && form ? form.toDocument(n) - form.toDocument(0) : numberOf(s, n, scope);
  const point = (index: number, nominal: number | undefined, more: Partial<Point> = {}): Point => ({
    id: `p${index + 1}`,
    index: index + 1,
    label: undefined,
    nominal,
    columns: {},
    item: null,
    ...more,
  });
  if (!declared) return [point(0, undefined)];
  const used = (end: 'usedLower' | 'usedUpper'): number => {
    const value = s.given.instrument[end];
    if (value === undefined) throw new DocumentError(`The points need the instrument's ${end}.`, ['instrument', end]);
    return value;
  };
  const enough = (count: number) => {
    if (count > mostPoints) throw new DocumentError(`These are ${count} points; a series has at most ${mostPoints}.`, path);
  };
  /** Moved to what the standard has, where the points ask for that. */
  const held = (nominal: number): number => (declared.nearest ? nearestHeld(s, series, declared.nearest, nominal) : nominal);
  const plain = (nominals: number[]): Point[] => {
    enough(nominals.length);
    return nominals.map((nominal, i) => point(i, held(nominal)));
  };

  if (declared.table)
    return declared.table.flatMap((row, i) => {
      const columns = Object.fromEntries(
        Object.entries(row).flatMap(([key, value]) =>
          key === 'when' || key === 'label' || key === 'nominal' ? [] : [[key, isNum(value) ? numberOf(s, value, scope) : value]],
        ),
      );
      const nominal = row.nominal === undefined ? undefined : held(num(row.nominal));
      const made = point(i, nominal, { label: row.label, columns });
      if (isIn(s, row.when, { ...scope, point: made })) return [made];
      const leftOut = series.leftOutAt.get(instance) ?? new Set<string>();
      series.leftOutAt.set(instance, leftOut);
      for (const id of [made.id, row.label])
        if (id !== undefined) {
          series.leftOut.add(id);
          leftOut.add(id);
        }
      return [];
    });
  if (typeof declared.list === 'string') {
    const rows = s.given.instrument.lists[declared.list] ?? [];
    return rows.map((row, i) =>
      point(i, row['nominal'] === undefined ? undefined : columnOf(s, row, 'nominal', 'point', scope), {
        label: row.id,
        columns: row,
      }),
    );
  }
  if (declared.list) return plain(declared.list.map(num));
  if (declared.offsets) return plain(declared.offsets.map((o) => used('usedLower') + shift(o)));
  // From here on in the unit in which the points are counted.
  const own = form ?? { toOwn: (v: number) => v, toDocument: (v: number) => v };
  const step = stepOf(s, declared.step, isOwn, form, scope);
  if (step !== undefined && !(step > 0)) throw new DocumentError('A step is greater than 0.', [...path, 'step']);
  if (declared.fractions) {
    const from = declared.from === undefined ? used('usedLower') : num(declared.from);
    const to = declared.to === undefined ? used('usedUpper') : num(declared.to);
    return plain(
      declared.fractions.map((f) => {
        const exact = from + numberOf(s, f, scope) * (to - from);
        if (step === undefined) return exact;
        const [low, high] = [own.toOwn(Math.min(from, to)), own.toOwn(Math.max(from, to))];
        return own.toDocument(withinRange(toStep(own.toOwn(exact), step), low, high, step));
      }),
    );
  }
  if (declared.items) {
    const [from, to] = [declared.from, declared.to].map((n) => (n === undefined ? undefined : num(n)));
    const offered = offeredItems(sourcesOf(s, series, declared.items), whereOf(s, series, declared.items, scope))
      .map((o) => ({ o, nominal: nominalInUse(o.source, o.item) }))
      .filter(
        ({ nominal }) =>
          (from === undefined || nominal >= from - 1e-9 * Math.abs(from)) &&
          (to === undefined || nominal <= to + 1e-9 * Math.abs(to)),
      )
      .sort((a, b) => a.nominal - b.nominal);
    const nominals = offered.filter((o, i) => i === 0 || !isSame(o.nominal, offered[i - 1]!.nominal)).map((o) => o.nominal);
    return nominals.map((nominal, i) => {
      const item = pickItem(
        offered.map((o) => o.o),
        nominal,
        'equal',
      )!;
      return point(i, nominal, { item, columns: itemRow(item) });
    });
  }
  if (declared.from !== undefined && declared.to !== undefined && step !== undefined) {
    const [from, to] = [own.toOwn(num(declared.from)), own.toOwn(num(declared.to))];
    const count = Math.floor(Math.abs(to - from) / step + 1e-9) + 1;
    enough(count);
    const sign = Math.sign(to - from) || 1;
    return plain(Array.from({ length: count }, (_, i) => own.toDocument(onGrid(from + sign * i * step, form !== null))));
  }
  return [point(0, undefined)];
}

/** A sum of steps without its binary noise; a start that was converted is no round number and keeps its digits. */
const onGrid = (value: number, isConverted: boolean): number => Number(value.toPrecision(isConverted ? 15 : 12));

/** The step of points in the unit in which they are counted: a number is rounded to one that counts well there, a formula is converted. */
function stepOf(
  s: Setting,
  step: Num | undefined,
  isOwn: boolean,
  form: ReturnType<typeof ownForm>,
  scope: Scope,
): number | undefined {
  if (step === undefined) return undefined;
  if (!form || !s.own) return numberOf(s, step, scope);
  if (typeof step === 'number')
    return isOwn ? step : stepInOwn(step, form.isDifference ? { document: 'K', own: form.unit } : s.own);
  return form.toOwn(numberOf(s, step, scope)) - form.toOwn(0);
}

export const isNum = (value: unknown): value is Num =>
  typeof value === 'number' ||
  (typeof value === 'object' && value !== null && typeof (value as { is?: unknown }).is === 'string');

/** Further columns that a use asks for. */
export function whereOf(s: Setting, series: Series | null, use: string, scope: Scope): Record<string, number> {
  const where = series?.doc.uses[use]?.where ?? {};
  return Object.fromEntries(Object.entries(where).map(([column, text]) => [column, evaluateText(s, text, scope)]));
}

/** The nominal value nearest to one wanted that a standard has; the lower of equals. */
function nearestHeld(s: Setting, series: Series, use: string, wanted: number): number {
  const sources = sourcesOf(s, series, use);
  if (series.doc.uses[use]?.stack !== undefined) {
    const lengths = offeredItems(sources, {}).map((o) => nominalInUse(o.source, o.item));
    return nearestLength(lengths, wanted) ?? wanted;
  }
  const held = sources.flatMap(certifiedPlaces);
  const item = pickItem(offeredItems(sources, {}), wanted, 'nearest');
  const all = item ? [nominalInUse(item.source, item.item)] : held;
  return [...all].sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted) || a - b)[0] ?? wanted;
}

/** Names of functions of the disciplines. */
export const isDisciplineFunction = (name: string): boolean => disciplineFunctions.has(name);
