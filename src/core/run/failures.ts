import type { Place } from '../plan/plan-schema';
import { isDetermined } from '../evaluate/undetermined';
import type { Verdict } from '../conformity/decide';
import type { ResultDocument } from '../procedure/document-schema';
import { unitIn } from '../steps/step-context';
import { placeTitle, shownUnit, shownUnitOfAggregate } from './place-words';
import { entriesOf, evaluationIfAny } from './run-results';
import type { RunState } from '../state/run-state';
import { limitWords, shownPair, withPrintedUnit } from './shown-value';

/** Something judged that does not pass, in words, with where it stands. */
export type Failure = {
  verdict: Exclude<Verdict, 'pass' | 'conditional-pass'>;
  place: Place;
  /** The result, statistic or answer that it is of. */ of: string;
  /** How much of its tolerance it uses; 0 where that cannot be told. */ used: number;
  /** Where it stands, and what it is. @example 'Corner load, back left: +0.31 g, allowed ±0.2 g' */ words: string;
};

const isBad = (verdict: Verdict | null | undefined): verdict is Failure['verdict'] =>
  verdict === 'fail' || verdict === 'conditional-fail' || verdict === 'not-determined';

const worstFirst: Failure['verdict'][] = ['fail', 'conditional-fail', 'not-determined'];

const isJudged = (x: Pick<ResultDocument, 'tolerance' | 'tolerances'>): boolean => (x.tolerance ?? x.tolerances) !== undefined;

/**
 * Everything judged in a set that does not pass, the worst first, of those that are alike what is furthest outside, else in the order of the document; gates have no part in it.
 * @example failuresIn(run, 'as-found').length // 3
 */
export function failuresIn(state: RunState, set: string): Failure[] {
  const evaluation = evaluationIfAny(state, set);
  const found = state.procedure.series.flatMap((series): Failure[] => {
    if (series.gate) return [];
    return entriesOf(evaluation, series.id).flatMap((entry) => {
      const at: Place = { set, series: series.id, ...(entry.each ? { each: entry.each } : {}) };
      const where = (title: string, place: Place): string => {
        const spot = placeTitle(state, place);
        return spot === '' || spot === title || spot === series.title ? title : `${title}, ${spot}`;
      };
      const results = entry.points.flatMap((point) => {
        const place: Place = { ...at, point: point.id, ...(point.sweep ? { sweep: point.sweep } : {}) };
        return series.results.flatMap((doc): Failure[] => {
          const result = point.results[doc.symbol];
          if (!result || doc.gate || !isJudged(doc) || !isBad(result.verdict)) return [];
          const unit = unitIn(state, doc.unit, place);
          const shownIn = shownUnit(state, doc, place);
          const said = isDetermined(result)
            ? valueWords(result.estimate, result.expandedUncertainty, result.limits, unit, shownIn)
            : `not determined. ${result.why}`;
          const used = (isDetermined(result) && result.toleranceUsed) || 0;
          return [{ verdict: result.verdict, place, of: doc.symbol, used, words: `${where(doc.title, place)}: ${said}` }];
        });
      });
      const aggregates = entry.aggregates.flatMap((a): Failure[] => {
        const doc = series.aggregates.find((d) => d.id === a.id)!;
        if (doc.gate || !isJudged(doc) || !isBad(a.verdict)) return [];
        const place: Place = { ...at, ...(a.at ? { point: a.at } : {}), ...(a.sweep ? { sweep: a.sweep } : {}) };
        const unit = unitIn(state, doc.unit, place);
        const said = isDetermined(a)
          ? valueWords(
              a.value,
              a.result?.expandedUncertainty ?? null,
              a.limits,
              unit,
              shownUnitOfAggregate(state, series, doc, place),
            )
          : `not determined. ${a.why}`;
        const used = (isDetermined(a) && a.toleranceUsed) || 0;
        return [{ verdict: a.verdict, place, of: a.id, used, words: `${where(doc.title, place)}: ${said}` }];
      });
      const seen = new Set<string>();
      const choices = entry.points.flatMap((point) =>
        series.observe.flatMap((o): Failure[] => {
          if (point.choices[o.id] !== 'fail' || seen.has(`${o.id}|${o.per === 'instance' ? '' : point.id}`)) return [];
          seen.add(`${o.id}|${o.per === 'instance' ? '' : point.id}`);
          const place: Place = { ...at, point: point.id, ...(point.sweep ? { sweep: point.sweep } : {}) };
          const chosen = [...state.live.values()].find(
            (r) => r.slot.set === set && r.slot.series === series.id && r.slot.point === point.id && r.slot.observation === o.id,
          );
          const said = o.options?.find((x) => x.id === chosen?.value)?.title ?? 'not accepted';
          return [{ verdict: 'fail', place, of: o.id, used: 0, words: `${where(o.title ?? o.id, place)}: ${said}` }];
        }),
      );
      return [...results, ...aggregates, ...choices];
    });
  });
  const alike = 1e-9;
  return found.sort(
    (a, b) =>
      worstFirst.indexOf(a.verdict) - worstFirst.indexOf(b.verdict) || (Math.abs(a.used - b.used) < alike ? 0 : b.used - a.used),
  );
}

function valueWords(
  value: number,
  expandedUncertainty: number | null,
  limits: { lower?: number; upper?: number } | undefined,
  unit: string,
  shownIn: string,
): string {
  const printed = shownPair(value, expandedUncertainty, unit, shownIn, limits);
  const place = printed.U ? { decimals: printed.decimals } : {};
  return `${withPrintedUnit(printed.value, shownIn)}${limits ? `, allowed ${limitWords(limits, unit, shownIn, place)}` : ''}`;
}

/**
 * The failures of a set in one sentence: the first with its place, and how many more.
 * @example failureSentence(failuresIn(run, 'as-found')) // 'Outside: Error, 22.8 mm: +5.02 µm, allowed ±4 µm, and 1 more.'
 */
export function failureSentence(failures: readonly Failure[]): string {
  const [first, ...rest] = failures;
  if (!first) return '';
  const more = rest.filter((f) => f.verdict === first.verdict).length;
  const outside = first.verdict === 'fail' ? 'Outside' : first.verdict === 'conditional-fail' ? 'Outside by less than U' : 'Open';
  return `${outside}: ${first.words}${more ? `, and ${more} more` : ''}.`;
}
