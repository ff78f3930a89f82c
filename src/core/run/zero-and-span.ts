/**
 * Two settings that fight: the zero moves the reading at the top, the span that at the bottom. Both are set by watching the display at their
 * own point. What the one drags with it is learnt from the first round; then the span is set beside its aim by as much as the zero, set
 * last, takes away again (two linear equations; with drags r₀ and r₁ per unit and ρ = r₀ r₁, a top that reads h is left at −h ρ/(1 − ρ)).
 */

/** An error read at the point of the zero (0) or of the span (1), in the unit of the result; in the order in which they were read. */
export type Between = { at: 0 | 1; error: number };

/** What comes next. */
export type NextTurn = {
  /** Read the point; turn its setting until the error is the aim, and read it; all is inside; too many rounds; the two do the same. */
  do: 'read' | 'turn' | 'done' | 'stop' | 'repair';
  at: 0 | 1;
  /** Error to be left there. */ aim: number;
  /** What each drags with it, per unit at its own point; null until that is learnt. */ drags: [number | null, number | null];
  /** Rounds gone, and how many are left at the least; null where that is not known. */ round: number;
  left: number | null;
};

/** Readings one after the other at one point: as it was come to, and as it was left. */
type Visit = { at: 0 | 1; first: number; last: number; turns: number };

function visitsOf(readings: readonly Between[]): Visit[] {
  const visits: Visit[] = [];
  for (const { at, error } of readings) {
    const before = visits.at(-1);
    if (before?.at === at) {
      before.last = error;
      before.turns++;
    } else visits.push({ at, first: error, last: error, turns: 0 });
  }
  return visits;
}

/** What the setting of each point drags with it at the other, by least squares over the turns so far. */
function dragsOf(found: readonly [number, number], visits: readonly Visit[]): [number | null, number | null] {
  const known: [number, number] = [...found];
  const sums = [
    { xy: 0, xx: 0 },
    { xy: 0, xx: 0 },
  ];
  visits.forEach((visit, i) => {
    const before = visits[i - 1];
    if (before && before.turns > 0 && before.at !== visit.at) {
      const turned = before.last - before.first;
      sums[before.at]!.xy += turned * (visit.first - known[visit.at]);
      sums[before.at]!.xx += turned ** 2;
    }
    known[visit.at] = visit.last;
  });
  return sums.map(({ xy, xx }) => (xx > 0 ? xy / xx : null)) as [number | null, number | null];
}

/** Two settings this much alike cannot hold both ends. */
const alike = 0.1;
/** How near the aim is near enough, as a share of what the errors are to be within. */
const nearEnough = 0.25;

/**
 * What to do next with two settings that fight.
 * @param found errors as found, at the point of the zero and of the span @param readings those since
 * @param within both errors are to be @param most rounds @param step least change that the display shows, in the unit of the errors
 * @example nextTurn({ found: [0.4, 1], readings: [{ at: 0, error: 0.4 }], within: 0.1, most: 5, step: 0.01 }).do // 'turn'
 */
export function nextTurn(of: {
  found: readonly [number, number];
  readings: readonly Between[];
  within: number;
  most: number;
  step: number;
}): NextTurn {
  const { found, readings, within, most, step } = of;
  const visits = visitsOf(readings);
  const drags = dragsOf(found, visits);
  const [zero, span] = drags;
  const together = zero !== null && span !== null ? zero * span : null;
  const round = Math.ceil(visits.length / 2);
  const answer = (what: NextTurn['do'], at: 0 | 1, aim = 0): NextTurn => ({
    do: what,
    at,
    aim,
    drags,
    round,
    left: what === 'done' ? 0 : together === null ? null : 1,
  });
  const present = visits.at(-1);
  if (!present) return answer('read', 0);
  const { at, first, last, turns } = present;
  const other = visits.at(-2)?.last ?? found[at === 0 ? 1 : 0];
  if (turns === 0 && Math.abs(last) <= within && Math.abs(other) <= within) return answer('done', at);
  if (together !== null && Math.abs(1 - together) <= alike) return answer('repair', at);
  const aim = at === 1 && together !== null ? (-first * together) / (1 - together) : 0;
  const near = Math.max(nearEnough * within, 0.51 * step);
  if (Math.abs(last - aim) > near) return visits.length > 2 * most || turns > most ? answer('stop', at) : answer('turn', at, aim);
  return answer('read', at === 0 ? 1 : 0);
}
