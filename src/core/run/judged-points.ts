import type { Place } from '../plan/plan-schema';
import type { Verdict } from '../conformity/decide';
import type { EvaluatedPoint, EvaluatedResult } from '../evaluate/evaluation';
import { ifHad } from '../faults';
import { ofReading } from '../evaluate/readings';
import { formulasIn, namesOf } from '../formula/formula';
import { noScope } from '../evaluate/setting';
import { isDetermined } from '../evaluate/undetermined';
import type { ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { convertDifference, isSameKind } from '../quantity/unit';
import { unitIn } from '../steps/step-context';
import { ownFormIn } from '../state/own-units';
import { observedResolution, observedUnit } from './reading-rules';
import { placeTitle, shownUnit, shownUnitOfAggregate } from './place-words';
import { entriesOf, evaluationIfAny, settingIn } from './run-results';
import { placedPoint, type RunState } from '../state/run-state';

/** One judged value of a set, with where it stands and what it came from. */
export type JudgedPoint = {
  place: Place;
  title: string;
  /** In its unit. */ value: number;
  result: EvaluatedResult;
  nominal: number | undefined;
  /** Step of the display in the unit of the result; null where nobody states one, or it reads in another unit. */ resolution:
    number | null;
  /** Repeats that its scatter is told from; empty where the result has none. */ repeats: number[];
};

/** Whether a result has limits. @example isJudged({ ...document.series[0].results[0] }) // true */
export const isJudged = (r: ResultDocument): boolean => (r.tolerance ?? r.tolerances) !== undefined;

/**
 * The result that a run is about: what its first adjustment works on, else the first that is judged; null where none is.
 * @example mainResult(run).result.symbol // 'E'
 */
export function mainResult(state: RunState): { series: SeriesDocument; result: ResultDocument } | null {
  const judged = (series: SeriesDocument | undefined, symbol?: string) => {
    const result = series?.results.find((r) => (symbol === undefined || r.symbol === symbol) && isJudged(r));
    return series && result ? { series, result } : null;
  };
  const { adjustments, series } = state.procedure;
  for (const a of adjustments)
    for (const id of a.of) {
      const found = judged(
        series.find((s) => s.id === id),
        a.result,
      );
      if (found) return found;
    }
  for (const s of series) {
    const found = s.gate ? null : judged(s);
    if (found) return found;
  }
  return null;
}

/** Symbols of a budget whose value comes from a standard: what they are off by stays until it is calibrated again. */
export function ofStandards(state: RunState, result: ResultDocument): Set<string> {
  const roles = new Set(state.procedure.standards.map((s) => s.role));
  const isOfRole = (text: string) =>
    namesOf(text).some((name) => name.split('.').some((part, i, all) => i < all.length - 1 && roles.has(part)));
  return new Set(
    (result.quantities ?? [])
      .filter((q) => q.distribution.type !== 'readings' && formulasIn(q.distribution).some(isOfRole))
      .map((q) => q.symbol),
  );
}

/** Values of one result in a set, in the order of the document. @example judgedPoints(run, 'as-found', series, ['E']).length // 10 */
export function judgedPoints(state: RunState, set: string, series: SeriesDocument, symbols: readonly string[]): JudgedPoint[] {
  return entriesOf(evaluationIfAny(state, set), series.id).flatMap((entry) =>
    entry.points.flatMap((point) =>
      symbols.flatMap((symbol): JudgedPoint[] => {
        const result = point.results[symbol];
        if (!result || !isDetermined(result)) return [];
        const place: Place = {
          set,
          series: series.id,
          ...(entry.each ? { each: entry.each } : {}),
          point: point.id,
          ...(point.sweep ? { sweep: point.sweep } : {}),
        };
        return [
          {
            place,
            title: placeTitle(state, place),
            value: result.estimate,
            result,
            nominal: placedPoint(state, place)?.nominal,
            resolution: resolutionOf(state, series, symbol, place),
            repeats: repeatsOf(state, series, symbol, point, place),
          },
        ];
      }),
    ),
  );
}

/** The step of the display that a result is read from, where it reads in the unit of the result. */
function resolutionOf(state: RunState, series: SeriesDocument, symbol: string, place: Place): number | null {
  const result = series.results.find((r) => r.symbol === symbol);
  const observation = series.observe.find((o) => o.of === 'instrument');
  if (!result || !observation) return null;
  const [read, of] = [observedUnit(state, place, observation), unitIn(state, result.unit, place)];
  const step = observedResolution(state, place, observation);
  if (step === null || read === of) return step;
  // An error of a temperature is told in K, whatever the scale it is read in; another display counts in its own unit.
  const isConverted = observation.unit === of || ownFormIn(state, of)?.unit === read;
  return isConverted && isSameKind(read, of) ? convertDifference(step, read, of) : null;
}

/** What the scatter of a result is told from: the readings or computed values of its quantity of readings. */
function repeatsOf(state: RunState, series: SeriesDocument, symbol: string, point: EvaluatedPoint, place: Place): number[] {
  const quantities = series.results.find((r) => r.symbol === symbol)?.quantities ?? [];
  for (const { distribution } of quantities) {
    if (distribution.type !== 'readings') continue;
    const of = (distribution as { of?: string }).of;
    if (of === undefined) continue;
    if (point.computed[of]) return point.computed[of];
    const instance = place.each ?? null;
    const sweeps = place.sweep !== undefined ? [place.sweep] : (series.sweeps?.map((w) => w.id) ?? [null]);
    const s = settingIn(state, place.set);
    const read = s.series.get(series.id)!;
    return sweeps.flatMap((sweep) =>
      s.observed
        .cell(place.set, series.id, instance, place.point!, sweep)
        .flatMap((r) => ifHad(() => ofReading(s, read, r, of, noScope(place.set, []))) ?? []),
    );
  }
  return [];
}

/** A judged value in one line, for lists and charts; numbers in `unit`. */
export type SummaryValue = {
  verdict: Verdict | null;
  /** What it is: the title of the result. */ what: string;
  /** Where it stands, in words; empty where there is one place only. */ point: string;
  value: number;
  expandedUncertainty: number | null;
  lower: number | null;
  upper: number | null;
  toleranceUsed: number | null;
  unit: string;
  shownIn: string;
};

/**
 * The value of a set that uses most of its tolerance; null where nothing is judged. Results come first: a statistic stands for the
 * whole only where it is outside its limits, or nothing else is judged.
 */
export function worstValue(
  state: RunState,
  setOfSeries: (series: string) => string | null,
): Omit<SummaryValue, 'verdict'> | null {
  const values = state.procedure.series.flatMap((series): Omit<SummaryValue, 'verdict'>[] => {
    const set = setOfSeries(series.id);
    if (set === null || series.gate) return [];
    const results = series.results
      .filter((r) => !r.gate)
      .flatMap((r) =>
        judgedPoints(state, set, series, [r.symbol]).flatMap((p): Omit<SummaryValue, 'verdict'>[] =>
          p.result.limits
            ? [
                {
                  what: r.title,
                  point: p.title,
                  value: p.value,
                  expandedUncertainty: p.result.expandedUncertainty,
                  lower: p.result.limits.lower ?? null,
                  upper: p.result.limits.upper ?? null,
                  toleranceUsed: p.result.toleranceUsed ?? null,
                  unit: unitIn(state, r.unit, p.place),
                  shownIn: shownUnit(state, r, p.place),
                },
              ]
            : [],
        ),
      );
    const aggregates = entriesOf(evaluationIfAny(state, set), series.id).flatMap((e) =>
      e.aggregates.flatMap((a): Omit<SummaryValue, 'verdict'>[] => {
        const doc = series.aggregates.find((d) => d.id === a.id)!;
        if (!isDetermined(a) || !a.limits || doc.gate) return [];
        const unit = unitIn(state, doc.unit, { set, series: series.id, ...(e.each ? { each: e.each } : {}) });
        return [
          {
            what: doc.title,
            point: '',
            value: a.value,
            expandedUncertainty: a.result?.expandedUncertainty ?? null,
            lower: a.limits.lower ?? null,
            upper: a.limits.upper ?? null,
            toleranceUsed: a.toleranceUsed ?? null,
            unit,
            shownIn: shownUnitOfAggregate(state, series, doc, { set, series: series.id, ...(e.each ? { each: e.each } : {}) }),
          },
        ];
      }),
    );
    const hasResults = state.procedure.series.some((x) => !x.gate && x.results.some((r) => !r.gate && isJudged(r)));
    return [...results, ...aggregates.filter((a) => !hasResults || (a.toleranceUsed ?? 0) > 1)];
  });
  return values.reduce<(typeof values)[number] | null>(
    (worst, v) => (!worst || (v.toleranceUsed ?? 0) > (worst.toleranceUsed ?? 0) * (1 + 1e-9) ? v : worst),
    null,
  );
}
