import type { Place } from '../plan/plan-schema';
import { kindOfSet } from '../evaluate/completeness';
import type { ShownLimits } from '../evaluate/results';
import { isInsideBy, type Measured, type Pair, type RunPairs, type Visit } from '../interval/visit';
import type { ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { isDetermined, type Undetermined } from '../evaluate/undetermined';
import { unitIn } from '../steps/step-context';
import { judgedPoints, ofStandards, type JudgedPoint } from './judged-points';
import { placeTitle, shownUnit, shownUnitOfAggregate } from './place-words';
import { aggregatesIn, setAsFound, setAsLeft, type ShownAggregate } from './run-results';
import { placedPoint, type RunState } from '../state/run-state';
import type { RunSummary } from './run-summary';

/** A history keeps no more pairs of a run than these: every sweep of a network analyser would make it a book. */
const mostPairs = 400;

const limitsOf = (limits: ShownLimits | undefined, accept: ShownLimits | undefined) => ({
  lower: limits?.lower ?? null,
  upper: limits?.upper ?? null,
  acceptLower: accept?.lower ?? null,
  acceptUpper: accept?.upper ?? null,
});

function measured({ value, result }: JudgedPoint, shared: Set<string>): Measured {
  return {
    value,
    standardUncertainty: result.standardUncertainty,
    expandedUncertainty: result.expandedUncertainty,
    sharedUncertainty: Math.min(
      result.standardUncertainty,
      Math.hypot(...result.contributions.filter((c) => shared.has(c.symbol)).map((c) => c.contribution)),
    ),
    ...limitsOf(result.limits, result.acceptance),
  };
}

/** What tells a result from every other, in every run alike: a point by its label or nominal, not by its place in a list. */
export function keyOf(state: RunState, place: Place, symbol: string): string {
  const point = placedPoint(state, place);
  const name = point?.label ?? point?.nominal ?? place.point ?? '';
  return [place.series, place.each ?? '', name, place.sweep ?? '', symbol].join('|');
}

function pairsOfResult(state: RunState, series: SeriesDocument, result: ResultDocument): Pair[] {
  const first = setAsFound(state);
  const leftSet = setAsLeft(state, series.id);
  const shared = ofStandards(state, result);
  const key = ({ place }: JudgedPoint) => keyOf(state, { ...place, series: series.id }, result.symbol);
  const named = (p: JudgedPoint) => ({
    key: key(p),
    what: result.title,
    point: p.title,
    unit: unitIn(state, result.unit, p.place),
    shownIn: shownUnit(state, result, p.place),
  });
  const read = (set: string) =>
    judgedPoints(state, set, series, [result.symbol]).filter((p) => p.result.limits && Number.isFinite(p.value));
  const found = read(first);
  const left = leftSet === null || leftSet === first ? [] : read(leftSet);
  const checkSet = state.sets.findLast((set) => kindOfSet(set.id) === 'check')?.id;
  if (found.length === 0 && left.length === 0 && checkSet !== undefined)
    return read(checkSet).map((p) => ({ ...named(p), found: measured(p, shared), left: null, isCheck: true }));
  const leftBy = new Map(left.map((p) => [key(p), p]));
  const foundKeys = new Set(found.map(key));
  return [...found, ...left.filter((p) => !foundKeys.has(key(p)))].map((p) => {
    const after = leftBy.get(key(p));
    return { ...named(p), found: p === after ? null : measured(p, shared), left: after ? measured(after, shared) : null };
  });
}

function pairsOfAggregates(state: RunState, series: SeriesDocument): Pair[] {
  const first = setAsFound(state);
  const leftSet = setAsLeft(state, series.id);
  const read = (set: string) =>
    aggregatesIn(state, set, series.id).filter(
      (a): a is Exclude<ShownAggregate, Undetermined> =>
        isDetermined(a) &&
        a.limits !== undefined &&
        !series.aggregates.find((d) => d.id === a.id)!.gate &&
        Number.isFinite(a.value),
    );
  const later = leftSet === null || leftSet === first ? [] : read(leftSet);
  const value = (a: ReturnType<typeof read>[number]): Measured => ({
    value: a.value,
    standardUncertainty: a.result?.standardUncertainty ?? 0,
    expandedUncertainty: a.result?.expandedUncertainty ?? 0,
    sharedUncertainty: 0,
    ...limitsOf(a.limits, a.acceptance),
  });
  return read(first).map((a) => {
    const doc = series.aggregates.find((d) => d.id === a.id)!;
    const place: Place = {
      set: first,
      series: series.id,
      ...(a.each === null ? {} : { each: a.each }),
      ...(a.at === null ? {} : { point: a.at }),
      ...(a.sweep ? { sweep: a.sweep } : {}),
    };
    const after = later.find((l) => l.id === a.id && l.each === a.each && l.at === a.at && l.sweep === a.sweep);
    return {
      key: keyOf(state, place, a.id),
      what: doc.title,
      point: placeTitle(state, place),
      unit: unitIn(state, doc.unit, place),
      shownIn: shownUnitOfAggregate(state, series, doc, place),
      found: value(a),
      left: after ? value(after) : null,
    };
  });
}

/**
 * Every judged value of a run, as found and as left, with the certificates of its standards: what a history is made of.
 * @example pairsOfRun(run).pairs.length // 10
 */
export function pairsOfRun(state: RunState): RunPairs {
  const series = state.procedure.series.filter((s) => !s.gate);
  const pairs = series.flatMap((s) => [
    ...s.results.filter((r) => !r.gate).flatMap((r) => pairsOfResult(state, s, r)),
    ...pairsOfAggregates(state, s),
  ]);
  return {
    certificates: Object.values(state.standards)
      .flat()
      .flatMap(({ document: d }) => (d.certificate ? [`${d.identification} ${d.certificate.number}`] : []))
      .sort(),
    pairs: pairs.slice(0, mostPairs),
  };
}

/**
 * A finished run as one of the visits of an instrument.
 * @example visitOf({ id: 'a', day: '2026-01-01', summary: null }, { certificates: [], pairs: [] }).isRenewed // false
 */
export const visitOf = (
  run: { id: string; day: string; summary: RunSummary | null },
  { certificates, pairs }: RunPairs,
): Visit => ({
  run: run.id,
  day: run.day,
  isInside: isInsideBy(run.summary?.found?.verdict),
  share: run.summary?.found?.toleranceUsed ?? null,
  isRenewed: run.summary?.adjusted ?? false,
  certificates,
  pairs,
});

/**
 * The run that is being finished, as the latest visit: what it will be once it is finished.
 * @example visitNow(run, '2026-11-24', summarizeRun(run)).day // '2026-11-24'
 */
export const visitNow = (state: RunState, day: string, summary: RunSummary): Visit =>
  visitOf({ id: 'now', day, summary }, pairsOfRun(state));
