import { worstVerdict, type Verdict } from '../conformity/decide';
import type { ProcedureDocument, ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { offeredItems } from '../standard/assigned-value';
import type { StandardDocument } from '../standard/standard-schema';
import type { BudgetResult } from '../uncertainty/propagate';
import { adjustmentsOf, type AdjustmentAdvice } from './adjustments';
import { aggregateEntries, judgeAggregate, type JudgedAggregate } from './aggregates';
import type { Case } from './case-schema';
import { kindOfSet, notRead, type NotRead } from './completeness';
import { Absent, DocumentError, ifHad, Undeterminable } from '../faults';
import { fitsOf } from './fits';
import { namedPoint } from './names/at';
import { valuesOf } from './readings';
import { Observed, scopedObservation } from './observed';
import { inDocumentUnit, ownUnitOf } from './own-unit';
import { judge, resultAt, ruleFor, type Judged, type School } from './results';
import { slotsOf } from './slots';
import {
  isIn,
  isObserved,
  noScope,
  pointsOf,
  seriesOf,
  sourcesOf,
  type Instance,
  type Point,
  type Scope,
  type Series,
  type Setting,
} from './setting';
import { isDetermined, isLimited, undeterminedResult, type Undetermined } from './undetermined';

export type EvaluatedResult = BudgetResult & {
  reference?: number;
  indication?: number;
  schools?: Record<string, School>;
} & Partial<Judged>;
export type EvaluatedPoint = {
  id: string;
  label?: string;
  nominal?: number;
  sweep?: string | null;
  computed: Record<string, number[]>;
  results: Record<string, EvaluatedResult | Undetermined>;
  choices: Record<string, 'pass' | 'fail'>;
};
export type EvaluatedAggregate = { id: string; at: string | null; sweep?: string | null } & (JudgedAggregate | Undetermined);
export type EvaluatedFit = {
  at?: string | null;
  sweep?: string | null;
  coefficients: number[];
  standardUncertainties: (number | null)[];
  residualStandardDeviation: number | null;
  dof: number;
};
export type EvaluatedSeries = {
  id: string;
  each?: string | null;
  points: EvaluatedPoint[];
  aggregates: EvaluatedAggregate[];
  fits: Record<string, EvaluatedFit | EvaluatedFit[]>;
};
export type Evaluation = {
  complete: boolean;
  series: EvaluatedSeries[];
  adjustments: AdjustmentAdvice[];
  verdict: Verdict | null;
  /** What the set plans and nobody has read; absent where all is read. */ notRead?: NotRead[];
};

export { kindOfSet };

/** Points as a run's plan resolved them: of a series and, where there are several, an instance. */
export type ResolvedPoints = {
  series: string;
  each: string | null;
  points: readonly (Omit<Point, 'item'> & { item: string | undefined })[];
};

/** What a setting may be told besides its case. */
export type SettingOptions = {
  /** What is not known yet stands open. */ planning?: boolean;
  /** Points that are taken as they were resolved, not derived anew. */ resolved?: readonly ResolvedPoints[];
};

/** Reads a case against its procedure: standards by role, series as they stand, observations in their places. */
export function settingOf(
  doc: ProcedureDocument,
  given: Case,
  { planning = false, resolved = [] }: SettingOptions = {},
): Setting {
  const own = ownUnitOf(doc, given.instrument);
  const s: Setting = {
    doc,
    given: { ...given, instrument: inDocumentUnit(given.instrument, own) },
    own,
    standards: new Map(),
    series: new Map(),
    observed: new Observed(given),
    memo: new Map(),
  };
  for (const id of Object.keys(given.choices))
    if (!doc.choices.some((c) => c.id === id))
      throw new DocumentError(`"${id}" is not a choice of this procedure.`, ['choices', id]);
  for (const id of Object.keys(given.standards))
    if (!doc.standards.some((r) => r.role === id))
      throw new DocumentError(`"${id}" is not a role of this procedure.`, ['standards', id]);
  /** Whether something stands; in a plan that does not know the instrument what hangs on it stays open. */
  const stands = (when: Parameters<typeof isIn>[1], path: (string | number)[]): boolean => {
    try {
      return isIn(s, when, noScope(given.set, path));
    } catch (error) {
      if (planning && isNotKnownYet(error)) return true;
      throw error;
    }
  };
  // What was recorded first says which roles and series stand, so steps without a place are there already.
  const unfilled = new Set<string>();
  for (const role of doc.standards) {
    const list = given.standards[role.role];
    const standards: StandardDocument[] = list === undefined ? [] : Array.isArray(list) ? list : [list];
    if (!stands(role.when, ['procedure', 'standards'])) continue;
    if (standards.length) s.standards.set(role.role, standards);
    else if (role.optional) unfilled.add(role.role);
  }
  doc.series.forEach((series, i) => {
    const path = ['procedure', 'series', i];
    if (!stands(series.when, path)) return;
    const roles = Object.entries(series.uses).map(([use, u]) => u.role ?? use);
    const observed = series.observe.map((o) => o.of);
    // A series that uses an optional role which nobody fills is left out.
    if ([...roles, ...observed].some((r) => unfilled.has(r))) return;
    s.series.set(series.id, planning ? seriesOrOpen(s, series, path) : seriesOf(s, series, path));
  });
  for (const { series: id, each, points } of resolved) {
    const series = s.series.get(id);
    const instance = series?.instances.find((i) => i.id === each);
    if (series && instance)
      series.points.set(
        instance,
        points.map((p) => ({ ...p, item: heldItem(s, series, p.item) })),
      );
  }
  given.observations.forEach((row, i) => placeRow(s, row, i));
  addUnobserved(s);
  return s;
}

/** The item of a point that uses one, found again by its id. */
function heldItem(s: Setting, series: Series, id: string | undefined): Point['item'] {
  const use = series.doc.points?.items;
  if (id === undefined || use === undefined) return null;
  return offeredItems(sourcesOf(s, series, use), {}).find((o) => o.item.id === id) ?? null;
}

/** Where a plan is asked for before instrument or standards are known, what depends on them stands open. */
function seriesOrOpen(s: Setting, doc: SeriesDocument, path: (string | number)[]): Series {
  try {
    return seriesOf(s, doc, path);
  } catch (error) {
    if (!isNotKnownYet(error)) throw error;
    return {
      doc,
      path,
      instances: [],
      sweeps: null,
      leftOut: new Set(),
      leftOutAt: new Map(),
      points: new Map(),
      isOpen: true,
    };
  }
}

/** A fault that says only that the question does not state the instrument or a standard. */
export const isNotKnownYet = (error: unknown): boolean =>
  error instanceof Absent ||
  (error instanceof DocumentError && (error.path[0] === 'instrument' || error.path[0] === 'standards'));

function placeRow(s: Setting, row: Case['observations'][number], i: number): void {
  const path = ['observations', i];
  const set = row.set ?? s.given.set;
  const series = s.series.get(row.series);
  if (!series) {
    if (s.doc.series.some((x) => x.id === row.series))
      throw new DocumentError(`The series ${row.series} is left out here: nothing is read for it.`, [...path, 'series']);
    throw new DocumentError(`"${row.series}" is not a series of this procedure.`, [...path, 'series']);
  }
  const each = row.each ?? null;
  let instance: Instance | undefined;
  if (series.doc.forEach) {
    instance = each === null && series.instances.length === 1 ? series.instances[0] : series.instances.find((x) => x.id === each);
    if (!instance)
      throw new DocumentError(
        each === null
          ? `Say in "each" for which of ${series.instances.map((x) => x.id).join(', ')} this was read.`
          : `"${each}" is not one of ${series.instances.map((x) => x.id).join(', ')}.`,
        [...path, 'each'],
      );
  } else {
    if (each !== null) throw new DocumentError(`The series ${row.series} is not read for each of anything.`, [...path, 'each']);
    instance = series.instances[0]!;
  }
  const sweep = sweepOfRow(series, row.sweep ?? null, path, row.readings.length > 0);
  // Conditions and steps of the row hold from here on, and points may depend on them.
  s.observed.add({ ...row, readings: [] }, i, set, { instance: instance.id, point: null, sweep });
  if (row.readings.length === 0 && row.point === undefined) return;
  const points = pointsOf(s, series, instance);
  let point: Point | undefined;
  if (row.point === undefined) {
    if (points.length !== 1)
      throw new DocumentError(`Say at which point this was read: ${points.map((p) => p.id).join(', ')}.`, [...path, 'point']);
    point = points[0];
  } else point = ifHad(() => namedPoint(s, series, { ...noScope(set, [...path, 'point']), series, instance }, row.point!));
  if (!point) throw new DocumentError(`The point "${row.point}" is left out here.`, [...path, 'point']);
  for (const [k, reading] of row.readings.entries())
    for (const id of Object.keys(reading))
      if (!series.doc.observe.some((o) => o.id === id))
        throw new DocumentError(`"${id}" is not observed in ${row.series}.`, [...path, 'readings', k, id]);
  s.observed.add({ ...row, steps: {}, conditions: {} }, i, set, { instance: instance.id, point: point.id, sweep });
}

/** Where a reading of a run stands for `Observed`; null where its point is not there. */
export function scopedPlace(
  s: Setting,
  series: Series,
  slot: { each?: string | undefined; point: string; sweep?: string | undefined },
): { instance: string | null; point: string; sweep: string | null } | null {
  const instance = series.instances.find((i) => i.id === (slot.each ?? null));
  const point = instance && pointsOf(s, series, instance).find((p) => p.id === slot.point);
  return instance && point ? { instance: instance.id, point: point.id, sweep: slot.sweep ?? null } : null;
}

function sweepOfRow(series: Series, sweep: string | null, path: (string | number)[], isReading: boolean): string | null {
  if (series.sweeps === null) {
    if (sweep !== null) throw new DocumentError(`The series ${series.doc.id} has no sweeps.`, [...path, 'sweep']);
    return null;
  }
  if (sweep === null && series.sweeps.length === 1) return series.sweeps[0]!.id;
  if (sweep === null && !isReading) return null;
  if (!series.sweeps.some((w) => w.id === sweep))
    throw new DocumentError(
      sweep === null
        ? `Say in which sweep this was read: ${series.sweeps.map((w) => w.id).join(', ')}.`
        : `"${sweep}" is not a sweep of ${series.doc.id}.`,
      [...path, 'sweep'],
    );
  return sweep;
}

/** A series that observes nothing is worked out all the same, at every place. */
function addUnobserved(s: Setting): void {
  for (const series of s.series.values()) {
    if (series.doc.observe.length > 0 || !series.doc.sets.includes(kindOfSet(s.given.set))) continue;
    for (const slot of slotsOf(s, series))
      s.observed.add(
        { series: series.doc.id, conditions: {}, steps: {}, items: {}, readings: [{}] },
        Number.MAX_SAFE_INTEGER,
        s.given.set,
        { instance: slot.instance.id, point: slot.point.id, sweep: slot.sweep },
      );
  }
}

/**
 * Evaluates one set of a case (procedure.md, section 10).
 * @throws DocumentError with the path of the fault
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

/** Evaluates the set of a setting that has been read already. */
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

/** A result of one place, judged; why not, where it cannot be; null where it is left out or still to come. */
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
