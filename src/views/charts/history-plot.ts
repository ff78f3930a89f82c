import type { HistoryPoint } from '../../core/interval/history';
import { inShownUnit } from '../../core/run/shown-value';

/** A value with its uncertainty on the time axis; `off`: farther out than the chart shows, its error held at the edge. */
export type Plotted = { time: number; error: number; U: number; off: boolean };

export type HistoryPlot = {
  found: Plotted[];
  left: Plotted[];
  /** Steps from found to left of one visit. */ moved: { run: string; time: number; from: number; to: number }[];
  checks: { time: number; error: number }[];
  band: { time: number; band: [number, number]; middle: number }[];
  limits: number[];
  /** Where the rule accepts, where that is not at the limits. */ guarded: number[];
  /** What lies between is inside, as far as the chart reaches. */ inside: [number, number];
  bottom: number;
  top: number;
  /** Of the time axis. */ from: number;
  until: number;
};

/** The chart is drawn to the scale of the tolerance and shows this many times as much. */
const widest = 4;
const month = 30 * 86_400_000;

/**
 * Where the values of one result stand in its chart, in the unit that it is shown in.
 * @param dates further days that the time axis shall reach (ISO 8601)
 */
export function historyPlot(history: HistoryPoint, dates: readonly string[]): HistoryPlot {
  const shown = (n: number) => inShownUnit(n, history.unit, history.shownIn);
  const known = (bounds: { lower: number | null; upper: number | null }) =>
    [bounds.lower, bounds.upper].filter((l) => l !== null).map(shown);
  const limits = known(history.limits);
  const values = history.visits.flatMap((v) => [v.found, ...(v.left ? [v.left] : [])]);
  const [one, other] = limits;
  const centre = one !== undefined && other !== undefined && one * other > 0 ? (one + other) / 2 : 0;
  const reach = (n: number) => Math.abs(n - centre);
  const limit = Math.max(...limits.map(reach), 1e-12);
  const farthest = Math.max(...values.map((v) => reach(shown(v.value)) + Math.abs(shown(v.U))));
  const extent = Math.min(widest * limit, Math.max(1.5 * limit, farthest * 1.05));
  // Where nothing is below zero, nothing of the chart is spent on it.
  const isOneSided = history.limits.lower === null && values.every((v) => shown(v.value) >= 0);
  const [bottom, top] = [isOneSided ? 0 : centre - extent, centre + extent];
  const held = (n: number) => Math.max(bottom, Math.min(top, n));
  const plot = (day: string, v: { value: number; U: number }): Plotted => {
    const off = shown(v.value) > top || shown(v.value) < bottom;
    return { time: Date.parse(day), error: held(shown(v.value)), U: off ? 0 : Math.abs(shown(v.U)), off };
  };
  const times = [...history.visits.map((v) => v.day), ...dates].map((day) => Date.parse(day));
  const [from, until] = [Math.min(...times) - 2 * month, Math.max(...times)];
  return {
    found: history.visits.map((v) => plot(v.day, v.found)),
    left: history.visits.flatMap((v) => (v.left ? [plot(v.day, v.left)] : [])),
    moved: history.visits.flatMap((v) =>
      v.left ? [{ run: v.run, time: Date.parse(v.day), from: plot(v.day, v.found).error, to: plot(v.day, v.left).error }] : [],
    ),
    checks: history.checks.map((c) => ({ time: Date.parse(c.at), error: held(shown(c.value)) })),
    band: history.band.map((b) => ({
      time: Date.parse(b.day),
      band: [held(shown(b.low)), held(shown(b.high))],
      middle: held(shown(b.middle)),
    })),
    limits,
    guarded: known(history.guarded).filter((g) => !limits.includes(g)),
    inside: [
      history.limits.lower === null ? bottom : shown(history.limits.lower),
      history.limits.upper === null ? top : shown(history.limits.upper),
    ],
    bottom,
    top,
    from,
    // A sixth more, for the names of the methods beside their marks.
    until: until + (until - from) / 6,
  };
}
