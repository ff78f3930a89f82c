import { fitDrift, predictionBand, type DriftLimits, type DriftModel } from './drift';
import { driftsOf, guardedLimits, pointHistories, type PointHistory } from './drift-school';
import type { Policy } from './policy';
import type { Proposals } from './propose';
import type { QuickCheck } from './quick-checks';
import { dayAfter, monthsBetween, namedResult, type NamedResult, type Visit } from './visit';

/** So many points are offered for the chart, those that drift worst first. */
const mostPoints = 60;
/** Days at which a band is drawn. */
const bandSteps = 24;

type Read = { value: number; U: number };
/** One result over the years as a chart draws it; numbers in `unit`. */
export type HistoryPoint = NamedResult & {
  limits: DriftLimits;
  guarded: DriftLimits;
  visits: { day: string; run: string; found: Read; left: Read | null; hasNewStandards: boolean }[];
  /** What is expected from its last visit on, beyond each edge with what the target of the policy leaves; empty with one visit. */
  band: { day: string; low: number; middle: number; high: number }[];
  evidence: Record<DriftModel, number> | null;
  left: string[];
  checks: QuickCheck[];
};
/** A due date that a person moved, with the reason. */
export type DateMove = { before: string | null; after: string; reason: string; day: string; person: string };
export type InstrumentHistory = {
  today: string;
  target: number;
  kin: string;
  points: HistoryPoint[];
  /** Points that are not among those offered. */ more: number;
  proposals: Proposals;
  counts: { day: string; count: number }[];
  useUnit: 'h' | 'cycles' | null;
  /** Since when it is out, being used, by the laboratory's clock; null where it is here. */
  out: { since: string; hours: number; person: string; place: string } | null;
  moves: DateMove[];
};

function bandOf(history: PointHistory, target: number, until: string): Pick<HistoryPoint, 'band' | 'evidence'> {
  const last = history.visits.at(-1)!;
  const months = monthsBetween(last.day, until);
  if (history.isCheck || history.visits.length < 2 || months <= 0) return { band: [], evidence: null };
  const fit = fitDrift(history.visits, history.limits);
  const band = Array.from({ length: bandSteps + 1 }, (_, i) => {
    const at = (months * i) / bandSteps;
    // What is beyond one edge is what the target leaves: so the band meets a limit where the date is.
    return { day: dayAfter(last.day, at), ...predictionBand(fit, 2 * target - 1, at) };
  });
  return { band, evidence: fit.evidence };
}

/**
 * Each result over the years as a chart draws it, what drifts worst first.
 * @param until ISO day to which the band is drawn @param checks quick checks by the key of their result
 * @example historyPoints(visits, plainPolicy, '2027-01-01', new Map()) // { points: [], more: 0 }
 */
export function historyPoints(
  visits: readonly Visit[],
  policy: Policy,
  until: string,
  checks: ReadonlyMap<string, readonly QuickCheck[]>,
): { points: HistoryPoint[]; more: number } {
  const all = pointHistories(visits);
  const worstFirst = driftsOf(all, policy).map((d) => d.history);
  const others = all.filter((h) => !worstFirst.includes(h));
  const points = [...worstFirst, ...others].slice(0, mostPoints).map((h): HistoryPoint => ({
    ...namedResult(h),
    limits: h.limits,
    guarded: guardedLimits(h),
    visits: h.visits.map(({ run, day, pair, hasNewStandards }) => {
      const read = (m: (typeof pair)['found']): Read | null => m && { value: m.value, U: m.expandedUncertainty };
      return {
        day,
        run,
        found: read(pair.found ?? pair.left)!,
        left: pair.found ? read(pair.left) : null,
        hasNewStandards,
      };
    }),
    ...bandOf(h, policy.target, until),
    left: h.left,
    checks: [...(checks.get(h.key) ?? [])],
  }));
  return { points, more: Math.max(0, all.length - mostPoints) };
}
