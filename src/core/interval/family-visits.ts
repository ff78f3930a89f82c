import { inOrder, monthsBetween, type Visit } from './visit';

/** What a visit tells of reliability: seen inside or outside `until` months after being put in order; inside at `since` if that is not 0. */
export type Outcome = { since: number; until: number; isInside: boolean };

/** Outcomes that are nearly the same, counted; times are their means. */
export type Cell = { since: number; until: number; inside: number; outside: number };

/**
 * What the visits of one instrument tell: when it failed lies somewhere between two visits (interval-censored). Time begins anew where
 * it was adjusted or put right; what was found outside and left so begins nothing. Visits on one day, and those not judged, tell nothing.
 * @example outcomesOf(visits).length // 3
 */
export function outcomesOf(visits: readonly Pick<Visit, 'day' | 'isInside' | 'isRenewed'>[]): Outcome[] {
  const outcomes: Outcome[] = [];
  let renewed: string | null = null;
  let before: string | null = null;
  for (const visit of inOrder(visits)) {
    if (visit.isInside !== null) {
      if (renewed !== null && before !== null) {
        const until = monthsBetween(renewed, visit.day);
        const since = monthsBetween(renewed, before);
        if (until > since) outcomes.push({ since, until, isInside: visit.isInside });
      }
      // The first visit tells that it is in order from here on, or not.
      if (visit.isRenewed || (renewed === null && visit.isInside)) renewed = visit.day;
      else if (!visit.isInside) renewed = null;
      before = visit.day;
    } else if (visit.isRenewed) [renewed, before] = [visit.day, visit.day];
  }
  return outcomes;
}

/** Months since it was put in order, at its last visit; null where it was left outside, or was never here. */
export function monthsSinceRenewal(visits: readonly Pick<Visit, 'day' | 'isInside' | 'isRenewed'>[]): number | null {
  const ordered = inOrder(visits);
  let renewed: string | null = null;
  for (const visit of ordered) {
    if (visit.isRenewed || (renewed === null && visit.isInside)) renewed = visit.day;
    else if (visit.isInside === false) renewed = null;
  }
  return renewed === null ? null : monthsBetween(renewed, ordered.at(-1)!.day);
}

/** Times are gathered in steps that grow by these shares; their means stand for them. */
const fine = { since: Math.log(1.12), span: Math.log(1.06) };
const coarse = { since: Math.log(1.6), span: Math.log(1.25) };

function gathered(cells: Iterable<Cell>, grain: { since: number; span: number }): Cell[] {
  const sums = new Map<number, Cell>();
  for (const { since, until, inside, outside } of cells) {
    const a = since <= 0 ? 0 : Math.max(1, Math.round(Math.log(since / 0.1) / grain.since));
    const key = a * 10_000 + Math.round(Math.log(Math.max(0.01, until - since) / 0.01) / grain.span);
    let sum = sums.get(key);
    if (!sum) sums.set(key, (sum = { since: 0, until: 0, inside: 0, outside: 0 }));
    const seen = inside + outside;
    sum.since += seen * since;
    sum.until += seen * until;
    sum.inside += inside;
    sum.outside += outside;
  }
  return [...sums.values()].map((sum) => {
    const seen = sum.inside + sum.outside;
    return { ...sum, since: sum.since / seen, until: sum.until / seen };
  });
}

/** Outcomes gathered where they are nearly the same, so that a fit of thousands is as quick as one of hundreds. */
export const cellsOf = (outcomes: readonly Outcome[]): Cell[] =>
  gathered(
    outcomes.map(({ since, until, isInside }) => ({ since, until, inside: Number(isInside), outside: Number(!isInside) })),
    fine,
  );

/** Fewer cells, for a first look. */
export const coarser = (cells: readonly Cell[]): Cell[] => gathered(cells, coarse);

/** Where instruments near the limit are adjusted as well, those left as they were are known to be within this much of it. */
export function leftWithin(visits: readonly (readonly Pick<Visit, 'isInside' | 'isRenewed' | 'share'>[])[]): number {
  const left = visits.flatMap((of) => of.filter((v) => v.isInside && !v.isRenewed && v.share !== null).map((v) => v.share!));
  return left.length < leastLeft
    ? 1
    : Math.min(
        1,
        left.reduce((a, b) => Math.max(a, b), 0),
      );
}
/** With fewer left as they were, the greatest of them says little of where a laboratory draws its line. */
const leastLeft = 30;
