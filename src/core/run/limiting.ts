import type { Verdict } from '../conformity/decide';
import type { SeriesDocument } from '../procedure/document-schema';
import { isDetermined } from '../evaluate/undetermined';
import { placedPoint, type RunState } from '../state/run-state';
import { isJudged } from './judged-points';
import { pointUnit, seriesOf } from './place-words';
import { entriesOf, evaluationIfAny, setAsLeft, verdictAsLeft } from './run-results';
import { shortRange } from './shown-value';

/** What an instrument may be used for: a series whole, or from one point of it to another, in the unit of its points. */
export type Limitation = { series: string; lower?: number | undefined; upper?: number | undefined };

/** A place along a series, and whether everything that is judged there is inside. */
type Stretch = { nominal: number | undefined; isInside: boolean };

const isGood = (verdict: Verdict | null | undefined): boolean => verdict === 'pass' || verdict === 'conditional-pass';

const judgedSeries = (state: RunState): SeriesDocument[] =>
  state.procedure.series.filter(
    (s) => !s.gate && setAsLeft(state, s.id) !== null && s.results.some((r) => isJudged(r) && !r.gate),
  );

/** The points of a series as it was left, least first, each once, whatever instance or passage read it. */
function stretches(state: RunState, series: SeriesDocument): Stretch[] {
  const set = setAsLeft(state, series.id)!;
  const judged = series.results.filter((r) => isJudged(r) && !r.gate).map((r) => r.symbol);
  const at = new Map<string, Stretch>();
  for (const entry of entriesOf(evaluationIfAny(state, set), series.id))
    for (const point of entry.points) {
      const nominal = placedPoint(state, {
        set,
        series: series.id,
        ...(entry.each ? { each: entry.each } : {}),
        point: point.id,
      })?.nominal;
      const results = judged.flatMap((symbol) => point.results[symbol] ?? []);
      if (results.length === 0) continue;
      const isInside = results.every((r) => isDetermined(r) && isGood(r.verdict));
      const key = nominal === undefined ? point.id : String(nominal);
      at.set(key, { nominal, isInside: isInside && (at.get(key)?.isInside ?? true) });
    }
  return [...at.values()].sort((a, b) => (a.nominal ?? 0) - (b.nominal ?? 0));
}

/** Statistics and answers of a series that are judged and not inside: they hold for the whole of it. */
const failsAsAWhole = (state: RunState, series: SeriesDocument): boolean =>
  entriesOf(evaluationIfAny(state, setAsLeft(state, series.id)!), series.id).some((entry) =>
    Object.values(entry.aggregates).some(
      (a) => a !== undefined && a.verdict !== undefined && a.verdict !== null && !isGood(a.verdict),
    ),
  );

/** What a series holds as it was left: the whole of it, the longest stretch of two points and more, or nothing. */
function heldBy(state: RunState, series: SeriesDocument): Limitation | null {
  const all = stretches(state, series);
  if (all.length === 0 || failsAsAWhole(state, series)) return null;
  if (all.every((p) => p.isInside)) return { series: series.id };
  if (all.some((p) => p.nominal === undefined)) return null;
  let best: Stretch[] = [];
  let run: Stretch[] = [];
  for (const point of all) {
    run = point.isInside ? [...run, point] : [];
    if (run.length > best.length) best = run;
  }
  return best.length < 2 ? null : { series: series.id, lower: best[0]!.nominal!, upper: best.at(-1)!.nominal! };
}

/**
 * What an instrument that is outside as it was left could be limited to: the series, and the stretches of them, that it holds. Null where
 * it is inside as a whole, or holds nothing that could be named.
 * @example proposedLimits(run)[0].series // 'error'
 */
export function proposedLimits(state: RunState): Limitation[] | null {
  if (isGood(verdictAsLeft(state))) return null;
  const held = judgedSeries(state).flatMap((s) => heldBy(state, s) ?? []);
  return held.length > 0 ? held : null;
}

/**
 * Why an instrument cannot be limited so; null where it holds all of it.
 * @example notHeld(run, []) // 'Say what it may be used for.'
 */
export function notHeld(state: RunState, to: readonly Limitation[]): string | null {
  if (to.length === 0) return 'Say what it may be used for.';
  for (const { series: id, lower, upper } of to) {
    const series = judgedSeries(state).find((s) => s.id === id);
    if (!series) return 'Nothing was judged there as it was left.';
    if (failsAsAWhole(state, series)) return `${series.title}: what is told of the whole of it is outside its limits.`;
    const within = stretches(state, series).filter(
      (p) => (lower === undefined || (p.nominal ?? lower) >= lower) && (upper === undefined || (p.nominal ?? upper) <= upper),
    );
    if (within.length === 0) return `${series.title}: nothing was read there.`;
    const outside = within.find((p) => !p.isInside);
    if (outside)
      return `${series.title}${outside.nominal === undefined ? '' : ` at ${shortRange(outside.nominal, outside.nominal, pointUnit(state, { set: setAsLeft(state, id)!, series: id }))}`} is not inside its limits.`;
  }
  return null;
}

/**
 * What an instrument is limited to, in words: where only one series is judged its range alone.
 * @example limitedWords(run, [{ series: 'error', lower: 0, upper: 10 }]) // '0 to 10 mm'
 */
export function limitedWords(state: RunState, to: readonly Limitation[]): string {
  const all = judgedSeries(state);
  const words = to.map(({ series: id, lower, upper }) => {
    const title = seriesOf(state, id)?.title ?? id;
    if (lower === undefined || upper === undefined) return title;
    const range = shortRange(lower, upper, pointUnit(state, { set: setAsLeft(state, id) ?? state.sets[0]!.id, series: id }));
    return all.length === 1 ? range : `${title}, ${range}`;
  });
  const others = all.filter((s) => !to.some((t) => t.series === s.id)).map((s) => s.title);
  return `${words.join('; ')}${others.length ? `; not ${others.join(', ')}` : ''}`;
}
