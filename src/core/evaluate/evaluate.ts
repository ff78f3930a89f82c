import { worstVerdict, type Verdict } from '../conformity/decide';
import type { ProcedureDocument, ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { adjustmentsOf } from './adjustments';
import { aggregateEntries, judgeAggregate } from './aggregates';
import type { Case } from './case-schema';
import { notRead } from './completeness';
import { Absent, DocumentError, ifHad, Undeterminable } from '../faults';
import { fitsOf } from './fits';
import { valuesOf } from './readings';
import { scopedObservation } from './observed';
import { judge, resultAt, ruleFor } from './results';
import { isObserved, noScope, pointsOf, type Instance, type Point, type Scope, type Series, type Setting } from './setting';
import { isDetermined, isLimited, undeterminedResult, type Undetermined } from './undetermined';

import { settingOf } from './setting-of';
import type {
  EvaluatedAggregate,
  EvaluatedFit,
  EvaluatedPoint,
  EvaluatedResult,
  EvaluatedSeries,
  Evaluation,
} from './evaluation';
/**
 * Evaluates one set of a case.
 * @throws DocumentError with the path of the fault
 * @example evaluate(document, setting.given).series.length // 1
 */
export function evaluate(doc: ProcedureDocument, given: Case): Evaluation {
  try {
    return evaluateSet(doc, given);
  } catch (error) {
    // What everything else waits for is missing: the case says too little to be evaluated.
    if (error instanceof Absent)
      throw new DocumentError(`${error.message} Without it this set cannot be evaluated.`, ['observations']);
    throw error;
  }
}

function evaluateSet(doc: ProcedureDocument, given: Case): Evaluation {
  return evaluateSetting(settingOf(doc, given));
}

/** Evaluates the set of a setting that has been read already. @example evaluateSetting(setting).verdict // 'fail' */
export function evaluateSetting(s: Setting): Evaluation {
  const judged: Verdict[] = [];
  const series = [...s.series.values()].flatMap((x) => evaluateSeries(s, x, judged));
  const missing = notRead(s);
  return {
    complete: missing.length === 0,
    series,
    adjustments: adjustmentsOf(s, s.given.set),
    verdict: worstVerdict(judged),
    ...(missing.length ? { notRead: missing } : {}),
  };
}

function evaluateSeries(s: Setting, series: Series, judged: Verdict[]): EvaluatedSeries[] {
  const set = s.given.set;
  if (!s.observed.has(set, series.doc.id)) return [];
  const isGate = series.doc.gate === true;
  const note: Note = (verdict, gate) => {
    if (verdict !== undefined && !isGate && !gate) judged.push(verdict);
  };
  const hasEach = series.doc.forEach !== undefined;
  const aggregates = aggregatesOf(s, series, note);
  const fits = series.doc.fits.flatMap((doc) =>
    (ifHad(() => fitsOf(s, series, doc, set)) ?? []).filter((fit) => !fit.unknown).map((fit) => ({ doc, fit })),
  );
  const entries = series.instances.flatMap((instance): EvaluatedSeries[] => {
    const points = evaluatePoints(s, series, instance, note);
    const own = aggregates.filter((a) => a.instance === instance);
    if (points.length === 0 && own.length === 0) return [];
    return [
      {
        id: series.doc.id,
        ...(hasEach ? { each: instance.id } : {}),
        points,
        aggregates: own.map((a) => a.shown),
        fits: shownFits(
          series,
          fits.filter(({ fit }) => fit.instance === instance),
        ),
      },
    ];
  });
  const across = aggregates.filter((a) => a.instance === null);
  const acrossFits = fits.filter(({ fit }) => fit.instance === null);
  if (across.length === 0 && acrossFits.length === 0) return entries;
  const shared = { aggregates: across.map((a) => a.shown), fits: shownFits(series, acrossFits) };
  // Without forEach there is one instance, and what runs over it stands with it.
  if (!hasEach && entries[0])
    return [
      {
        ...entries[0],
        aggregates: inOrder(series, [...entries[0].aggregates, ...shared.aggregates]),
        fits: { ...entries[0].fits, ...shared.fits },
      },
    ];
  return [...entries, { id: series.doc.id, ...(hasEach ? { each: null } : {}), points: [], ...shared }];
}

const inOrder = (series: Series, list: EvaluatedAggregate[]): EvaluatedAggregate[] =>
  series.doc.aggregates.flatMap((doc) => list.filter((a) => a.id === doc.id));

function aggregatesOf(s: Setting, series: Series, note: Note) {
  return series.doc.aggregates.flatMap((doc) =>
    (ifHad(() => aggregateEntries(s, series, doc.id, s.given.set)) ?? []).flatMap(
      (entry): { instance: Instance | null; shown: EvaluatedAggregate }[] => {
        const result = judgeAggregate(s, series, doc, entry);
        if (!result) return [];
        if (isDetermined(result) || countsAs(series, result, entry.unknown)) note(result.verdict, doc.gate);
        return [
          {
            instance: entry.instance,
            shown: { id: doc.id, at: entry.point?.id ?? null, ...(series.sweeps ? { sweep: entry.sweep } : {}), ...result },
          },
        ];
      },
    ),
  );
}

type FitEntry = { doc: SeriesDocument['fits'][number]; fit: ReturnType<typeof fitsOf>[number] };

function shownFits(series: Series, fits: readonly FitEntry[]): EvaluatedSeries['fits'] {
  const shown = ({ fit }: FitEntry): EvaluatedFit => ({
    coefficients: fit.coefficients,
    standardUncertainties: fit.standardUncertainties,
    residualStandardDeviation: fit.residualStandardDeviation,
    dof: fit.dof,
  });
  return Object.fromEntries(
    series.doc.fits.flatMap((doc): [string, EvaluatedFit | EvaluatedFit[]][] => {
      const own = fits.filter((f) => f.doc === doc);
      if (own.length === 0) return [];
      const isOne = doc.over.includes('points') && (doc.over.includes('sweeps') || series.sweeps === null);
      if (own.length === 1 && isOne) return [[doc.id, shown(own[0]!)]];
      return [
        [
          doc.id,
          own.map((f) => ({ at: f.fit.point?.id ?? null, ...(series.sweeps ? { sweep: f.fit.sweep } : {}), ...shown(f) })),
        ],
      ];
    }),
  );
}

function evaluatePoints(s: Setting, series: Series, instance: Instance, note: Note): EvaluatedPoint[] {
  const set = s.given.set;
  const sweeps = series.sweeps?.map((w) => w.id) ?? [null];
  const points = ifHad(() => pointsOf(s, series, instance)) ?? [];
  const noted = new Set<string>();
  const cell = (point: Point, sweep: string | null): EvaluatedPoint[] => {
    const had = pointAt(s, series, { ...noScope(set, series.path), series, instance, point, sweep }, note, noted);
    return had ? [had] : [];
  };
  const overSweeps = (point: Point): EvaluatedPoint[] => {
    if (series.sweeps === null) return [];
    const scope: Scope = { ...noScope(set, series.path), series, instance, point, sweep: null };
    const results = resultsAt(s, series, scope, (doc) => doc.over?.includes('sweeps') ?? false, note);
    return Object.keys(results).length ? [{ ...named(point, series, null), computed: {}, results, choices: {} }] : [];
  };
  if (series.doc.by === 'point')
    return points.flatMap((point) => [...sweeps.flatMap((sweep) => cell(point, sweep)), ...overSweeps(point)]);
  return [...sweeps.flatMap((sweep) => points.flatMap((point) => cell(point, sweep))), ...points.flatMap(overSweeps)];
}

type Note = (verdict: Verdict | undefined, gate: boolean | undefined) => void;

/** What one point of one sweep gives, as far as it has been read; null where nothing was. A sweep of null: what runs over the sweeps. */
function pointAt(s: Setting, series: Series, scope: Scope, note: Note, noted: Set<string>): EvaluatedPoint | null {
  const { set, instance, point, sweep } = scope;
  if (s.observed.cell(set, series.doc.id, instance!.id, point!.id, sweep).length === 0) return null;
  return {
    ...named(point!, series, sweep),
    computed: computedAt(s, series, scope),
    results: resultsAt(s, series, scope, (doc) => !doc.over?.includes('sweeps') || series.sweeps === null, note),
    choices: choicesAt(s, series, scope, note, noted),
  };
}

const named = (point: Point, series: Series, sweep: string | null) => ({
  id: point.id,
  ...(point.label === undefined ? {} : { label: point.label }),
  ...(point.nominal === undefined ? {} : { nominal: point.nominal }),
  ...(series.sweeps ? { sweep } : {}),
});

const computedAt = (s: Setting, series: Series, scope: Scope): Record<string, number[]> =>
  Object.fromEntries(
    series.doc.computed.flatMap(({ id }) => {
      const values = ifHad(() => valuesOf(s, series, id, scope));
      return values ? [[id, values]] : [];
    }),
  );

function resultsAt(
  s: Setting,
  series: Series,
  scope: Scope,
  belongs: (doc: ResultDocument) => boolean,
  note: Note,
): Record<string, EvaluatedResult | Undetermined> {
  return Object.fromEntries(
    series.doc.results.flatMap((doc): [string, EvaluatedResult | Undetermined][] => {
      const result = belongs(doc) ? evaluatedResult(s, series, doc, scope) : null;
      if (!result) return [];
      const at = { ...scope, path: [...series.path, 'results', series.doc.results.indexOf(doc)] };
      if (isDetermined(result) || (isLimited(s, doc, at) && countsAs(series, result))) note(result.verdict, doc.gate);
      return [[doc.symbol, result]];
    }),
  );
}

/** Whether what is not determined counts for the verdict of the set: an optional series never does by waiting. */
const countsAs = (series: Series, { verdict }: Undetermined, because?: Absent | null): boolean =>
  !series.doc.optional || verdict === 'fail' || because instanceof Undeterminable;

/**
 * A result of one place, judged; why not, where it cannot be; null where it is left out or still to come.
 * @example evaluatedResult(setting, theSeries, result, scope).estimate // 0.00198
 */
export function evaluatedResult(
  s: Setting,
  series: Series,
  doc: ResultDocument,
  scope: Scope,
): EvaluatedResult | Undetermined | null {
  const at: Scope = { ...scope, series, sweep: doc.over?.includes('sweeps') ? null : scope.sweep, reading: null };
  try {
    return judgedResult(s, series, doc, at);
  } catch (error) {
    if (!(error instanceof Absent)) throw error;
    return undeterminedResult(
      s,
      series,
      doc,
      { ...at, path: [...series.path, 'results', series.doc.results.indexOf(doc)] },
      error,
    );
  }
}

function judgedResult(s: Setting, series: Series, doc: ResultDocument, scope: Scope): EvaluatedResult {
  const had = resultAt(s, series, doc, scope);
  const { judged, schools } = judge(s, doc, had.budget.estimate, ruleFor(s, series, doc.decisionRule), had.budget, had, {
    ...had.scope,
    own: { [doc.symbol]: had.budget.estimate },
    path: [...series.path, 'results', series.doc.results.indexOf(doc)],
  });
  const { reference, indication, budget } = had;
  return {
    ...budget,
    ...(reference === undefined ? {} : { reference }),
    ...(indication === undefined ? {} : { indication }),
    ...(judged ?? {}),
    ...(schools ? { schools } : {}),
  };
}

/** Choices that a reading made: an option that is not accepted fails. Each counts once for its own scope. */
function choicesAt(s: Setting, series: Series, scope: Scope, note: Note, noted: Set<string>): Record<string, 'pass' | 'fail'> {
  const readings = s.observed.cell(scope.set, series.doc.id, scope.instance!.id, scope.point!.id, scope.sweep);
  return Object.fromEntries(
    series.doc.observe.flatMap((o): [string, 'pass' | 'fail'][] => {
      if (o.type !== 'choice' || !isObserved(s, o, scope)) return [];
      const { per } = o;
      const values = readings.flatMap((r) => {
        const value = per === 'repeat' ? r.values[o.id] : ifHad(() => scopedObservation(s, series, r, o.id, per));
        return value === undefined ? [] : [String(value)];
      });
      if (values.length === 0) return [];
      const judges = o.options?.some((option) => option.accept !== undefined) ?? false;
      const passes = values.every((v) => {
        const option = o.options?.find((x) => x.id === v);
        if (!option) throw new DocumentError(`"${v}" is not an option of ${o.id}.`, ['observations']);
        return !judges || option.accept === true;
      });
      const verdict = passes ? 'pass' : 'fail';
      const key = `${o.id}|${per === 'instance' ? '' : (scope.sweep ?? '')}|${per === 'point' || per === 'repeat' ? scope.point!.id : ''}`;
      if (judges && !noted.has(key)) note(verdict, false);
      noted.add(key);
      return [[o.id, verdict]];
    }),
  );
}
