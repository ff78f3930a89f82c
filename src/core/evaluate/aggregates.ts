import type { Verdict } from '../conformity/decide';
import type { AggregateDocument } from '../procedure/document-schema';
import { mean, standardDeviation } from '../statistics/moments';
import type { BudgetResult } from '../uncertainty/propagate';
import { Absent, DocumentError, ifHad, LeftOut, Undeterminable } from '../faults';
import { onceNotOfItself } from './once';
import { fitsOf, memberKey } from './fits';
import { groupsOf, type Group, type Member } from './groups';
import { namedPoint } from './names/at';
import { valueOf } from './names/registry';
import { ofReading } from './readings';
import { budgetAt, judge, ruleFor, shownNumber, type ShownLimits } from './results';
import {
  evaluateText,
  isIn,
  numberOf,
  type Instance,
  type Path,
  type Point,
  type Scope,
  type Series,
  type Setting,
} from './setting';
import { isStillToCome, type Undetermined } from './undetermined';

export type AggregateEntry = {
  instance: Instance | null;
  point: Point | null;
  sweep: string | null;
  /** Of what can be had; null where nothing can. */ value: number | null;
  /** Why it cannot be told as a whole: what it runs through is not determined somewhere, or waits. */ unknown: Absent | null;
  scope: Scope;
};

/** The entries of an aggregate in a set, one for each thing that `over` leaves. @throws LeftOut when it is left out */
export function aggregateEntries(s: Setting, series: Series, id: string, set: string): AggregateEntry[] {
  const key = `aggregate|${set}|${series.doc.id}|${id}`;
  const index = series.doc.aggregates.findIndex((a) => a.id === id);
  const path = [...series.path, 'aggregates', index];
  return onceNotOfItself(s.memo, key, `The aggregate ${id} depends on itself.`, path, () =>
    workOut(s, series, series.doc.aggregates[index]!, set, path),
  );
}

function workOut(s: Setting, series: Series, doc: AggregateDocument, set: string, path: Path): AggregateEntry[] {
  const groups = groupsOf(s, series, { over: runsThrough(series, doc), among: doc.among }, set, path);
  const entries = groups.flatMap((group): AggregateEntry[] => {
    const { instance, point, sweep, scope } = group;
    if (!isIn(s, doc.when, { ...scope, path })) return [];
    const entry = (value: number | null, unknown: Absent | null) => [{ instance, point, sweep, value, unknown, scope }];
    try {
      if (doc.is !== undefined) return entry(evaluateText(s, doc.is, { ...scope, path: [...path, 'is'] }), null);
      const { value, unknown } = statisticOf(s, series, doc, group, path);
      return value === undefined && !unknown ? [] : entry(value ?? null, unknown);
    } catch (error) {
      if (error instanceof LeftOut) return [];
      if (error instanceof Absent) return entry(null, error);
      throw error;
    }
  });
  // Left out wherever it could stand: what names it is left out too.
  if (groups.length > 0 && entries.length === 0) throw new LeftOut(`aggregate ${doc.id}`);
  return entries;
}

/** What an aggregate has run through in the end: its own dimensions, and those that what it is of has run through before. */
function runsThrough(series: Series, doc: AggregateDocument, depth = 0): string[] {
  const inner = series.doc.aggregates.find((a) => a.id === doc.of);
  const result = series.doc.results.find((r) => r.symbol === doc.of);
  // Aggregates that are of each other are told as such where they are worked out.
  const before = inner && depth < series.doc.aggregates.length ? runsThrough(series, inner, depth + 1) : (result?.over ?? []);
  return [...new Set([...doc.over, ...before])];
}

type Valued = { member: Member; value: number };

/** What a statistic runs over: values in the order of the plan, and what is not determined or waits among them. */
type Values = { items: Valued[]; unknown: Absent | null };

function valuesIn(s: Setting, series: Series, of: string, group: Group, path: Path): Values {
  let unknown: Absent | null = null;
  const isHad = <T>(work: () => T): T | undefined => {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof Absent)) throw error;
      // A statistic runs over what is there; while the set is being read, also over what has been read so far.
      if (!(error instanceof LeftOut) && !isStillToCome(s, error)) unknown ??= error;
      return undefined;
    }
  };
  const nested = series.doc.aggregates.find((a) => a.id === of);
  const overSweeps = series.doc.results.find((r) => r.symbol === of)?.over?.includes('sweeps') ?? false;
  const seen = new Set<string>();
  const inner = nested ? (isHad(() => aggregateEntries(s, series, of, group.scope.set)) ?? []) : [];
  const items = group.members.flatMap((member): Valued[] => {
    const scope: Scope = { ...group.scope, ...member.scope, own: {}, used: undefined, path };
    if (nested || overSweeps) {
      // Several members share one value of what has run through them already.
      const entry = nested
        ? inner.find(
            (e) =>
              (e.instance === null || e.instance === member.instance) &&
              (e.point === null || e.point.id === member.point.id) &&
              (e.sweep === null || e.sweep === member.sweep),
          )
        : undefined;
      const id = nested
        ? `${entry?.instance?.id ?? ''}|${entry?.point?.id ?? ''}|${entry?.sweep ?? ''}`
        : `${member.instance.id ?? ''}|${member.point.id}`;
      if (seen.has(id) || (nested && !entry)) return [];
      seen.add(id);
      if (entry) {
        const value = isHad(() => {
          if (entry.unknown) throw entry.unknown;
          return entry.value!;
        });
        return value === undefined ? [] : [{ member, value }];
      }
    }
    const value = isHad(() => (member.scope.reading ? ofMember(s, series, of, scope) : valueOf(s, of, scope)));
    return value === undefined ? [] : [{ member, value }];
  });
  return { items, unknown };
}

/** One repeat's value of an observation or computed value; of anything else the value of its cell. */
function ofMember(s: Setting, series: Series, of: string, scope: Scope): number {
  const isReading = series.doc.observe.some((o) => o.id === of) || series.doc.computed.some((c) => c.id === of);
  return isReading ? ofReading(s, series, scope.reading!, of, scope) : valueOf(s, of, { ...scope, reading: null });
}

/** The first of the greatest by a measure: equal magnitudes are told apart by the plan alone. */
function firstGreatest(values: readonly number[], measure: (v: number) => number): number {
  let best = values[0]!;
  for (const v of values) {
    const [a, b] = [measure(v), measure(best)];
    if (a > b && a - b > 1e-9 * Math.max(Math.abs(a), Math.abs(b))) best = v;
  }
  return best;
}

function statisticOf(
  s: Setting,
  series: Series,
  doc: AggregateDocument,
  group: Group,
  path: Path,
): { value: number | undefined; unknown: Absent | null } {
  if (doc.statistic === 'greatest-residual') return { value: residualOf(s, series, doc, group, path), unknown: null };
  const { items, unknown } = valuesIn(s, series, doc.of!, group, path);
  return { value: items.length === 0 ? undefined : statisticOver(s, series, doc, items, group, path), unknown };
}

function statisticOver(
  s: Setting,
  series: Series,
  doc: AggregateDocument,
  items: readonly Valued[],
  group: Group,
  path: Path,
): number | undefined {
  const values = items.map((i) => i.value);
  switch (doc.statistic!) {
    case 'greatest-residual':
      return undefined;
    case 'mean':
      return mean(values);
    case 'standard-deviation':
      if (values.length < 2) throw new Absent(`standard deviation of ${doc.of}: one value has none`);
      return standardDeviation(values);
    case 'range':
      return Math.max(...values) - Math.min(...values);
    case 'least':
      return Math.min(...values);
    case 'greatest':
      return Math.max(...values);
    case 'count':
      return values.length;
    case 'greatest-magnitude':
      return firstGreatest(values, Math.abs);
    case 'greatest-deviation-from':
      return deviationFrom(s, series, doc, items, group, path);
    case 'greatest-change':
      return greatestChange(s, doc, items, group, path);
    case 'greatest-step':
      return greatestStep(items);
  }
}

function residualOf(s: Setting, series: Series, doc: AggregateDocument, group: Group, path: Path): number | undefined {
  const fit = series.doc.fits.find((f) => f.id === doc.fit);
  if (!fit) throw new DocumentError(`"${doc.fit}" is not a fit of this series.`, [...path, 'fit']);
  const fits = fitsOf(s, series, fit, group.scope.set);
  const residuals = group.members.flatMap((m) => {
    const own = fits.find(
      (f) =>
        (f.instance === null || f.instance === m.instance) &&
        (f.point === null || f.point.id === m.point.id) &&
        (f.sweep === null || f.sweep === m.sweep),
    );
    if (own?.unknown) throw own.unknown;
    const found = own?.residualOf.get(memberKey(m));
    return found === undefined ? [] : [found];
  });
  return residuals.length ? firstGreatest(residuals, Math.abs) : undefined;
}

function deviationFrom(
  s: Setting,
  series: Series,
  doc: AggregateDocument,
  items: readonly Valued[],
  group: Group,
  path: Path,
): number | undefined {
  const deviations = items.flatMap(({ member, value }) => {
    const from = namedPoint(s, series, { ...group.scope, instance: member.instance, path: [...path, 'from'] }, doc.from!);
    // What it deviates from must be had: left out, it takes the aggregate with it.
    const base = valueOf(s, doc.of!, {
      ...group.scope,
      instance: member.instance,
      sweep: member.sweep,
      point: from,
      reading: null,
      own: {},
      path,
    });
    return [value - base];
  });
  return deviations.length ? firstGreatest(deviations, Math.abs) : undefined;
}

/** The most values among which pairs are sought, so that the work stays bounded. */
const mostPaired = 3000;

function greatestChange(
  s: Setting,
  doc: AggregateDocument,
  items: readonly Valued[],
  group: Group,
  path: Path,
): number | undefined {
  if (items.length > mostPaired) throw new DocumentError(`A greatest change runs over at most ${mostPaired} values.`, path);
  const within = numberOf(s, doc.within!, { ...group.scope, path: [...path, 'within'] });
  const placed = items.map(({ member, value }) => ({
    value,
    x: evaluateText(s, doc.x!, { ...group.scope, ...member.scope, used: undefined, path: [...path, 'x'] }),
  }));
  let greatest: number | undefined;
  for (let i = 0; i < placed.length; i++)
    for (let j = i + 1; j < placed.length; j++) {
      const apart = Math.abs(placed[i]!.x - placed[j]!.x);
      if (apart - within > 1e-9 * Math.max(apart, within)) continue;
      greatest = Math.max(greatest ?? 0, Math.abs(placed[i]!.value - placed[j]!.value));
    }
  return greatest;
}

/** Between neighbours in one sweep, in the order in which they are read. */
function greatestStep(items: readonly Valued[]): number | undefined {
  const runs = new Map<string, number[]>();
  for (const { member, value } of items) {
    const key = `${member.instance.id ?? ''}|${member.sweep ?? ''}`;
    runs.set(key, [...(runs.get(key) ?? []), value]);
  }
  const steps = [...runs.values()].flatMap((run) => run.slice(1).map((v, i) => Math.abs(v - run[i]!)));
  return steps.length ? Math.max(...steps) : undefined;
}

export type JudgedAggregate = {
  value: number;
  result: BudgetResult | null;
  /** Shown beside the result of a budget of its own. */ reference?: number;
  indication?: number;
  limits?: ShownLimits;
  acceptance?: ShownLimits;
  verdict?: Verdict;
  toleranceUsed?: number | null;
  schools?: Record<string, { limits: ShownLimits; verdict?: Verdict }>;
};

/** Statistics that can only grow with what is not determined: to which side. */
const growing: Partial<Record<NonNullable<AggregateDocument['statistic']>, 'upper' | 'lower' | 'both'>> = {
  range: 'upper',
  'greatest-step': 'upper',
  'greatest-change': 'upper',
  'greatest-magnitude': 'both',
  'greatest-deviation-from': 'both',
  greatest: 'upper',
  least: 'lower',
};

/** Whether what is known alone puts a statistic outside, whatever the rest is. */
function isOutsideAlready(doc: AggregateDocument, { value, limits }: JudgedAggregate): boolean {
  const grows = doc.statistic && growing[doc.statistic];
  if (!grows || !limits) return false;
  const isAbove = limits.upper !== undefined && value > limits.upper && !isEqual(value, limits.upper);
  const isBelow = limits.lower !== undefined && value < limits.lower && !isEqual(value, limits.lower);
  return (grows !== 'lower' && isAbove) || (grows !== 'upper' && isBelow);
}

const isEqual = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-9 * Math.max(Math.abs(a), Math.abs(b));

/**
 * An aggregate judged: without uncertainty by simple acceptance, or with its own budget by the rule. What is not determined among
 * what it runs through leaves it so, unless the rest alone puts it outside. Null where it is left out, or is still to come.
 */
export function judgeAggregate(
  s: Setting,
  series: Series,
  doc: AggregateDocument,
  entry: AggregateEntry,
): JudgedAggregate | Undetermined | null {
  const isJudged = (doc.tolerance ?? doc.tolerances) !== undefined;
  const notHad = (error: Absent): Undetermined | null =>
    error instanceof LeftOut || isStillToCome(s, error) || (!isJudged && !(error instanceof Undeterminable))
      ? null
      : { verdict: 'not-determined', why: error.message };
  try {
    if (entry.value === null) return notHad(entry.unknown!);
    const known = judgeKnown(s, series, doc, entry, entry.value);
    return entry.unknown === null || isOutsideAlready(doc, known) ? known : notHad(entry.unknown);
  } catch (error) {
    if (error instanceof Absent) return notHad(error);
    throw error;
  }
}

function judgeKnown(
  s: Setting,
  series: Series,
  doc: AggregateDocument,
  entry: AggregateEntry,
  statistic: number,
): JudgedAggregate {
  const path = [...series.path, 'aggregates', series.doc.aggregates.indexOf(doc)];
  const scope: Scope = { ...entry.scope, own: { [doc.id]: statistic }, path };
  const budget = doc.result ? aggregateBudget(s, doc, scope) : null;
  const value = budget?.estimate ?? statistic;
  const shown = {
    reference: doc.result && shownNumber(s, doc.result, 'reference', scope),
    indication: doc.result && shownNumber(s, doc.result, 'indication', scope),
  };
  const { judged, schools } = judge(
    s,
    doc.result ? { ...doc, reference: doc.result.reference, indication: doc.result.indication } : doc,
    value,
    budget ? ruleFor(s, series, doc.decisionRule) : { kind: 'simple' },
    budget ?? { expandedUncertainty: 0, coverageFactor: 1, effectiveDof: null },
    shown,
    { ...scope, own: { [doc.id]: value } },
  );
  return {
    value: statistic,
    result: budget,
    ...(shown.reference === undefined ? {} : { reference: shown.reference }),
    ...(shown.indication === undefined ? {} : { indication: shown.indication }),
    ...(judged
      ? {
          limits: judged.limits,
          ...(budget ? { acceptance: judged.acceptance } : {}),
          verdict: judged.verdict,
          toleranceUsed: judged.toleranceUsed,
        }
      : {}),
    ...(schools ? { schools } : {}),
  };
}

function aggregateBudget(s: Setting, doc: AggregateDocument, scope: Scope): BudgetResult | null {
  const { result } = doc;
  if (!result) return null;
  // The statistic's value is a quantity of the budget where the model names it and no quantity does.
  const names = result.quantities.some((q) => q.symbol === doc.id);
  const quantities = names
    ? result.quantities
    : [
        ...result.quantities,
        { symbol: doc.id, unit: '1', distribution: { type: 'constant' as const, value: scope.own[doc.id]! } },
      ];
  const at: Scope = { ...scope, path: [...scope.path, 'result'] };
  // One that only informs is shown without its uncertainty where that cannot be had.
  if ((doc.tolerance ?? doc.tolerances) === undefined) return ifHad(() => budgetAt(s, { ...result, quantities }, at)) ?? null;
  return budgetAt(s, { ...result, quantities }, at);
}
