import type { Place } from '../plan/plan-schema';
import { unitIn, numberIn } from '../steps/step-context';
import type { RunState } from '../state/run-state';
import { slotKey } from '../state/place-keys';
import { isJudged, judgedPoints, type JudgedPoint } from './judged-points';
import { placeTitle, seriesOf, shownUnit } from './place-words';
import { observationOf } from './reading-rules';
import { settingIn } from './run-results';
import { lookedAt } from './rungs';
import { shownPair, withPrintedUnit } from './shown-value';

/** A judged value in doubt, and what more readings of it would tell. */
export type HowMany = {
  place: Place & { series: string; point: string };
  /** How many more; null where no number of them would tell. */ more: number | null;
  words: string;
};

/** More readings of one point than this are no help at a bench. */
const mostInAll = 30;

/** Where scatter enters a result: its standard uncertainty in the unit of the result, and what that never falls under. */
function scatterOf(state: RunState, { place, result }: JudgedPoint, symbol: string): { u: number; least: number } | null {
  const doc = seriesOf(state, place.series)!.results.find((r) => r.symbol === symbol)!;
  const quantity = doc.quantities?.find((q) => q.distribution.type === 'readings');
  const found = result.contributions.find((c) => c.symbol === quantity?.symbol);
  if (!quantity || !found || quantity.distribution.type !== 'readings') return null;
  const { floor } = quantity.distribution;
  const least = floor === undefined ? 0 : numberIn({ state, setting: () => settingIn(state, place.set), place }, floor);
  return least === undefined ? null : { u: Math.abs(found.contribution), least: Math.abs(found.sensitivity * least) };
}

/**
 * How many readings in all bring an expanded uncertainty down to what is wanted; null where none do. The factor is taken to stay: with more
 * degrees of freedom it only falls.
 * @param scatter standard uncertainty that falls as 1/√n down to `least` @param rest of all others
 * @example readingsFor({ wanted: 1, factor: 2, count: 3, scatter: 0.8, least: 0, rest: 0.3 }) // 12
 */
export function readingsFor(of: {
  wanted: number;
  factor: number;
  count: number;
  scatter: number;
  least: number;
  rest: number;
}): number | null {
  const { wanted, factor, count, scatter, least, rest } = of;
  for (let n = count + 1; n <= mostInAll; n++)
    if (factor * Math.hypot(rest, Math.max(least, scatter * Math.sqrt(count / n))) <= wanted) return n;
  return null;
}

/** Whether a point can be read more often as the set stands: numbers only, one passage, no step of its own between repeats. */
function isRepeatable(state: RunState, place: Place): boolean {
  const series = seriesOf(state, place.series)!;
  if (series.sweeps || series.steps.some((s) => s.before === 'repeat' || s.after === 'repeat')) return false;
  const slots = lookedAt(state, place);
  return slots.length > 0 && slots.every((s) => (observationOf(state, s)?.type ?? 'number') === 'number');
}

/** How often each thing is read at a place. @example repeatsAt(run, place) // 3 */
export const repeatsAt = (state: RunState, place: Place): number => {
  const [first] = lookedAt(state, place);
  let repeat = 0;
  while (first && state.live.has(slotKey({ ...first, repeat: repeat + 1 }))) repeat++;
  return repeat;
};

/**
 * What is neither clearly inside nor clearly outside in a set, the most doubtful first: about how many more readings would tell, were it to
 * stay where it is.
 * @example howManyMore(run, 'as-found').length // 2
 */
export function howManyMore(state: RunState, set: string): HowMany[] {
  const told = state.procedure.series.flatMap((series) =>
    series.gate
      ? []
      : series.results
          .filter((r) => isJudged(r) && !r.gate)
          .flatMap((doc) =>
            judgedPoints(state, set, series, [doc.symbol]).flatMap((p): (HowMany & { away: number })[] => {
              const { place, result } = p;
              const { limits, acceptance, verdict, expandedUncertainty, coverageFactor, standardUncertainty } = result;
              if (!limits || !acceptance || (verdict !== 'conditional-pass' && verdict !== 'conditional-fail')) return [];
              const ends = (['lower', 'upper'] as const).flatMap((end) => {
                const [limit, accepted] = [limits[end], acceptance[end]];
                return limit === undefined || accepted === undefined
                  ? []
                  : [{ away: Math.abs(result.estimate - limit), guard: Math.abs(limit - accepted) }];
              });
              const near = ends.toSorted((a, b) => a.away - b.away)[0];
              const scatter = scatterOf(state, p, doc.symbol);
              const count = repeatsAt(state, place);
              if (!near || near.guard === 0 || !scatter || count < 2 || !isRepeatable(state, place)) return [];
              const rest = Math.sqrt(Math.max(0, standardUncertainty ** 2 - scatter.u ** 2));
              const wanted = (near.away / near.guard) * expandedUncertainty;
              const all = readingsFor({
                wanted,
                factor: coverageFactor,
                count,
                scatter: scatter.u,
                least: Math.min(scatter.u, scatter.least),
                rest,
              });
              const [unit, shownIn] = [unitIn(state, doc.unit, place), shownUnit(state, doc, place)];
              const U = (x: number) => withPrintedUnit(shownPair(0, x, unit, shownIn, limits).U, shownIn);
              const where = placeTitle(state, place) || series.title;
              const more = all === null ? null : all - count;
              const words =
                more === null
                  ? `${where}: no number of readings would tell; with ${mostInAll} of them U is still ${U(
                      coverageFactor *
                        Math.hypot(rest, Math.max(Math.min(scatter.u, scatter.least), scatter.u * Math.sqrt(count / mostInAll))),
                    )}, and ${U(wanted)} would be wanted`
                  : `${where}: about ${more} more ${more === 1 ? 'reading' : 'readings'} would tell, if it stays where it is`;
              return [{ place: { ...place, series: series.id, point: place.point! }, more, words, away: near.away / near.guard }];
            }),
          ),
  );
  return told.toSorted((a, b) => a.away - b.away).map(({ away: _away, ...h }) => h);
}
