import { shortRange } from './shown-value';
import { isJudged } from './judged-points';
import { placesKey } from '../state/place-keys';
import { isPointRead, skipOf } from '../state/progress';
import type { RunState } from '../state/run-state';
import { pointUnit } from './place-words';

/** Points that stop so far before an end of the range that is used leave it uncovered, as a share of that range. */
const leftOut = 0.15;

/**
 * Series whose points do not reach the range that is used, as they were read: what lies beyond is told by nothing. Of series along the
 * range of the instrument, in its unit, that are read once for the whole of it.
 * @example rangeNotCovered(run, 'as-found') // []
 */
export function rangeNotCovered(state: RunState, set: string): string[] {
  const { unit, usedLower, usedUpper } = state.instrument;
  const span = usedUpper - usedLower;
  if (!(span > 0)) return [];
  return state.procedure.series.flatMap((series) => {
    const points = state.places.get(placesKey(set, series.id, null))?.points ?? [];
    if (series.gate || !series.results.some((r) => isJudged(r) && !r.gate)) return [];
    if (points.length < 3 || pointUnit(state, { set, series: series.id }) !== unit) return [];
    const read = points.flatMap((p) => {
      const place = { set, series: series.id, point: p.id };
      return p.nominal !== undefined && isPointRead(state, place) && !skipOf(state, place) ? [p.nominal] : [];
    });
    if (read.length === 0) return [];
    const [from, to] = [Math.min(...read), Math.max(...read)];
    const isCovered = from - usedLower <= leftOut * span && usedUpper - to <= leftOut * span;
    return isCovered
      ? []
      : [
          `${series.title}: read from ${shortRange(from, to, unit)}, and used from ${shortRange(usedLower, usedUpper, unit)}: what lies beyond is told by nothing`,
        ];
  });
}
