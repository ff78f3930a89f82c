import type { Policy } from './policy';
import { monthsInWords, percent, silent, type Proposal } from './proposal';
import { bounded } from './policy';
import { driftModelTitles, fitDrift, monthsInside, probabilityInside, type DriftFit, type DriftLimits } from './drift';
import type { DriftVisit } from './drift-filter';
import { dayAfter, inOrder, monthsBetween, namedResult, type NamedResult, type Pair, type Visit } from './visit';

/** With fewer days on which it was read, a rate is only what was assumed before; unless they tell plainly that it moves. */
const leastDaysForDrift = 3;
/** Values of fewer visits are not asked for. */
export const leastVisitsForDrift = 2;
/** So improbable must it be that an error stays where it is, for two days to tell that it moves. */
const plainlyMoves = 0.05;

/** Whether the visits of a result tell how it moves: three days do, two where it plainly moved in between. */
function tellsDrift({ visits, limits }: PointHistory): boolean {
  const days = new Set(visits.map((v) => v.day)).size;
  if (days >= leastDaysForDrift || days < leastVisitsForDrift) return days >= leastDaysForDrift;
  return visits.every((v) => v.found.standardUncertainty > 0) && fitDrift(visits, limits).evidence.constant < plainlyMoves;
}

/** One result over the years, ready for a fit: limits as the last visit had them. */
export type PointHistory = NamedResult & {
  limits: DriftLimits;
  /** What the rule accepts; null on both sides where it can accept nothing. */ accept: DriftLimits;
  visits: (DriftVisit & { run: string; day: string; pair: Pair })[];
  /** Visits left out, with why. */ left: string[];
  /** A check standard: it is shown, and tells no date. */ isCheck: boolean;
};

const sameLimits = (a: Pair, b: Pair): boolean => {
  const [x, y] = [a.left ?? a.found, b.left ?? b.found];
  return x?.lower === y?.lower && x?.upper === y?.upper;
};

/**
 * What was read of each result of the last visit, over all visits. A result in another unit is left out; limits that have changed are
 * said, and the last ones hold.
 * @param visits of one instrument, in any order
 * @example pointHistories(visits) // []
 */
export function pointHistories(visits: readonly Visit[]): PointHistory[] {
  const ordered = inOrder(visits);
  const last = ordered.findLast((v) => v.pairs.length > 0);
  if (!last) return [];
  const byKey = ordered.map((v) => new Map(v.pairs.map((p) => [p.key, p])));
  return last.pairs.flatMap((pair): PointHistory[] => {
    const now = pair.left ?? pair.found;
    if (!now) return [];
    const left: string[] = [];
    const read: PointHistory['visits'] = [];
    let changed = false;
    let certificates: string | null = null;
    for (const [i, visit] of ordered.entries()) {
      const then = byKey[i]!.get(pair.key);
      const found = then?.found ?? then?.left;
      if (!then || !found) continue;
      if (then.unit !== pair.unit) {
        left.push(`${visit.day}: in ${then.unit}, not in ${pair.unit}`);
        continue;
      }
      changed ||= !sameLimits(then, pair);
      const named = visit.certificates.join('|');
      read.push({
        at: monthsBetween(ordered[0]!.day, visit.day),
        run: visit.run,
        day: visit.day,
        pair: then,
        found,
        left: then.found ? then.left : null,
        hasNewStandards: certificates !== null && certificates !== named,
      });
      certificates = named;
    }
    if (changed) left.push('its limits have changed: the last ones hold');
    return [
      {
        ...namedResult(pair),
        limits: { lower: now.lower, upper: now.upper },
        accept: { lower: now.acceptLower, upper: now.acceptUpper },
        visits: read,
        left,
        isCheck: pair.isCheck ?? false,
      },
    ];
  });
}

/**
 * The limits that a prediction is held against: what the rule accepts, or the tolerance where it can accept nothing.
 * @example guardedLimits({ limits: { lower: -4, upper: 4 }, accept: { lower: -3, upper: 3 } }) // { lower: -3, upper: 3 }
 */
export const guardedLimits = ({ limits, accept }: PointHistory): DriftLimits =>
  accept.lower === null && accept.upper === null ? limits : accept;

/**
 * So many times the longest that a result has gone between two visits may it go: a few quiet visits make the simple ways of moving
 * likely, and what wanders all the same would be promised too long (measured by the bench of dates).
 */
const mostBeyondSeen = 1.25;

/** The longest that a result may go, in months: by the policy, and by how long it has gone before. */
export function longestFor(visits: readonly Pick<DriftVisit, 'at'>[], ceiling: number): number {
  const gaps = visits.slice(1).map((v, i) => v.at - visits[i]!.at);
  return gaps.length ? Math.min(ceiling, mostBeyondSeen * Math.max(...gaps)) : ceiling;
}

export type PointDrift = {
  history: PointHistory;
  fit: DriftFit;
  months: number;
  isGuarded: boolean;
  /** How far outside its limits it was left, in its unit over the scale of the fit; 0 inside. */ outBy: number;
  /** Whether it would stay inside for longer than it was ever seen to. */ isHeld: boolean;
};

/** How far what was read last, after any adjustment, is outside: however little that reading is sure of. */
function leftOutside({ visits, limits: { lower, upper } }: PointHistory): number {
  const last = visits.at(-1)!;
  const { value } = last.left ?? last.found;
  return Math.max(0, lower === null ? 0 : lower - value, upper === null ? 0 : value - upper);
}

/** Each result's drift, the one that is the first to leave its limits at the front. */
export function driftsOf(histories: readonly PointHistory[], policy: Policy): PointDrift[] {
  return histories
    .filter((h) => !h.isCheck && h.visits.length > 0 && (h.limits.lower !== null || h.limits.upper !== null))
    .map((history) => {
      const fit = fitDrift(history.visits, history.limits);
      const guarded = guardedLimits(history);
      const longest = longestFor(history.visits, policy.ceiling);
      // What lies between the accepted and the limit itself is held against the limit: it cannot come inside by waiting less.
      const isGuarded = probabilityInside(fit, guarded, 0) >= policy.target;
      const outBy = leftOutside(history) / fit.scale;
      const months = outBy > 0 ? 0 : monthsInside(fit, isGuarded ? guarded : history.limits, policy.target, longest);
      return { history, fit, months, isGuarded, outBy, isHeld: months >= longest && longest < policy.ceiling };
    })
    .sort((a, b) => a.months - b.months || b.outBy - a.outBy || roomAfter(a, policy) - roomAfter(b, policy));
}

/** How likely a result is inside at the longest interval: which of those that all stay inside is nearest to leaving. */
const roomAfter = ({ fit, history }: PointDrift, policy: Policy): number =>
  probabilityInside(fit, history.limits, policy.ceiling);

const assumes =
  'That what it does between visits is one of four: stays, moves steadily, wanders, or moves and wanders; and that it is used as before.';

/** The next date by drift: where the prediction of the point that drifts worst meets its guarded limit. */
export function driftProposal(visits: readonly Visit[], policy: Policy, from: string): Proposal {
  const histories = pointHistories(visits).filter((h) => !h.isCheck && tellsDrift(h));
  if (histories.length === 0)
    return silent(
      'drift',
      `No point has been read on ${leastDaysForDrift} days yet: a drift of its own cannot be told.`,
      assumes,
    );
  const [worst] = driftsOf(histories, policy);
  if (!worst) return silent('drift', 'Nothing that was read has limits to drift to.', assumes);
  const { history, fit, months } = worst;
  const elapsed = Math.max(0, monthsBetween(history.visits.at(-1)!.day, from));
  const wanted = bounded(months - elapsed, policy);
  const at = [history.what, history.point].filter(Boolean).join(', ');
  const sentence =
    worst.outBy > 0
      ? `${at} was left outside its limits: the shortest interval, ${monthsInWords(wanted)}.`
      : months <= 0
        ? `${at} is not inside its limits with ${percent(policy.target)} even now: the shortest interval, ${monthsInWords(wanted)}.`
        : months >= policy.ceiling
          ? `Every point stays inside with ${percent(policy.target)} for as long as the policy allows, ${monthsInWords(policy.ceiling)}; ${at} is nearest to leaving.`
          : worst.isHeld
            ? `${at} stays inside with ${percent(policy.target)} for longer than it has ever gone: a quarter more than its longest interval, ${monthsInWords(months)}${wanted > months ? `; the policy's shortest is ${monthsInWords(wanted)}` : ''}.`
            : `${at} ${driftModelTitles[fit.best]} and is inside its ${worst.isGuarded ? 'guarded ' : ''}limits with ${percent(policy.target)} for ${monthsInWords(months)}${wanted > months ? `; the policy's shortest is ${monthsInWords(wanted)}` : ''}.`;
  const inside = probabilityInside(fit, worst.isGuarded ? guardedLimits(history) : history.limits, wanted + elapsed);
  return {
    school: 'drift',
    date: dayAfter(from, wanted),
    months: wanted,
    reason: [sentence, ...history.left.map((l) => `${l[0]!.toUpperCase()}${l.slice(1)}.`)].join(' '),
    assumes,
    sure: `${history.visits.length} visits; stays ${percent(fit.evidence.constant)}, steadily ${percent(fit.evidence.linear)}, wanders ${percent(fit.evidence['random-walk'])}, both ${percent(fit.evidence['linear-and-walk'])}; inside at that date with ${percent(inside, 1)}`,
  };
}
