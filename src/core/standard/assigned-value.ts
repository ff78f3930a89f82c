import { disciplineFunctions } from '../disciplines/registry';
import { OutsideValidityError } from '../disciplines/discipline-function';
import { convert, convertDifference } from '../quantity/unit';
import type { Applied } from '../uncertainty/model-compile';
import { DocumentError, Undeterminable } from '../faults';
import type { CertifiedPoint, StandardContent, StandardDocument, StandardItem } from './standard-schema';

/** What a standard is worth at one place: in the unit in which it is used. */
export type Assigned = {
  value: number;
  nominal: number;
  correction: number;
  standardUncertainty: number;
  /** Infinity where the certificate does not say. */ dof: number;
  items: number;
  joints: number;
  /** Items of a stack, or the one item. */ chosen: readonly StandardItem[];
};

/** One standard, or one part of it, in the unit in which it is used. */
export type Source = {
  standard: StandardDocument;
  content: StandardContent;
  /** Unit of use; the standard's own when not named. */ unit: string | undefined;
};

/** Magnitudes within this share of each other are equal. @example isSame(0.1 + 0.2, 0.3) // true */
export const isSame = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-9 * Math.max(1e-300, Math.abs(a), Math.abs(b));

const own = (s: Source) => s.content.unit ?? s.standard.unit;
const units = (s: Source): [string, string] | null => {
  const from = own(s);
  return from !== undefined && s.unit !== undefined && from !== s.unit ? [from, s.unit] : null;
};
/** A conversion that cannot be is a fault of the standard or of its use. */
function converted(s: Source, work: () => number): number {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) throw new DocumentError(`${s.standard.identification}: ${error.message}`, ['standards']);
    throw error;
  }
}
const inUse = (s: Source, value: number): number => {
  const u = units(s);
  return u ? converted(s, () => convert(value, u[0], u[1])) : value;
};
const differenceInUse = (s: Source, value: number): number => {
  const u = units(s);
  return u ? converted(s, () => convertDifference(value, u[0], u[1])) : value;
};
const inOwn = (s: Source, value: number): number => {
  const u = units(s);
  return u ? converted(s, () => convert(value, u[1], u[0])) : value;
};

/** A step of a standard's display, in the unit of use. */
export const stepInUse = (s: Source, step: number | undefined): number | undefined =>
  step === undefined ? undefined : differenceInUse(s, step);

/** The nominal value of an item, in the unit of use. @example nominalInUse(source, item) // 1.005 */
export const nominalInUse = (s: Source, item: StandardItem): number => inUse(s, item.nominal);

/**
 * Where a standard's certificate has points: of corrections in the unit of use, of values in that of their argument.
 * @example certifiedPlaces({ standard: { unit: 'Cel' }, content: { corrections: [{ at: 20, correction: 0.1 }] }, unit: 'Cel' }) // [20]
 */
export const certifiedPlaces = (s: Source): number[] => [
  ...(s.content.corrections ?? []).map((c) => inUse(s, c.at)),
  ...(s.content.values ?? []).map((v) => v.at),
];

/** An item as certified. @example ofItem(source, item).value // 1.00507 */
export function ofItem(s: Source, item: StandardItem): Assigned {
  const { certified } = item;
  if (certified === undefined)
    throw new Undeterminable(
      `${s.standard.identification}: the item ${item.marking ?? item.id} has no certified value of its own, only values at an argument.`,
    );
  return {
    value: inUse(s, certified),
    nominal: inUse(s, item.nominal),
    correction: differenceInUse(s, certified - item.nominal),
    standardUncertainty: differenceInUse(s, item.expandedUncertainty / item.coverageFactor),
    dof: item.dof ?? Infinity,
    items: 1,
    joints: 0,
    chosen: [item],
  };
}

/**
 * Items together: values added, standard uncertainties added linearly, the least degrees of freedom.
 * @example ofStack([{ source, item }, { source, item }]).value // 2.01014
 */
export function ofStack(items: readonly { source: Source; item: StandardItem }[]): Assigned {
  const each = items.map(({ source, item }) => ofItem(source, item));
  const sum = (of: (a: Assigned) => number) => each.reduce((total, a) => total + of(a), 0);
  return {
    value: sum((a) => a.value),
    nominal: sum((a) => a.nominal),
    correction: sum((a) => a.correction),
    standardUncertainty: sum((a) => a.standardUncertainty),
    dof: Math.min(Infinity, ...each.map((a) => a.dof)),
    items: items.length,
    joints: Math.max(0, items.length - 1),
    chosen: items.map((i) => i.item),
  };
}

/** Whether a row of a certificate fits the further columns asked for. */
const fits = (row: Record<string, unknown>, where: Record<string, number>): boolean =>
  Object.entries(where).every(([column, value]) => {
    const stated = row[column] ?? (row['properties'] as Record<string, number> | undefined)?.[column];
    return typeof stated === 'number' && isSame(stated, value);
  });

/** What carries a curve: a standard's content, or an item with values of its own. */
export type Curve = Pick<StandardContent, 'corrections' | 'values' | 'function'>;

/** @example hasCurve({}) // false */
export const hasCurve = (c: Curve): boolean => Boolean(c.corrections ?? c.values ?? c.function);

/** Up to this share of the span beyond an end, the end's value holds. */
const beyondEnd = 0.02;

type Reached = { row: number; uncertainty: number; dof: number; slope: number };

/** Linear between the certificate's points; the greater of the neighbours' uncertainties; at a point its own, and the mean of both slopes. */
function along(points: readonly { at: number; y: number; u: number; dof: number }[], x: number): Reached | null {
  const last = points.length - 1;
  const slopeOf = (i: number) =>
    i < 0 || i >= last ? null : (points[i + 1]!.y - points[i]!.y) / (points[i + 1]!.at - points[i]!.at);
  const same = points.findIndex(
    (p) => isSame(p.at, x) || Math.abs(p.at - x) <= 1e-9 * Math.abs(points[last]!.at - points[0]!.at),
  );
  if (same >= 0) {
    const sides = [slopeOf(same - 1), slopeOf(same)].filter((s) => s !== null);
    const slope = sides.length ? sides.reduce((a, b) => a + b, 0) / sides.length : 0;
    const p = points[same]!;
    return { row: p.y, uncertainty: p.u, dof: p.dof, slope };
  }
  const reach = beyondEnd * (points[last]!.at - points[0]!.at);
  const end = x < points[0]!.at ? points[0]! : x > points[last]!.at ? points[last]! : null;
  if (end) return Math.abs(x - end.at) <= reach * (1 + 1e-9) ? { row: end.y, uncertainty: end.u, dof: end.dof, slope: 0 } : null;
  const i = points.findIndex((p) => p.at > x) - 1;
  const [a, b] = [points[i]!, points[i + 1]!];
  const greater = a.u >= b.u ? a : b;
  const slope = slopeOf(i)!;
  return { row: a.y + slope * (x - a.at), uncertainty: greater.u, dof: greater.dof, slope };
}

/**
 * What a curve of a certificate gives at an argument, with its slope there.
 * @param x in the unit of use for corrections, in its own unit for values and functions
 * @throws Undeterminable where the certificate does not reach, DocumentError where the standard is at fault
 * @example onCurve({ standard: { unit: 'Cel' }, content: {}, unit: 'Cel' }, { corrections: [{ at: 0, correction: 0, standardUncertainty: 0.1 }, { at: 10, correction: 1, standardUncertainty: 0.1 }] }, 5, {}, []).value // 5.5
 */
export function onCurve(
  s: Source,
  curve: Curve,
  x: number,
  where: Record<string, number>,
  path: (string | number)[],
): Assigned & { slope: number } {
  const name = s.standard.identification;
  const refuse = (message: string): never => {
    throw new DocumentError(message, path);
  };
  const made = (value: number, correction: number, u: number, dof: number, slope: number): Assigned & { slope: number } => ({
    value,
    nominal: x,
    correction,
    standardUncertainty: u,
    dof,
    items: 1,
    joints: 0,
    chosen: [],
    slope,
  });
  const rows = (list: readonly CertifiedPoint[], y: (p: CertifiedPoint) => number) => {
    const kept = list.filter((p) => fits(p, where)).sort((a, b) => a.at - b.at);
    if (kept.length === 0)
      throw new Undeterminable(
        `${name} has no certified points for ${Object.entries(where)
          .map(([column, value]) => `${column} ${value}`)
          .join(', ')}.`,
      );
    return kept.map((p) => ({ at: p.at, y: y(p), u: p.expandedUncertainty / p.coverageFactor, dof: p.dof ?? Infinity }));
  };
  const outside = (from?: number, to?: number): never => {
    const reach = [from, to].map((end) => (end === undefined ? undefined : Number(end.toPrecision(6))));
    const span =
      reach[0] === undefined || reach[1] === undefined ? 'beyond its range' : `it reaches from ${reach[0]} to ${reach[1]}`;
    throw new Undeterminable(`The certificate of ${name} does not cover ${Number(x.toPrecision(6))}: ${span}.`);
  };
  if (curve.corrections) {
    const points = rows(curve.corrections, (p) => (p as { correction: number }).correction);
    const found = along(points, inOwn(s, x)) ?? outside(inUse(s, points[0]!.at), inUse(s, points.at(-1)!.at));
    const correction = differenceInUse(s, found.row);
    return made(x + correction, correction, differenceInUse(s, found.uncertainty), found.dof, 1 + found.slope);
  }
  if (curve.values) {
    const points = rows(curve.values, (p) => (p as { value: number }).value);
    const found = along(points, x) ?? outside(points[0]!.at, points.at(-1)!.at);
    return made(inUse(s, found.row), 0, differenceInUse(s, found.uncertainty), found.dof, differenceInUse(s, found.slope));
  }
  const f = curve.function;
  if (!f) return refuse(`${name} has neither corrections nor values nor a function to take at an argument.`);
  const known = disciplineFunctions.get(f.name);
  if (!known) return refuse(`${name} names the function "${f.name}", which is not known.`);
  const rest = known.parameters.slice(1).map(({ id }) => {
    const given = f.parameters[id];
    return given ?? refuse(`${name}: the function ${f.name} needs the parameter ${id}.`);
  });
  let result: Applied;
  try {
    result = known.evaluate([x, ...rest]);
  } catch (error) {
    if (error instanceof OutsideValidityError) throw new Undeterminable(`${name}: ${error.message}`);
    throw error;
  }
  const reach = beyondEnd * ((f.to ?? 0) - (f.from ?? 0));
  if ((f.from !== undefined && result.value < f.from - reach) || (f.to !== undefined && result.value > f.to + reach))
    return outside();
  return made(
    inUse(s, result.value),
    0,
    differenceInUse(s, f.expandedUncertainty / f.coverageFactor),
    f.dof ?? Infinity,
    differenceInUse(s, result.partials[0]!),
  );
}

/** Items among which a value is sought, each with the source it belongs to. */
export type Offered = { source: Source; item: StandardItem };

/** @example offeredItems([source], {}).length // 47 */
export const offeredItems = (sources: readonly Source[], where: Record<string, number>): Offered[] =>
  sources.flatMap((source) => (source.content.items ?? []).filter((i) => fits(i, where)).map((item) => ({ source, item })));

const uncertaintyOf = ({ source, item }: Offered) => ofItem(source, item).standardUncertainty;

/**
 * The item for a nominal value; of several that serve alike the less uncertain. Null when none does.
 * @example pickItem(offeredItems([source], {}), 1.005, 'equal').item.id // 'gb-47-1.005'
 */
export function pickItem(
  offered: readonly Offered[],
  wanted: number,
  pick: 'equal' | 'nearest' | 'at-least' | 'at-most',
): Offered | null {
  const candidates = offered.map((o) => ({ o, nominal: nominalInUse(o.source, o.item) }));
  const best = (list: typeof candidates, distance: (nominal: number) => number): Offered | null => {
    const sorted = [...list].sort((a, b) => {
      const [da, db] = [distance(a.nominal), distance(b.nominal)];
      if (!isSame(da, db) && Math.abs(da - db) > 1e-12) return da - db;
      return isSame(a.nominal, b.nominal) ? uncertaintyOf(a.o) - uncertaintyOf(b.o) : a.nominal - b.nominal;
    });
    return sorted[0]?.o ?? null;
  };
  const same = (nominal: number) => isSame(nominal, wanted) || nominal === wanted;
  switch (pick) {
    case 'equal':
      return best(
        candidates.filter((c) => same(c.nominal)),
        () => 0,
      );
    case 'nearest':
      return best(candidates, (nominal) => Math.abs(nominal - wanted));
    case 'at-least':
      return best(
        candidates.filter((c) => c.nominal > wanted || same(c.nominal)),
        (nominal) => nominal,
      );
    case 'at-most':
      return best(
        candidates.filter((c) => c.nominal < wanted || same(c.nominal)),
        (nominal) => -nominal,
      );
  }
}

/** Combinations tried at the most, so that a set without a stack is given up in time. */
const maximumTries = 400_000;
const maximumItems = 12;

/**
 * The fewest items whose nominal values add to a total, largest first among equals; of items alike the less uncertain.
 * @returns an empty stack for 0, null when none adds to it
 * @example fewestItems(offeredItems([source], {}), 0) // []
 */
export function fewestItems(offered: readonly Offered[], total: number): Offered[] | null {
  const slack = 1e-9 * Math.max(1, Math.abs(total));
  if (Math.abs(total) <= slack) return [];
  const sorted = offered
    .map((o) => ({ o, nominal: nominalInUse(o.source, o.item) }))
    .filter((c) => c.nominal > 0 && c.nominal <= total + slack)
    .sort((a, b) => (isSame(a.nominal, b.nominal) ? uncertaintyOf(a.o) - uncertaintyOf(b.o) : b.nominal - a.nominal));
  let tries = 0;
  const search = (rest: number, from: number, left: number): Offered[] | null => {
    for (let i = from; i < sorted.length; i++) {
      if (++tries > maximumTries) return null;
      const { o, nominal } = sorted[i]!;
      if (nominal * left < rest - slack) return null;
      if (nominal > rest + slack) continue;
      if (left === 1) {
        if (Math.abs(nominal - rest) <= slack) return [o];
        continue;
      }
      const more = search(rest - nominal, i + 1, left - 1);
      if (more) return [o, ...more];
    }
    return null;
  };
  for (let count = 1; count <= Math.min(maximumItems, sorted.length); count++) {
    const found = search(total, 0, count);
    if (found) return found;
  }
  return null;
}
