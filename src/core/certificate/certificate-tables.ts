import type { Place } from '../plan/plan-schema';
import type { Verdict } from '../conformity/decide';
import type { EvaluatedAggregate, EvaluatedPoint, EvaluatedResult } from '../evaluate/evaluation';
import { isDetermined, type Undetermined } from '../evaluate/undetermined';
import type { ResultDocument, SeriesDocument } from '../procedure/document-schema';
import { decimalsNeeded, decimalsForSignificant, roundToDecimals } from '../quantity/rounding';
import { convertDifference, isSameKind, printedUnit, unitOfCompared } from '../quantity/unit';
import { instanceTitle, pointTitle, shownUnit, shownUnitOfAggregate, sweepTitle } from '../run/place-words';
import { observedResolution, observedUnit } from '../run/reading-rules';
import { entriesOf, evaluationIfAny } from '../run/run-results';
import { ownFormIn, shownNominal } from '../state/own-units';
import type { RunState } from '../state/run-state';
import { aggregatePair } from '../run/shown-aggregate';
import {
  differenceInShownUnit,
  inShownUnit,
  limitWords,
  shownPair,
  significant,
  withPrintedUnit,
  type PrintedPair,
} from '../run/shown-value';
import { unitIn } from '../steps/step-context';

/** A result as reported (text, rounded once) and as computed, in the unit of its table. */
export type CertificateCell = {
  indication: string;
  /** Its own reference value, where that of the other set is another. */ reference?: string;
  value: string;
  expandedUncertainty: string;
  coverageFactor: string;
  verdict: Verdict | null;
  /** Why it is not determined; then it has no numbers. */ why?: string;
  computed: {
    value: number;
    expandedUncertainty: number;
    coverageFactor: number;
    effectiveDof: number | null;
    toleranceUsed: number | null;
    probabilityOfConformity: number | null;
  } | null;
};

export type CertificateRow = {
  point: string;
  sweep: string;
  reference: string;
  /** Null where there is none on that side. */ limits: { lower: number | null; upper: number | null } | null;
  limitWords: string;
  found: CertificateCell | null;
  left: CertificateCell | null;
};

/** What was found and left of a thing that has no row of its own: a statistic over the readings, an answer. */
export type CertificateLine = {
  title: string;
  limitWords: string;
  found: { value: string; verdict: Verdict | null } | null;
  left: { value: string; verdict: Verdict | null } | null;
};

/** One result over its points, as found and as left side by side. */
export type CertificateTable = {
  series: string;
  /** Of which range, position or part; empty where there is one. */ of: string;
  result: string;
  /** Units as printed; empty where there is none. */
  units: { reference: string; value: string };
  /** Limits that hold for every row, in words; empty where they differ or there are none. */ limits: string;
  rows: CertificateRow[];
  lines: CertificateLine[];
};

/** How a number beside a result is shown: its unit, its decimals, and how it is brought there. */
type Shown = { decimals: number | null; unit: string; toShown?: (value: number) => number };

/** What a formula is read from: one observation, or several in one unit; undefined where it is more than that. */
function readFrom(
  state: RunState,
  series: SeriesDocument,
  text: string | undefined,
  place: Place,
): SeriesDocument['observe'][number] | undefined {
  const names = [...(text ?? '').matchAll(/[A-Za-z]\w*(?:\.\w+)*/g)].map((m) => m[0]);
  const observations = names.map((name) => {
    const use = /^(\w+)\.value$/.exec(name)?.[1];
    const at = use === undefined ? name : series.uses[use]?.at;
    return series.observe.find((o) => o.id === at);
  });
  const [first] = observations;
  const unit = first && observedUnit(state, place, first);
  return observations.every((o) => o && observedUnit(state, place, o) === unit) ? first : undefined;
}

/** Decimals and unit of what is shown beside a result: those of the observation that it is read from, with digits to spare. */
function shownAs(
  state: RunState,
  series: SeriesDocument,
  formula: ResultDocument['reference'],
  spare: number,
  place: Place,
): Shown {
  const text = textOf(formula);
  const observation = readFrom(state, series, text, place);
  const stated = typeof formula === 'object' && formula.unit !== undefined ? formula.unit : observation?.unit;
  const unit = stated === undefined ? unitOfUse(state, series, text) : unitIn(state, stated, place);
  const form = ownFormIn(state, stated);
  const shown = { unit: form?.unit ?? unit, ...(form ? { toShown: form.toOwn } : {}) };
  if (!observation) return { decimals: null, ...shown };
  const step = observedResolution(state, place, observation);
  const isRead =
    observedUnit(state, place, observation) === shown.unit || !isSameKind(observedUnit(state, place, observation), shown.unit);
  return { decimals: step === null || !isRead ? null : Math.max(0, Math.round(-Math.log10(step))) + spare, ...shown };
}

/** The unit of a standard's own value, where a formula is nothing but that; empty where it is more. */
function unitOfUse(state: RunState, series: SeriesDocument, text: string | undefined): string {
  const use = /^(\w+)\.value$/.exec(text ?? '')?.[1];
  const doc = use === undefined ? undefined : series.uses[use];
  if (use === undefined || !doc) return '';
  const standard = state.standards[doc.role ?? use]?.[0]?.document;
  return doc.unit ?? standard?.parts?.find((p) => p.id === doc.part)?.unit ?? standard?.unit ?? '';
}

/** How indication and reference value of a result are shown: a reference that is only worked out is like the indication. */
function comparedAs(
  state: RunState,
  series: SeriesDocument,
  result: ResultDocument,
  place: Place,
): Record<'indication' | 'reference', Shown> {
  const indication = shownAs(state, series, result.indication, 1, place);
  // A formula of more than readings and standards gives what the result is: an error is in the unit of its reference.
  const own = shownAs(state, series, result.reference, 2, place);
  const compared = unitOfCompared(unitIn(state, result.unit, place), indication.unit);
  const reference: Shown = own.unit === '' ? { ...indication, decimals: own.decimals, unit: compared } : own;
  const isLike = reference.decimals === null && indication.decimals !== null && reference.unit === indication.unit;
  return { indication, reference: isLike ? { ...indication, decimals: indication.decimals! + 1 } : reference };
}

/**
 * What no display limits is shown as fine as the finest uncertainty of its column, with a digit to spare, so that its decimal points
 * stand one under the other; left as it is where the two are not of one kind.
 */
function asFineAs(shown: Shown, uncertainties: readonly number[], unit: string): Shown {
  const finest = Math.min(...uncertainties.filter((u) => u > 0));
  if (shown.decimals !== null || !Number.isFinite(finest) || !isSameKind(unit, shown.unit)) return shown;
  const decimals = decimalsForSignificant(convertDifference(finest, unit, shown.unit), 2);
  return decimals === null ? shown : { ...shown, decimals: Math.max(0, decimals + 1) };
}

/**
 * Indication and reference value of a result as text with their units; empty where it has none.
 * @example comparedWords(run, series, result, place, { indication: 7.702, reference: 7.7 }) // { indication: '7.7020 mm', reference: '7.70000 mm' }
 */
export function comparedWords(
  state: RunState,
  series: SeriesDocument,
  result: ResultDocument,
  place: Place,
  { indication, reference }: Pick<EvaluatedResult, 'indication' | 'reference'>,
): Record<'indication' | 'reference', string> {
  const shown = comparedAs(state, series, result, place);
  const words = (value: number | undefined, as: Shown) =>
    value === undefined ? '' : withPrintedUnit(number(value, as), as.unit).replace('-', '−');
  return { indication: words(indication, shown.indication), reference: words(reference, shown.reference) };
}

const number = (given: number | undefined, shown: Shown): string => {
  const value = given === undefined || !shown.toShown ? given : shown.toShown(given);
  return value === undefined
    ? ''
    : shown.decimals === null
      ? significant(value, 6)
      : roundToDecimals(value, Math.min(12, shown.decimals));
};

function cellOf(
  result: EvaluatedResult | Undetermined | undefined,
  unit: string,
  shownIn: string,
  indication: Shown,
  reference: Shown,
): CertificateCell | null {
  if (!result) return null;
  // What is not determined has no number: its verdict and the reason stand in its place.
  if (!isDetermined(result))
    return {
      indication: '',
      reference: '',
      value: '',
      expandedUncertainty: '',
      coverageFactor: '',
      verdict: result.verdict,
      why: result.why,
      computed: null,
    };
  const value = inShownUnit(result.estimate, unit, shownIn);
  const U = differenceInShownUnit(result.expandedUncertainty, unit, shownIn);
  const printed = printedOf(result, unit, shownIn);
  return {
    indication: number(result.indication, indication),
    reference: number(result.reference, reference),
    // Kept with a plain minus and without a plus, like every number of a document.
    value: printed.U ? printed.value.replace('−', '-').replace('+', '') : significant(value, 6),
    expandedUncertainty: printed.U || '0',
    coverageFactor: roundToDecimals(result.coverageFactor, 2),
    verdict: result.verdict ?? null,
    computed: {
      value,
      expandedUncertainty: U,
      coverageFactor: result.coverageFactor,
      effectiveDof: result.effectiveDof,
      toleranceUsed: result.toleranceUsed ?? null,
      probabilityOfConformity: result.probabilityOfConformity ?? null,
    },
  };
}

const printedOf = (r: EvaluatedResult, unit: string, shownIn: string): PrintedPair =>
  shownPair(r.estimate, r.expandedUncertainty, unit, shownIn, r.limits, r.acceptance);

const determined = (result: EvaluatedResult | Undetermined | undefined): EvaluatedResult | undefined =>
  result && isDetermined(result) ? result : undefined;

const keyOf = (p: EvaluatedPoint): string => `${p.id}|${p.sweep ?? ''}`;

type Pair<T> = { found: T | undefined; left: T | undefined };

/** What two sets have at the same places, in the order of the first. */
function paired<T>(found: readonly T[], left: readonly T[], key: (x: T) => string): Pair<T>[] {
  const leftBy = new Map(left.map((x) => [key(x), x]));
  const seen = new Set(found.map(key));
  return [
    ...found.map((x) => ({ found: x, left: leftBy.get(key(x)) })),
    ...left.filter((x) => !seen.has(key(x))).map((x) => ({ found: undefined, left: x })),
  ];
}

/**
 * The tables of a run: every result that is judged or informs, every judged statistic, every answer.
 * @param leftOf the set that counts as left for a series; null where nothing was read again
 */
export function certificateTables(
  state: RunState,
  found: string,
  leftOf: (series: string) => string | null,
  check: string | null,
): CertificateTable[] {
  return state.procedure.series.flatMap((series): CertificateTable[] => {
    if (series.gate) return [];
    const left = leftOf(series.id);
    const tables = tablesOf(state, series, found, left === found ? null : left);
    const checked =
      check === null ? [] : tablesOf(state, series, check, null).map((t) => ({ ...t, series: `${t.series}, independent check` }));
    return [...tables, ...checked];
  });
}

function tablesOf(state: RunState, series: SeriesDocument, found: string, left: string | null): CertificateTable[] {
  const foundEntries = entriesOf(evaluationIfAny(state, found), series.id);
  const leftEntries = left === null ? [] : entriesOf(evaluationIfAny(state, left), series.id);
  return paired(foundEntries, leftEntries, (e) => e.each ?? '').flatMap((entries): CertificateTable[] => {
    const any = (entries.found ?? entries.left)!;
    const place: Place = { set: entries.found ? found : left!, series: series.id, ...(any.each ? { each: any.each } : {}) };
    const of = instanceTitle(state, series.id, any.each);
    const points = paired(entries.found?.points ?? [], entries.left?.points ?? [], keyOf);
    const tables = series.results.flatMap((result): CertificateTable[] => {
      const had = points.filter((p) => p.found?.results[result.symbol] || p.left?.results[result.symbol]);
      return had.length ? [{ ...tableOf(state, series, result, had, place), series: series.title, of }] : [];
    });
    const lines = [
      ...choiceLines(state, series, points, place),
      ...aggregateLines(state, series, entries.found?.aggregates ?? [], entries.left?.aggregates ?? [], place),
    ];
    if (lines.length === 0) return tables;
    const last = tables.at(-1);
    const bare = { series: series.title, of, result: '', units: { reference: '', value: '' }, limits: '', rows: [] };
    return last ? [...tables.slice(0, -1), { ...last, lines }] : [{ ...bare, lines }];
  });
}

function tableOf(
  state: RunState,
  series: SeriesDocument,
  result: ResultDocument,
  points: readonly Pair<EvaluatedPoint>[],
  place: Place,
): Omit<CertificateTable, 'series' | 'of'> {
  const unit = unitIn(state, result.unit, place);
  const shownIn = shownUnit(state, result, place);
  const compared = comparedAs(state, series, result, place);
  const uncertainties = points.flatMap((p) =>
    [p.found, p.left].flatMap((x) => determined(x?.results[result.symbol])?.expandedUncertainty ?? []),
  );
  // Where the indication says no unit it stands under that of the reference.
  const indication = asFineAs(
    { ...compared.indication, unit: compared.indication.unit || compared.reference.unit },
    uncertainties,
    unit,
  );
  const referenceShown = asFineAs(compared.reference, uncertainties, unit);
  const nominals = points.flatMap((p) => shownNominal(state, { ...place, point: (p.found ?? p.left)!.id }) ?? []);
  const decimals = decimalsNeeded(nominals);
  // Limits are printed to the finest place of the numbers that are held against them.
  const places = points.flatMap((p) =>
    [p.found, p.left].flatMap((x) => {
      const r = determined(x?.results[result.symbol]);
      return r && r.expandedUncertainty > 0 ? [printedOf(r, unit, shownIn).decimals] : [];
    }),
  );
  const finest = places.length ? { decimals: Math.max(...places) } : {};
  const rows = points.map((p): CertificateRow => {
    const any = (p.found ?? p.left)!;
    const shown = (p.found?.results[result.symbol] ?? p.left?.results[result.symbol])!;
    const limits = shown.limits;
    return {
      point: pointTitle(state, { ...place, point: any.id }, decimals),
      sweep: sweepTitle(state, series.id, any.sweep),
      reference: number(determined(shown)?.reference, referenceShown),
      limits: limits
        ? {
            lower: limits.lower === undefined ? null : inShownUnit(limits.lower, unit, shownIn),
            upper: limits.upper === undefined ? null : inShownUnit(limits.upper, unit, shownIn),
          }
        : null,
      limitWords: limits ? limitWords(limits, unit, shownIn, finest) : '',
      found: cellOf(p.found?.results[result.symbol], unit, shownIn, indication, referenceShown),
      left: cellOf(p.left?.results[result.symbol], unit, shownIn, indication, referenceShown),
    };
  });
  const all = [...new Set(rows.map((r) => r.limitWords))];
  return {
    result: result.title,
    units: { reference: printedUnit(indication.unit), value: printedUnit(shownIn) },
    limits: all.length === 1 ? all[0]! : '',
    rows,
    lines: [],
  };
}

const textOf = (n: ResultDocument['reference']): string | undefined => (typeof n === 'object' ? n.is : undefined);

function choiceLines(
  state: RunState,
  series: SeriesDocument,
  points: readonly Pair<EvaluatedPoint>[],
  place: Place,
): CertificateLine[] {
  const asked = series.observe.filter((o) => o.type === 'choice');
  return points.flatMap((p) =>
    asked.flatMap((o): CertificateLine[] => {
      const any = (p.found ?? p.left)!;
      if (any.choices[o.id] === undefined) return [];
      const said = (point: EvaluatedPoint | undefined): CertificateLine['found'] => {
        const verdict = point?.choices[o.id];
        if (verdict === undefined) return null;
        const chosen = [...state.live.values()].find(
          (r) =>
            r.slot.series === series.id && r.slot.point === point!.id && r.slot.observation === o.id && r.slot.set === place.set,
        );
        return {
          value: o.options?.find((x) => x.id === chosen?.value)?.title ?? verdict,
          verdict: o.options?.some((x) => x.accept !== undefined) ? verdict : null,
        };
      };
      const where = series.points ? `, ${pointTitle(state, { ...place, point: any.id })}` : '';
      return [{ title: `${o.title ?? o.id}${where}`, limitWords: '', found: said(p.found), left: said(p.left) }];
    }),
  );
}

function aggregateLines(
  state: RunState,
  series: SeriesDocument,
  found: readonly EvaluatedAggregate[],
  left: readonly EvaluatedAggregate[],
  place: Place,
): CertificateLine[] {
  const said = (a: EvaluatedAggregate | undefined, shownIn: string): CertificateLine['found'] => {
    if (!a) return null;
    if (!isDetermined(a)) return { value: a.why, verdict: a.verdict };
    const pair = aggregatePair(state, series, a, place);
    const value = withPrintedUnit(pair.value, shownIn);
    return { value: pair.U ? `${value}, U ${pair.U}` : value, verdict: a.verdict ?? null };
  };
  return paired(found, left, (a) => `${a.id}|${a.at ?? ''}|${a.sweep ?? ''}`).flatMap((p): CertificateLine[] => {
    const any = (p.found ?? p.left)!;
    const doc = series.aggregates.find((d) => d.id === any.id)!;
    // A statistic that stands for each point only serves another one.
    if (doc.gate || (any.at !== null && !any.limits && !any.verdict)) return [];
    const unit = unitIn(state, doc.unit, place);
    const shownIn = shownUnitOfAggregate(state, series, doc, place);
    const places = [p.found, p.left].flatMap((a) =>
      a && isDetermined(a) && a.result ? [aggregatePair(state, series, a, place).decimals] : [],
    );
    const finest = places.length ? { decimals: Math.max(...places) } : {};
    const where = [
      any.at === null ? '' : pointTitle(state, { ...place, point: any.at }),
      sweepTitle(state, series.id, any.sweep),
    ].filter(Boolean);
    return [
      {
        title: [doc.title, ...where].join(', '),
        limitWords: any.limits ? limitWords(any.limits, unit, shownIn, finest) : '',
        found: said(p.found, shownIn),
        left: said(p.left, shownIn),
      },
    ];
  });
}
