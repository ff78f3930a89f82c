import { toleranceUsed } from '../conformity/decide';
import { mean } from '../statistics/moments';
import type { AdjustmentDocument, Num } from '../procedure/document-schema';
import { aggregateEntries, judgeAggregate } from './aggregates';
import { ifHad, LeftOut } from '../faults';
import { ownForm, stepInOwn } from './own-unit';
import { namedPoint } from './names/at';
import { evaluatedResult } from './evaluate';
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
import { isDetermined, type Undetermined } from './undetermined';

export type AdjustmentAdvice = {
  id: string;
  each?: string | null;
  /** Null where what is known does not want it and something is not determined. */ wanted: boolean | null;
  /** What is not determined, where that decides. */ why?: string;
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

/** What an adjustment is judged by: values; whether a reading at the end of its scale is outside already; what is not determined. */
type Evidence = { shown: Shown[]; isOffScale: boolean; why: string | undefined };

/** Every value that an adjustment is judged by, in the series that show it; a series that lacks its result has no say. */
function evidenceOf(s: Setting, doc: AdjustmentDocument, set: string, only: Instance | null, path: Path): Evidence {
  const evidence: Evidence = { shown: [], isOffScale: false, why: undefined };
  const undetermined = ({ verdict, why }: Undetermined): void => {
    if (verdict === 'fail') evidence.isOffScale = true;
    else evidence.why ??= why;
  };
  for (const id of doc.of) {
    const series = s.series.get(id);
    if (!series) continue;
    const symbol = doc.result ?? series.doc.results[0]?.symbol;
    const result = series.doc.results.find((r) => r.symbol === symbol);
    const aggregate = series.doc.aggregates.find((a) => a.id === symbol);
    if (result) {
      const sweeps = result.over?.includes('sweeps') || series.sweeps === null ? [null] : series.sweeps.map((w) => w.id);
      for (const instance of instancesOf(series, only))
        for (const point of pointsOf(s, series, instance))
          for (const sweep of sweeps) {
            const had = evaluatedResult(s, series, result, { ...noScope(set, path), series, instance, point, sweep });
            if (!had) continue;
            if (isDetermined(had))
              evidence.shown.push({
                value: had.estimate,
                x: had.reference ?? point.nominal,
                point,
                instance,
                limits: had.limits,
              });
            else undetermined(had);
          }
    } else if (aggregate)
      for (const entry of ifHad(() => aggregateEntries(s, series, aggregate.id, set)) ?? []) {
        if (only !== null && entry.instance !== null && entry.instance.id !== only.id) continue;
        const judged = judgeAggregate(s, series, aggregate, entry);
        if (!judged) continue;
        if (isDetermined(judged))
          evidence.shown.push({
            value: judged.value,
            x: judged.reference ?? entry.point?.nominal,
            point: entry.point,
            instance: entry.instance,
            limits: judged.limits,
          });
        else undetermined(judged);
      }
  }
  return evidence;
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
  shown: readonly Shown[],
  took: readonly Shown[],
  scope: Scope,
): number | null {
  if (!doc.takes) return null;
  const rest = shown.filter((v) => !took.includes(v));
  if (took.length === 0 || rest.length === 0) return null;
  const correction = takenAway(s, doc, took, scope);
  if (!correction) return null;
  const left = rest.map((v) => v.value - correction(v.x ?? NaN));
  return left.some(Number.isNaN) ? null : Math.max(...left.map(Math.abs));
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

/**
 * What an adjustment of a kind takes away at x: fitted by least squares to the results that take part, x being the reference where it
 * is stated, else the nominal. Null where a formula cannot tell.
 */
function takenAway(s: Setting, doc: AdjustmentDocument, took: readonly Shown[], scope: Scope): ((x: number) => number) | null {
  const offset = mean(took.map((v) => v.value));
  const { kind } = doc;
  if (kind === 'offset' || (kind === 'percent' && isInPercent(doc, scope.series))) return () => offset;
  if (!['span', 'percent', 'offset-and-span'].includes(kind)) return null;
  if (took.some((v) => v.x === undefined)) return null;
  const xs = took.map((v) => v.x!);
  if (kind !== 'offset-and-span') {
    const turn = doc.about === undefined ? 0 : ifHad(() => numberOf(s, doc.about!, { ...scope, path: [...scope.path, 'about'] }));
    if (turn === undefined) return null;
    const squares = xs.reduce((sum, x) => sum + (x - turn) ** 2, 0);
    const slope = squares === 0 ? 0 : took.reduce((sum, v, i) => sum + v.value * (xs[i]! - turn), 0) / squares;
    return (x) => slope * (x - turn);
  }
  const middle = mean(xs);
  const squares = xs.reduce((sum, x) => sum + (x - middle) ** 2, 0);
  const slope = squares === 0 ? 0 : took.reduce((sum, v, i) => sum + (v.value - offset) * (xs[i]! - middle), 0) / squares;
  return (x) => offset + slope * (x - middle);
}

/**
 * What an adjustment of a kind takes away at x, of the values that a set shows, with the series that it moves and the unit of what it
 * takes away; null where a formula cannot tell.
 * @example takenBy(setting, document.adjustments[0], 'as-found', null).by(10) // 0.002964
 */
export function takenBy(
  s: Setting,
  doc: AdjustmentDocument,
  set: string,
  each: string | null,
): { by: (x: number) => number; series: string[]; unit: unknown } | null {
  const path = ['procedure', 'adjustments', s.doc.adjustments.indexOf(doc)];
  const series = doc.of.map((id) => s.series.get(id)).find((x) => x !== undefined);
  if (!series) return null;
  const only = each === null ? null : (series.instances.find((i) => i.id === each) ?? null);
  const scope: Scope = {
    ...noScope(set, path),
    series,
    instance: only ?? (series.instances.length === 1 ? series.instances[0]! : null),
  };
  const { shown } = evidenceOf(s, doc, set, only, path);
  const took = partTakers(s, doc, series, shown, scope);
  const by = took.length > 0 ? takenAway(s, doc, took, scope) : null;
  return by && { by, series: [...new Set([...doc.of, ...(doc.affects ?? [])])], unit: unitOfResult(s, doc) };
}

/** Whether the result that an adjustment works on is a share already. */
function isInPercent(doc: AdjustmentDocument, series: Series | null): boolean {
  const symbol = doc.result ?? series?.doc.results[0]?.symbol;
  return series?.doc.results.find((r) => r.symbol === symbol)?.unit === '%';
}

/** Points that are set in turn until all are within, in the unit of the result. */
export type AdjustmentRounds = { points: Point[]; within: number; most: number };

/** What would be left at one value if what an adjustment of this kind takes away were taken away; in the unit of the result. */
export type LeftValue = {
  value: number;
  /** Share of the tolerance; null where there is none. */ used: number | null;
  point: Point | null;
  instance: Instance | null;
  isOutside: boolean;
};

/** The worse of several values that are left: outside before inside, then by how much of the tolerance is used. */
function worstOf(left: readonly (LeftValue | null)[]): LeftValue | null {
  return left.reduce((worst, v) => {
    if (!v || !worst) return v ?? worst;
    if (v.isOutside !== worst.isOutside) return v.isOutside ? v : worst;
    return (v.used ?? 0) > (worst.used ?? 0) ? v : worst;
  }, null);
}

/**
 * What an adjustment leaves in each series that it moves: those that it affects, as far as they judge the result it works on. What it
 * does to another result, as one that is told against a reading of its own, cannot be foretold.
 */
function effectsOf(
  s: Setting,
  doc: AdjustmentDocument,
  set: string,
  instance: Instance | null,
  path: Path,
  taken: (x: number) => number,
): AdjustmentOutlook['effects'] {
  const unit = unitOfResult(s, doc);
  return [...new Set([...doc.of, ...(doc.affects ?? [])])].flatMap((id) => {
    const series = s.series.get(id);
    if (!series || series.doc.gate) return [];
    const isIts = (x: { unit: unknown; gate?: boolean | undefined; tolerance?: unknown; tolerances?: unknown }) =>
      !x.gate && (x.tolerance ?? x.tolerances) !== undefined && x.unit === unit;
    const symbol = series.doc.results.find((r) => (doc.result === undefined || r.symbol === doc.result) && isIts(r))?.symbol;
    if (symbol === undefined) return [];
    const { shown } = evidenceOf(s, { ...doc, of: [id], result: symbol }, set, instance, path);
    const [now, left] = [worstLeft(shown, () => 0), worstLeft(shown, taken)];
    return now && left ? [{ series: id, now, left }] : [];
  });
}

/** The unit of the result that an adjustment works on. */
function unitOfResult(s: Setting, doc: AdjustmentDocument): unknown {
  for (const id of doc.of) {
    const series = s.series.get(id);
    const symbol = doc.result ?? series?.doc.results[0]?.symbol;
    const found = [...(series?.doc.results ?? []), ...(series?.doc.aggregates ?? [])].find(
      (x) => ('symbol' in x ? x.symbol : x.id) === symbol,
    );
    if (found) return found.unit;
  }
  return undefined;
}

function worstLeft(shown: readonly Shown[], correction: (x: number) => number): LeftValue | null {
  const left = shown.map((v) => {
    const after = { ...v, value: v.value - correction(v.x ?? NaN) };
    const used = v.limits ? toleranceUsed(after.value, { lower: v.limits.lower ?? null, upper: v.limits.upper ?? null }) : null;
    return { after, used, isOutside: isOutside(after) };
  });
  if (left.length === 0 || left.some((v) => Number.isNaN(v.after.value))) return null;
  const {
    after,
    used,
    isOutside: outside,
  } = left.reduce((worst, v) =>
    v.used !== null && worst.used !== null
      ? v.used > worst.used
        ? v
        : worst
      : Math.abs(v.after.value) > Math.abs(worst.after.value)
        ? v
        : worst,
  );
  return { value: after.value, used, point: after.point, instance: after.instance, isOutside: outside };
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
  /** What it would leave in every series that it moves, where it is worst there; empty where a formula cannot tell. */
  effects: { series: string; now: LeftValue; left: LeftValue }[];
  /** The narrowest limit that is touched; null where none is. */ limit: number | null;
  /** The greatest share of the tolerance used now; null where none can be told. */ used: number | null;
  /** Null where it is set once. */ rounds: AdjustmentRounds | null;
};

/** What each adjustment of the document would do in this set. */
export const adjustmentsOf = (s: Setting, set: string): AdjustmentAdvice[] => adjustmentOutlooks(s, set).map((o) => o.advice);

/**
 * The same with what it is judged by, for the person who decides.
 * @example adjustmentOutlooks(setting, 'as-found').length // 1
 */
export function adjustmentOutlooks(s: Setting, set: string): AdjustmentOutlook[] {
  return s.doc.adjustments.flatMap((doc, i): AdjustmentOutlook[] => {
    const path = ['procedure', 'adjustments', i];
    const base = noScope(set, path);
    if (!isIn(s, doc.when, base)) return [];
    const first = doc.of.map((id) => s.series.get(id)).find((x) => x !== undefined);
    if (!first) return [];
    const each = doc.separately ? first.instances : [null];
    return each.flatMap((instance): AdjustmentOutlook[] => {
      const { shown, isOffScale, why } = evidenceOf(s, doc, set, instance, path);
      if (shown.length === 0 && !isOffScale && why === undefined) return [];
      const scope: Scope = {
        ...base,
        series: first,
        instance: instance ?? (first.instances.length === 1 ? first.instances[0]! : null),
      };
      const took = partTakers(s, doc, first, shown, scope);
      const correction = shown.length > 0 ? takenAway(s, doc, shown, scope) : null;
      const taken = took.length > 0 ? takenAway(s, doc, took, scope) : null;
      const effects = taken ? effectsOf(s, doc, set, instance, path, taken) : [];
      const isKnownToBeWanted = isOffScale || isWanted(s, doc, shown, scope);
      const isDoubtful = !isKnownToBeWanted && why !== undefined;
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
            wanted: isDoubtful ? null : isKnownToBeWanted,
            ...(isDoubtful ? { why } : {}),
            proposed: proposedBy(s, doc, scope),
            remaining: remainingOf(s, doc, shown, took, scope),
          },
          present: Math.max(0, ...shown.map((v) => Math.abs(v.value))),
          estimate: correction && greatestLeft(shown, correction),
          worst: worstOf([taken && worstLeft(shown, taken), ...effects.map((e) => e.left)]),
          effects,
          limit: limits.length ? Math.min(...limits) : null,
          used: used.length ? Math.max(...used) : null,
          rounds: roundsOf(s, doc, first, scope),
        },
      ];
    });
  });
}

/** The greatest magnitude that is left; null where some x is not known. */
function greatestLeft(shown: readonly Shown[], correction: (x: number) => number): number | null {
  const greatest = Math.max(...shown.map((v) => Math.abs(v.value - correction(v.x ?? NaN))));
  return Number.isNaN(greatest) ? null : greatest;
}

function roundsOf(s: Setting, { rounds }: AdjustmentDocument, series: Series, scope: Scope): AdjustmentRounds | null {
  if (!rounds) return null;
  const at: Scope = { ...scope, path: [...scope.path, 'rounds'] };
  const points = rounds.points.flatMap((name) => ifHad(() => namedPoint(s, series, at, name)) ?? []);
  const within = ifHad(() => numberOf(s, rounds.within, at));
  return points.length === 0 || within === undefined ? null : { points, within, most: rounds.most };
}

/** To the step in which the instrument takes a value, counted in its own unit. */
function toStoredStep(s: Setting, unit: unknown, step: Num, value: number, scope: Scope): number {
  const form = ownForm(s.own, unit);
  if (!form || !s.own) return toStep(value, numberOf(s, step, scope));
  const own =
    typeof step === 'number'
      ? stepInOwn(step, form.isDifference ? { document: 'K', own: form.unit } : s.own)
      : form.toOwn(numberOf(s, step, scope)) - form.toOwn(0);
  return form.toDocument(toStep(form.toOwn(value), own));
}

/**
 * What an adjustment proposes to store, starting from what the instrument holds.
 * @param held stored values as they stand on the instrument, in the unit of their declaration
 * @example proposedFrom(setting, document.adjustments[0], 'as-found', null, { zero: 0 }) // { shift: -0.001 }
 */
export function proposedFrom(
  s: Setting,
  doc: AdjustmentDocument,
  set: string,
  each: string | null,
  held: Readonly<Record<string, number>>,
): Record<string, number> {
  const series = doc.of.map((id) => s.series.get(id)).find((x) => x !== undefined) ?? null;
  const instance = series?.instances.find((i) => i.id === each) ?? (series?.instances.length === 1 ? series.instances[0]! : null);
  const from: Setting = { ...s, given: { ...s.given, stored: { ...s.given.stored, ...held } }, memo: new Map() };
  const path: Path = ['procedure', 'adjustments', s.doc.adjustments.indexOf(doc)];
  return proposedBy(from, doc, { ...noScope(set, path), series, instance });
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
      if (stored.step !== undefined) value = toStoredStep(s, stored.unit, stored.step, value, at);
      if (stored.lower !== undefined) value = Math.max(value, numberOf(s, stored.lower, at));
      if (stored.upper !== undefined) value = Math.min(value, numberOf(s, stored.upper, at));
      return [[stored.id, value]];
    }),
  );
}
