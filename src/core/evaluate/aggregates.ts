import type { Verdict } from '../conformity/decide';
import type { AggregateDocument } from '../procedure/document-schema';
import { mean, standardDeviation } from '../statistics/moments';
import type { BudgetResult } from '../uncertainty/propagate';
import { Absent, DocumentError, ifHad, LeftOut } from './faults';
import { fitsOf, memberKey } from './fits';
import { groupsOf, type Group, type Member } from './groups';
import { namedPoint, ofReading, valueOf } from './names';
import { budgetAt, judge, ruleFor, type ShownLimits } from './results';
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

export type AggregateEntry = {
  instance: Instance | null;
  point: Point | null;
  sweep: string | null;
  value: number;
  scope: Scope;
};

/** The entries of an aggregate in a set, one for each thing that `over` leaves. @throws LeftOut when it is left out */
export function aggregateEntries(s: Setting, series: Series, id: string, set: string): AggregateEntry[] {
  const key = `aggregate|${set}|${series.doc.id}|${id}`;
  const known = s.memo.get(key);
  if (known instanceof Error) throw known;
  if (known) return known as AggregateEntry[];
  const index = series.doc.aggregates.findIndex((a) => a.id === id);
  const path = [...series.path, 'aggregates', index];
  s.memo.set(key, new DocumentError(`The aggregate ${id} depends on itself.`, path));
  try {
    const entries = workOut(s, series, series.doc.aggregates[index]!, set, path);
    s.memo.set(key, entries);
    return entries;
  } catch (error) {
    s.memo.set(key, error);
    throw error;
  }
}

function workOut(s: Setting, series: Series, doc: AggregateDocument, set: string, path: Path): AggregateEntry[] {
  if (
    doc.when !== undefined &&
    !isIn(s, doc.when, { set, series, instance: null, point: null, sweep: null, reading: null, own: {}, path })
  )
    throw new LeftOut(`aggregate ${doc.id}`);
  return groupsOf(s, series, { over: runsThrough(series, doc), among: doc.among }, set, path).flatMap(
    (group): AggregateEntry[] => {
      let value: number | undefined;
      try {
        value =
          doc.is !== undefined
            ? evaluateText(s, doc.is, { ...group.scope, path: [...path, 'is'] })
            : statisticOf(s, series, doc, group, path);
      } catch (error) {
        if (error instanceof LeftOut || !(error instanceof Absent)) throw error;
      }
      const { instance, point, sweep, scope } = group;
      return value === undefined ? [] : [{ instance, point, sweep, value, scope }];
    },
  );
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

/** What a statistic runs over: values in the order of the plan. */
function valuesIn(s: Setting, series: Series, of: string, group: Group, path: Path): Valued[] {
  const nested = series.doc.aggregates.find((a) => a.id === of);
  const overSweeps = series.doc.results.find((r) => r.symbol === of)?.over?.includes('sweeps') ?? false;
  const seen = new Set<string>();
  return group.members.flatMap((member): Valued[] => {
    const scope: Scope = { ...group.scope, ...member.scope, own: {}, used: undefined, path };
    if (nested || overSweeps) {
      // Several members share one value of what has run through them already.
      const entry = nested
        ? aggregateEntries(s, series, of, scope.set).find(
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
      if (entry) return [{ member, value: entry.value }];
    }
    const value = ifHadButLeftOut(() => (member.scope.reading ? ofMember(s, series, of, scope) : valueOf(s, of, scope)));
    return value === undefined ? [] : [{ member, value }];
  });
}

/** A value where it can be had; what is left out takes the aggregate with it. */
function ifHadButLeftOut<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (error instanceof LeftOut || !(error instanceof Absent)) throw error;
    return undefined;
  }
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

function statisticOf(s: Setting, series: Series, doc: AggregateDocument, group: Group, path: Path): number | undefined {
  if (doc.statistic === 'greatest-residual') return residualOf(s, series, doc, group, path);
  const items = valuesIn(s, series, doc.of!, group, path);
  const values = items.map((i) => i.value);
  if (values.length === 0) return undefined;
  switch (doc.statistic!) {
    case 'mean':
      return mean(values);
    case 'standard-deviation':
      return values.length < 2 ? undefined : standardDeviation(values);
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
    const base = ifHadButLeftOut(() =>
      valueOf(s, doc.of!, {
        ...group.scope,
        instance: member.instance,
        sweep: member.sweep,
        point: from,
        reading: null,
        own: {},
        path,
      }),
    );
    return base === undefined ? [] : [value - base];
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
  limits?: ShownLimits;
  acceptance?: ShownLimits;
  verdict?: Verdict;
  toleranceUsed?: number | null;
  schools?: Record<string, { limits: ShownLimits; verdict?: Verdict }>;
};

/** An aggregate judged: without uncertainty by simple acceptance, or with its own budget by the rule. */
export function judgeAggregate(s: Setting, series: Series, doc: AggregateDocument, entry: AggregateEntry): JudgedAggregate {
  const path = [...series.path, 'aggregates', series.doc.aggregates.indexOf(doc)];
  const scope: Scope = { ...entry.scope, own: { [doc.id]: entry.value }, path };
  const budget = doc.result ? aggregateBudget(s, doc, scope) : null;
  const value = budget?.estimate ?? entry.value;
  const { judged, schools } = judge(
    s,
    doc,
    value,
    budget ? ruleFor(s, series, doc.decisionRule) : { kind: 'simple' },
    budget ?? { expandedUncertainty: 0, coverageFactor: 1, effectiveDof: null },
    { reference: undefined, indication: undefined },
    { ...scope, own: { [doc.id]: value } },
  );
  return {
    value: entry.value,
    result: budget,
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
  return ifHad(() => budgetAt(s, { ...result, quantities }, { ...scope, path: [...scope.path, 'result'] })) ?? null;
}
