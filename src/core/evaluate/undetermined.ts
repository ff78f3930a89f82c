import type { Limits } from '../conformity/tolerance';
import { isComplete } from './completeness';
import { Absent, LeftOut, OffScale, Undeterminable } from '../faults';
import { readingsIn } from './observed';
import { budgetAt, decidingTolerance, limitsAt, shownLimits, shownNumber, type ShownLimits } from './results';
import type { ResultDocument } from '../procedure/document-schema';
import { endOfScale } from './readings';
import type { ScaleEnd, Scope, Series, Setting } from './setting';

/** What is judged and cannot be worked out here: why, and what is known all the same. */
export type Undetermined = { verdict: 'fail' | 'not-determined'; why: string; limits?: ShownLimits };

/** Whether something judged was worked out. @example isDetermined({ estimate: 1, expandedUncertainty: 0.1 }) // true */
export const isDetermined = <T extends object>(result: T): result is Exclude<T, Undetermined> => !('why' in result);

/** Whether a value that cannot be had is still to come: its reading is, and the set is not all read. */
export const isStillToCome = (s: Setting, error: Absent): boolean => error.waitsFor === 'reading' && !isComplete(s);

/** Whether something limits a result at a place; what is not known yet may. */
export function isLimited(s: Setting, doc: Pick<ResultDocument, 'tolerance' | 'tolerances'>, scope: Scope): boolean {
  const tolerance = decidingTolerance(s, doc, scope.path);
  if (!tolerance) return false;
  try {
    const limits = limitsAt(s, tolerance, NaN, NaN, scope);
    return limits.lower !== null || limits.upper !== null;
  } catch (error) {
    if (error instanceof Absent) return true;
    throw error;
  }
}

/** What stands in place of a result that cannot be worked out; null where it is left out or its reading is still to come. */
export function undeterminedResult(
  s: Setting,
  series: Series,
  doc: ResultDocument,
  scope: Scope,
  error: Absent,
): Undetermined | null {
  if (error instanceof LeftOut || readingsIn(s, scope).length === 0) return null;
  if (error instanceof OffScale) return offScaleResult(s, series, doc, scope, error);
  const isJudged = (doc.tolerance ?? doc.tolerances) !== undefined;
  if (!(error instanceof Undeterminable) && (!isJudged || isStillToCome(s, error))) return null;
  return { verdict: 'not-determined', why: error.message };
}

/**
 * A result whose reading is at the end of its scale: outside where the error reckoned from that end is outside already on the side to
 * which it would go on, else not determined.
 */
function offScaleResult(s: Setting, series: Series, doc: ResultDocument, scope: Scope, error: OffScale): Undetermined {
  const nothing: Undetermined = { verdict: 'not-determined', why: error.message };
  const ends = endsIn(s, series, scope);
  if (!ends) return nothing;
  const readings = new Set(readingsIn(s, scope));
  const at = (place: 'end' | 'beyond') => {
    const lens: Setting = { ...s, offScale: { readings, ends, at: place }, memo: new Map() };
    return { lens, estimate: budgetAt(lens, doc, scope).estimate };
  };
  let known: { estimate: number; limits: Limits; slope: number };
  try {
    const { lens, estimate } = at('end');
    const tolerance = decidingTolerance(s, doc, scope.path);
    if (!tolerance) return nothing;
    const shown = (member: 'reference' | 'indication') => shownNumber(lens, doc, member, scope) ?? estimate;
    known = {
      estimate,
      limits: limitsAt(lens, tolerance, shown('indication'), shown('reference'), {
        ...scope,
        own: { [doc.symbol]: estimate },
      }),
      slope: at('beyond').estimate - estimate,
    };
  } catch (fault) {
    if (fault instanceof Absent) return nothing;
    throw fault;
  }
  const { estimate, limits, slope } = known;
  const isOutside =
    (slope > 0 && limits.upper !== null && isBeyond(estimate, limits.upper)) ||
    (slope < 0 && limits.lower !== null && isBeyond(-estimate, -limits.lower));
  return {
    verdict: isOutside ? 'fail' : 'not-determined',
    why: isOutside ? `${error.message} Reckoned from there it is outside already.` : error.message,
    limits: shownLimits(limits),
  };
}

/** The ends at which observations of a place lie; null where one states no end, or lies at both. */
function endsIn(s: Setting, series: Series, scope: Scope): Map<string, ScaleEnd> | null {
  const ends = new Map<string, ScaleEnd>();
  for (const reading of readingsIn(s, scope))
    for (const o of series.doc.observe) {
      if (o.type !== 'number') continue;
      const found = endOfScale(s, series, o, reading, scope);
      if (!found) continue;
      if (found.end === null || (ends.get(o.id)?.side ?? found.side) !== found.side) return null;
      ends.set(o.id, { side: found.side, end: found.end });
    }
  return ends.size ? ends : null;
}

const isBeyond = (value: number, limit: number): boolean => value - limit > 1e-9 * Math.max(Math.abs(value), Math.abs(limit));
