import {
  hasCurve,
  nominalInUse,
  ofItem,
  stepInUse,
  ofStack,
  offeredItems,
  onCurve,
  pickItem,
  fewestItems,
  type Assigned,
  type Offered,
  type Source,
} from '../standard/assigned-value';
import type { Applied } from '../uncertainty/model-compile';
import { mean } from '../statistics/moments';
import { DocumentError, Undeterminable } from '../faults';
import { readingsIn } from './observed';
import { evaluateText, pointsOf, sourcesOf, whereOf, type Path, type Scope, type Setting } from './setting';

/** What a use chose here: items, or a place on a curve. */
type Chosen = {
  assigned: () => Assigned;
  items: readonly Offered[];
  /** The standards that are used here: of the items, or whose curve it is. */ used: () => readonly Source[];
};

const pathOf = (scope: Scope, use: string): Path => (scope.series ? [...scope.series.path, 'uses', use] : scope.path);

/** Items that were used in place of those proposed, where the case says so. */
function namedItems(s: Setting, use: string, scope: Scope, offered: readonly Offered[]): Offered[] | null {
  const named = readingsIn(s, scope)
    .map((r) => r.items[use])
    .find((ids) => ids !== undefined);
  if (!named) return null;
  return named.map((id) => {
    const found = offered.find((o) => o.item.id === id || o.item.marking === id);
    if (!found) throw new DocumentError(`"${id}" is not an item of the standard that ${use} uses.`, ['observations']);
    return found;
  });
}

function chooseHere(s: Setting, use: string, scope: Scope): Chosen {
  const doc = scope.series?.doc.uses[use] ?? {};
  const path = pathOf(scope, use);
  const inner: Scope = { ...scope, path };
  const sources = sourcesOf(s, scope.series, use);
  const where = whereOf(s, scope.series, use, inner);
  const offered = offeredItems(sources, hasCurveAnywhere(sources) ? {} : where);
  const role = doc.role ?? use;
  const title = s.doc.standards.find((r) => r.role === role)?.title ?? role;
  const fault = (message: string): never => {
    throw new DocumentError(message, path);
  };
  const none = (message: string): never => {
    throw new Undeterminable(message);
  };
  const swapped = namedItems(s, use, scope, offered);
  if (doc.stack !== undefined) {
    const total = evaluateText(s, doc.stack, { ...inner, path: [...path, 'stack'] });
    const items = swapped ?? fewestItems(offered, total) ?? none(`No items of ${title} add to ${Number(total.toPrecision(9))}.`);
    return { assigned: () => ofStack(items), items, used: () => items.map((o) => o.source) };
  }
  const picked = (): Offered | null => {
    if (swapped) return swapped[0] ?? null;
    if (doc.item !== undefined) {
      const wanted = evaluateText(s, doc.item, { ...inner, path: [...path, 'item'] });
      return pickItem(offered, wanted, doc.pick ?? 'equal') ?? none(`${title} has no item for ${Number(wanted.toPrecision(9))}.`);
    }
    if (doc.at === undefined || !hasCurveAnywhere(sources)) {
      const byPoint = scope.point?.item && isOf(scope.point.item, sources) ? scope.point.item : null;
      const byInstance = scope.instance?.item && isOf(scope.instance.item, sources) ? scope.instance.item : null;
      return byPoint ?? byInstance ?? (offered.length === 1 ? offered[0]! : null);
    }
    return null;
  };
  const item = picked();
  const at = doc.at;
  if (at !== undefined && (item === null || hasCurve(item.item))) {
    const assigned = () => {
      const x = evaluateText(s, at, { ...inner, path: [...path, 'at'] });
      return curveAt(sources, item, x, where, path);
    };
    const items = item ? [item] : [];
    // Where one standard fills the role, nothing needs to be read to say which is used.
    return { assigned, items, used: () => (sources.length === 1 ? sources : [assigned().source]) };
  }
  if (item) return { assigned: () => ofItem(inUnitOf(item, sources), item.item), items: [item], used: () => [item.source] };
  return {
    assigned: () => fault(`The use ${use} of ${role} says neither item, stack nor at: its value cannot be told.`),
    items: [],
    used: () => sources,
  };
}

const hasCurveAnywhere = (sources: readonly Source[]) => sources.some((x) => hasCurve(x.content));
const isOf = (o: Offered, sources: readonly Source[]) => sources.some((x) => x.standard === o.source.standard);
/** The item's standard in the unit of this use. */
const inUnitOf = (o: Offered, sources: readonly Source[]): Source =>
  sources.find((x) => x.standard === o.source.standard) ?? o.source;

type OnCurve = Assigned & { slope: number; source: Source };

/** On the curve of an item, or of the standards; of several that reach, the less uncertain. */
function curveAt(
  sources: readonly Source[],
  item: Offered | null,
  x: number,
  where: Record<string, number>,
  path: Path,
): OnCurve {
  if (item) return { ...onCurve(inUnitOf(item, sources), item.item, x, where, path), source: item.source };
  const tried = sources.map((source) => {
    try {
      return { ...onCurve(source, source.content, x, where, path), source };
    } catch (error) {
      return error as Error;
    }
  });
  const reached = tried
    .filter((t): t is OnCurve => !(t instanceof Error))
    .sort((a, b) => a.standardUncertainty - b.standardUncertainty);
  if (reached[0]) return reached[0];
  throw tried[0] ?? new DocumentError('Nobody fills this role.', path);
}

/**
 * Ids of the items that a use picks where a scope stands; null where it picks none. @throws DocumentError when there is none
 * @example itemsOfUse(setting, 'blocks', scope) // ['gb-47-6', 'gb-47-1.7']
 */
export function itemsOfUse(s: Setting, use: string, scope: Scope): string[] | null {
  const doc = scope.series?.doc.uses[use];
  if (doc?.stack === undefined && doc?.item === undefined) return null;
  return chooseHere(s, use, scope).items.map((o) => o.item.id);
}

const isStackOf = (scope: Scope, use: string): boolean => scope.series?.doc.uses[use]?.stack !== undefined;

/**
 * A member of a use where a formula stands; an empty stack has no items.
 * @example assignedOf(setting, 'blocks', 'value', scope) // 7.70002
 */
export function assignedOf(s: Setting, use: string, member: string, scope: Scope): number {
  if (member === 'ageYears') return greatestAge(s, use, scope);
  const chosen = chooseHere(s, use, scope);
  const assigned = chosen.assigned;
  switch (member) {
    case 'value':
    case 'nominal':
    case 'correction':
    case 'standardUncertainty':
    case 'dof':
      return assigned()[member];
    case 'items':
      return isStackOf(scope, use) ? chosen.items.length : chosen.items.length || 1;
    case 'joints':
      return Math.max(0, chosen.items.length - 1);
    case 'resolution':
      return stated(
        chosen,
        scope,
        use,
        'resolution',
        (o) => stepInUse(o.source, o.item.resolution),
        (x) => stepInUse(x, x.content.resolution ?? x.standard.resolution),
      );
    default:
      return stated(
        chosen,
        scope,
        use,
        member,
        (o) => o.item.properties?.[member],
        (x) => x.content.properties?.[member] ?? x.standard.properties?.[member],
      );
  }
}

/** The greatest age of the standards used where a formula stands: of a stack, and over readings that used several. */
function greatestAge(s: Setting, use: string, scope: Scope): number {
  const sources = sourcesOf(s, scope.series, use);
  const one = sources.length === 1 && !isStackOf(scope, use) ? sources[0] : undefined;
  if (one) return ageYears(s, one);
  const { series } = scope;
  const readings = scope.used ?? readingsIn(s, scope);
  const places = series
    ? readings.map((reading): Scope => {
        const instance = series.instances.find((i) => i.id === reading.instance) ?? null;
        const point = (instance && pointsOf(s, series, instance).find((p) => p.id === reading.point)) ?? null;
        return { ...scope, instance, point, sweep: reading.sweep, reading, used: undefined };
      })
    : [];
  const used = new Set((places.length ? places : [scope]).flatMap((at) => chooseHere(s, use, at).used()));
  return Math.max(0, ...[...new Set([...used].map((x) => x.standard))].map((standard) => ageYears(s, { standard })));
}

function ageYears(s: Setting, { standard }: Pick<Source, 'standard'>): number {
  const { date } = s.given;
  if (!date) throw new DocumentError('A formula needs the age of a certificate: give the date of the measurement.', ['date']);
  if (!standard.certificate)
    throw new DocumentError(`${standard.identification} has no certificate, so its age cannot be told.`, ['standards']);
  return (Date.parse(date) - Date.parse(standard.certificate.date)) / (365.25 * 86_400_000);
}

/** A property: the item's own, else the part's, else the standard's; of a stack the mean weighted by nominal; of an empty one 0. */
function stated(
  { items, used }: Chosen,
  scope: Scope,
  use: string,
  what: string,
  ofItemStated: (o: Offered) => number | undefined,
  ofSource: (x: Source) => number | undefined,
): number {
  if (isStackOf(scope, use) && items.length === 0) return 0;
  const missing = (identification: string): never => {
    throw new DocumentError(`${identification} does not state ${what}, which the procedure needs. Enter it with the standard.`, [
      'standards',
    ]);
  };
  if (items.length) {
    const values = items.map((o) => ({
      weight: Math.abs(nominalInUse(o.source, o.item)),
      value: ofItemStated(o) ?? ofSource(o.source) ?? missing(o.source.standard.identification),
    }));
    const total = values.reduce((sum, v) => sum + v.weight, 0);
    return total === 0 ? mean(values.map((v) => v.value)) : values.reduce((sum, v) => sum + v.weight * v.value, 0) / total;
  }
  const source = used()[0];
  return (source && ofSource(source)) ?? missing(source?.standard.identification ?? use);
}

/** A use as a function: its value at x, and its slope there. */
export function useSlope(s: Setting, use: string, x: number, scope: Scope): Applied {
  const sources = sourcesOf(s, scope.series, use);
  const doc = scope.series?.doc.uses[use];
  const path = pathOf(scope, use);
  const where = whereOf(s, scope.series, use, { ...scope, path });
  let item: Offered | null = null;
  if (!hasCurveAnywhere(sources)) {
    if (doc?.item !== undefined) {
      const wanted = evaluateText(s, doc.item, { ...scope, path: [...path, 'item'] });
      item = pickItem(offeredItems(sources, {}), wanted, doc.pick ?? 'equal');
      if (!item) throw new Undeterminable(`${use} has no item for ${Number(wanted.toPrecision(9))}.`);
    } else item = scope.point?.item ?? scope.instance?.item ?? null;
  }
  const { value, slope } = curveAt(sources, item, x, where, path);
  return { value, partials: [slope] };
}
