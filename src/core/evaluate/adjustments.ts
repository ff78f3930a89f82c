import { toleranceUsed } from '../conformity/decide';
import { mean } from '../statistics/moments';
import type { AdjustmentDocument } from '../procedure/document-schema';
import { aggregateEntries, judgeAggregate } from './aggregates';
import { DocumentError, ifHad, LeftOut } from './faults';
import { namedPoint } from './names';
import { judge, resultAt, ruleFor } from './results';
import {
  evaluateText,
  isIn,
  noScope,
  numberOf,
  pointsOf,
  toStep,
  type Instance,
  type Path,
  type Point,
  type Scope,
  type Series,
  type Setting,
} from './setting';

export type AdjustmentAdvice = {
  id: string;
  each?: string | null;
  wanted: boolean;
  proposed: Record<string, number>;
  remaining: number | null;
};

/** One value that shows whether an adjustment is wanted, with where it stands. */
type Shown = {
  value: number;
  x: number | undefined;
  point: Point | null;
  instance: Instance | null;
  limits: { lower?: number; upper?: number } | undefined;
};

/** Every value that an adjustment is judged by, in the series that show it. */
function shownBy(s: Setting, doc: AdjustmentDocument, set: string, only: Instance | null, path: Path): Shown[] {
  return doc.of.flatMap((id): Shown[] => {
    const series = s.series.get(id);
    if (!series) return [];
    const symbol = doc.result ?? series.doc.results[0]?.symbol;
    const result = series.doc.results.find((r) => r.symbol === symbol);
    if (result) {
      const sweeps = result.over?.includes('sweeps') || series.sweeps === null ? [null] : series.sweeps.map((w) => w.id);
      return instancesOf(series, only).flatMap((instance) =>
        pointsOf(s, series, instance).flatMap((point) =>
          sweeps.flatMap((sweep): Shown[] => {
            const scope: Scope = { ...noScope(set, path), series, instance, point, sweep };
            const had = ifHad(() => resultAt(s, series, result, scope));
            if (!had) return [];
            const { judged } = judge(s, result, had.budget.estimate, ruleFor(s, series, result.decisionRule), had.budget, had, {
              ...had.scope,
              own: { [result.symbol]: had.budget.estimate },
            });
            return [{ value: had.budget.estimate, x: point.nominal ?? had.reference, point, instance, limits: judged?.limits }];
          }),
        ),
      );
    }
    const aggregate = series.doc.aggregates.find((a) => a.id === symbol);
    if (!aggregate) throw new DocumentError(`"${symbol}" is neither a result nor an aggregate of ${id}.`, [...path, 'result']);
    return (ifHad(() => aggregateEntries(s, series, aggregate.id, set)) ?? [])
      .filter((e) => only === null || e.instance === null || e.instance.id === only.id)
      .map((entry): Shown => ({
        value: entry.value,
        x: entry.point?.nominal,
        point: entry.point,
        instance: entry.instance,
        limits: judgeAggregate(s, series, aggregate, entry).limits,
      }));
  });
}

const instancesOf = (series: Series, only: Instance | null): Instance[] =>
  only === null ? series.instances : series.instances.filter((i) => i.id === only.id);

const beyond = (magnitude: number, limit: number): boolean =>
  magnitude > limit && magnitude - limit > 1e-9 * Math.max(magnitude, Math.abs(limit));

const isOutside = ({ value, limits }: Shown): boolean =>
  limits !== undefined &&
  ((limits.upper !== undefined && value > limits.upper && beyond(value - limits.upper, 1e-9 * Math.abs(limits.upper))) ||
    (limits.lower !== undefined && value < limits.lower && beyond(limits.lower - value, 1e-9 * Math.abs(limits.lower))));

function isWanted(s: Setting, doc: AdjustmentDocument, shown: readonly Shown[], scope: Scope): boolean {
  const policy = doc.policy ?? { kind: 'never-while-inside' as const };
  switch (policy.kind) {
    case 'never-while-inside':
      return shown.some(isOutside);
    case 'beyond-share':
      return shown.some(({ value, limits }) => {
        const used = limits ? toleranceUsed(value, { lower: limits.lower ?? null, upper: limits.upper ?? null }) : null;
        return used !== null && beyond(used, policy.share);
      });
    case 'always-centre':
      return shown.some(({ value }) => Math.abs(value) > 0);
    case 'beyond': {
      const limit = evaluateText(s, policy.is, { ...scope, path: [...scope.path, 'policy', 'is'] });
      return shown.some(({ value }) => beyond(Math.abs(value), limit));
    }
  }
}

/** The greatest magnitude that would be left at points that took no part, by what this kind of adjustment takes away. */
function remainingOf(
  s: Setting,
  doc: AdjustmentDocument,
  series: Series | undefined,
  shown: readonly Shown[],
  scope: Scope,
): number | null {
  if (!series || !doc.takes) return null;
  const took = partTakers(s, doc, series, shown, scope);
  const rest = shown.filter((v) => !took.includes(v));
  if (took.length === 0 || rest.length === 0) return null;
  const correction = takenAway(doc.kind, took);
  return correction ? Math.max(...rest.map((v) => Math.abs(v.value - correction(v.x ?? 0)))) : null;
}

/** The points that an adjustment takes part of; all of them where the document names none. */
function partTakers(
  s: Setting,
  doc: AdjustmentDocument,
  series: Series,
  shown: readonly Shown[],
  scope: Scope,
): readonly Shown[] {
  if (!doc.takes) return shown;
  const taken = new Set(
    doc.takes.flatMap((name) =>
      instancesOf(series, scope.instance).flatMap(
        (instance) => ifHad(() => namedPoint(s, series, { ...scope, series, instance }, name)) ?? [],
      ),
    ),
  );
  return shown.filter((v) => v.point !== null && taken.has(v.point));
}

/** What an adjustment of a kind takes away at x, from the points that take part; null where a formula cannot tell. */
function takenAway(kind: AdjustmentDocument['kind'], took: readonly Shown[]): ((x: number) => number) | null {
  const offset = mean(took.map((v) => v.value));
  if (kind === 'offset') return () => offset;
  const xs = took.map((v) => v.x ?? 0);
  if (kind === 'span' || kind === 'percent') {
    const squares = xs.reduce((sum, x) => sum + x * x, 0);
    const slope = squares === 0 ? 0 : took.reduce((sum, v, i) => sum + v.value * xs[i]!, 0) / squares;
    return (x) => slope * x;
  }
  if (kind !== 'offset-and-span') return null;
  const middle = mean(xs);
  const squares = xs.reduce((sum, x) => sum + (x - middle) ** 2, 0);
  const slope = squares === 0 ? 0 : took.reduce((sum, v, i) => sum + (v.value - offset) * (xs[i]! - middle), 0) / squares;
  return (x) => offset + slope * (x - middle);
}

/** Points that are set in turn until all are within, in the unit of the result. */
export type AdjustmentRounds = { points: Point[]; within: number; most: number };

/** What would be left at one value if what an adjustment of this kind takes away were taken away; in the unit of the result. */
export type LeftValue = { value: number; point: Point | null; instance: Instance | null; isOutside: boolean };

function worstLeft(shown: readonly Shown[], correction: (x: number) => number): LeftValue {
  const left = shown.map((v) => {
    const after = { ...v, value: v.value - correction(v.x ?? 0) };
    const used = v.limits ? toleranceUsed(after.value, { lower: v.limits.lower ?? null, upper: v.limits.upper ?? null }) : null;
    return { after, used, isOutside: isOutside(after) };
  });
  const { after, isOutside: outside } = left.reduce((worst, v) =>
    v.used !== null && worst.used !== null
      ? v.used > worst.used
        ? v
        : worst
      : Math.abs(v.after.value) > Math.abs(worst.after.value)
        ? v
        : worst,
  );
  return { value: after.value, point: after.point, instance: after.instance, isOutside: outside };
}

/** What an adjustment would do, and what it is judged by. */
export type AdjustmentOutlook = {
  doc: AdjustmentDocument;
  advice: AdjustmentAdvice;
  /** The greatest |result| now. */ present: number;
  /** The greatest |result| that would be left at all points if what this kind takes away were taken away; null where a formula cannot tell. */
  estimate: number | null;
  /** Where most of the tolerance would be used after it, or most would be left where there is none; null where a formula cannot tell. */
  worst: LeftValue | null;
  /** The narrowest limit that is touched; null where none is. */ limit: number | null;
  /** The greatest share of the tolerance used now; null where none can be told. */ used: number | null;
  /** Null where it is set once. */ rounds: AdjustmentRounds | null;
};

/** What each adjustment of the document would do in this set. */
export const adjustmentsOf = (s: Setting, set: string): AdjustmentAdvice[] => adjustmentOutlooks(s, set).map((o) => o.advice);

/** The same with what it is judged by, for the person who decides. */
export function adjustmentOutlooks(s: Setting, set: string): AdjustmentOutlook[] {
  return s.doc.adjustments.flatMap((doc, i): AdjustmentOutlook[] => {
    const path = ['procedure', 'adjustments', i];
    const base = noScope(set, path);
    if (!isIn(s, doc.when, base)) return [];
    const first = doc.of.map((id) => s.series.get(id)).find((x) => x !== undefined);
    if (!first) return [];
    const each = doc.separately ? first.instances : [null];
    return each.flatMap((instance): AdjustmentOutlook[] => {
      const shown = shownBy(s, doc, set, instance, path);
      if (shown.length === 0) return [];
      const scope: Scope = {
        ...base,
        series: first,
        instance: instance ?? (first.instances.length === 1 ? first.instances[0]! : null),
      };
      const correction = takenAway(doc.kind, shown);
      const took = partTakers(s, doc, first, shown, scope);
      const taken = took.length > 0 ? takenAway(doc.kind, took) : null;
      const limits = shown.flatMap(({ limits: l }) =>
        [l?.lower, l?.upper].flatMap((x) => (x === undefined ? [] : [Math.abs(x)])),
      );
      const used = shown.flatMap(({ value, limits: l }) =>
        l ? (toleranceUsed(value, { lower: l.lower ?? null, upper: l.upper ?? null }) ?? []) : [],
      );
      return [
        {
          doc,
          advice: {
            id: doc.id,
            ...(doc.separately && instance!.id !== null ? { each: instance!.id } : {}),
            wanted: isWanted(s, doc, shown, scope),
            proposed: proposedBy(s, doc, scope),
            remaining: remainingOf(s, doc, first, shown, scope),
          },
          present: Math.max(...shown.map((v) => Math.abs(v.value))),
          estimate: correction ? Math.max(...shown.map((v) => Math.abs(v.value - correction(v.x ?? 0)))) : null,
          worst: taken && worstLeft(shown, taken),
          limit: limits.length ? Math.min(...limits) : null,
          used: used.length ? Math.max(...used) : null,
          rounds: roundsOf(s, doc, first, scope),
        },
      ];
    });
  });
}

function roundsOf(s: Setting, { rounds }: AdjustmentDocument, series: Series, scope: Scope): AdjustmentRounds | null {
  if (!rounds) return null;
  const at: Scope = { ...scope, path: [...scope.path, 'rounds'] };
  const points = rounds.points.flatMap((name) => ifHad(() => namedPoint(s, series, at, name)) ?? []);
  const within = ifHad(() => numberOf(s, rounds.within, at));
  return points.length === 0 || within === undefined ? null : { points, within, most: rounds.most };
}

function proposedBy(s: Setting, doc: AdjustmentDocument, scope: Scope): Record<string, number> {
  return Object.fromEntries(
    doc.stored.flatMap((stored, i) => {
      const at: Scope = { ...scope, path: [...scope.path, 'stored', i] };
      if (stored.proposed === undefined) return [];
      let value: number | undefined;
      try {
        value = ifHad(() => numberOf(s, stored.proposed!, at));
      } catch (error) {
        if (!(error instanceof LeftOut)) throw error;
      }
      if (value === undefined) return [];
      if (stored.step !== undefined) value = toStep(value, numberOf(s, stored.step, at));
      if (stored.lower !== undefined) value = Math.max(value, numberOf(s, stored.lower, at));
      if (stored.upper !== undefined) value = Math.min(value, numberOf(s, stored.upper, at));
      return [[stored.id, value]];
    }),
  );
}
