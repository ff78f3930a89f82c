import {
  CartesianGrid,
  ComposedChart,
  ErrorBar,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  XAxis,
  YAxis,
} from 'recharts';
import type { PassSummary } from '../../core/run/run-summary';
import { roundTicks, yearTicks } from '../../ui/axis-ticks';
import { guarded } from '../../ui/guarded';

export type HistoryPoint = { date: string; found: PassSummary; left: PassSummary | null; adjusted: boolean };

type Plotted = { time: number; error: number; U: number; off: boolean };

/** The chart is drawn to the scale of the tolerance and shows this many times as much; what lies farther out stands as an arrow at the edge. */
const widest = 4;

const micrometres = (mm: number) => mm * 1000;

type ShapeProps = { cx?: number; cy?: number; payload?: Plotted };

/** A value beyond the chart: an arrow at the edge it left by. */
const Arrow = ({ cx, cy, up, filled }: { cx: number; cy: number; up: boolean; filled: boolean }) => (
  <path
    d={up ? `M${cx - 6} ${cy + 11} l6 -10 l6 10 z` : `M${cx - 6} ${cy - 11} l6 10 l6 -10 z`}
    fill={filled ? 'var(--color-brick)' : 'var(--color-sheet)'}
    stroke="var(--color-brick)"
    strokeWidth={2}
  />
);

const Ring = ({ cx = 0, cy = 0, payload }: ShapeProps) =>
  payload?.off ? (
    <Arrow cx={cx} cy={cy} up={payload.error > 0} filled={false} />
  ) : (
    <circle cx={cx} cy={cy} r={5} fill="var(--color-sheet)" stroke="var(--color-ink)" strokeWidth={2} />
  );
const Dot = ({ cx = 0, cy = 0, payload }: ShapeProps) =>
  payload?.off ? (
    <Arrow cx={cx} cy={cy} up={payload.error > 0} filled />
  ) : (
    <circle cx={cx} cy={cy} r={5} fill="var(--color-ink)" />
  );

/** The greatest error at each calibration over the years, with its uncertainty and the limits: found as rings, left as dots. */
export const HistoryChart = guarded(function HistoryChart({ points }: { points: HistoryPoint[] }) {
  const limit = micrometres(points.at(-1)!.found.limit);
  const passes = points.flatMap((p) => [p.found, ...(p.left ? [p.left] : [])]);
  const farthest = Math.max(...passes.map((p) => Math.abs(micrometres(p.error)) + micrometres(p.expandedUncertainty)));
  const extent = Math.min(widest * limit, Math.max(1.5 * limit, farthest * 1.05));
  const plot = (date: string, pass: PassSummary): Plotted => {
    const error = micrometres(pass.error);
    const off = Math.abs(error) > extent;
    return {
      time: Date.parse(date),
      error: Math.max(-extent, Math.min(extent, error)),
      U: off ? 0 : micrometres(pass.expandedUncertainty),
      off,
    };
  };
  const found = points.map((p) => plot(p.date, p.found));
  const left = points.flatMap((p) => (p.adjusted && p.left ? [plot(p.date, p.left)] : []));
  const month = 30 * 86_400_000;
  const times = found.map((p) => p.time);
  const [first, last] = [Math.min(...times) - 2 * month, Math.max(...times) + 2 * month];
  const label = points
    .map(
      (p) =>
        `${p.date}: found ${micrometres(p.found.error).toFixed(1)} µm${p.adjusted && p.left ? `, left ${micrometres(p.left.error).toFixed(1)} µm` : ''}`,
    )
    .join('; ');

  return (
    <figure className="mt-2 border-y border-rule bg-sheet px-2 pt-3 pb-1">
      <div role="img" aria-label={`Greatest errors. ${label}. Limits ±${limit} µm.`} style={{ height: 260 }}>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height: 260 }}>
          <ComposedChart margin={{ top: 6, right: 16, bottom: 4, left: 0 }} accessibilityLayer={false}>
            <ReferenceArea y1={-limit} y2={limit} fill="var(--color-verdigris-tint)" fillOpacity={0.8} />
            <CartesianGrid stroke="var(--color-rule)" vertical={false} />
            <XAxis
              dataKey="time"
              type="number"
              domain={[first, last]}
              ticks={yearTicks(first, last, 12)}
              tickFormatter={(t: number) => String(new Date(t).getUTCFullYear())}
              stroke="var(--color-soft)"
              tick={{ fill: 'var(--color-soft)', fontSize: 13 }}
            />
            <YAxis
              dataKey="error"
              type="number"
              domain={[-extent, extent]}
              ticks={roundTicks(-extent, extent, 9)}
              allowDataOverflow
              width={64}
              tickFormatter={(v: number) => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v)} µm`}
              stroke="var(--color-soft)"
              tick={{ fill: 'var(--color-soft)', fontSize: 13 }}
            />
            {[-limit, limit].map((y) => (
              <ReferenceLine key={y} y={y} stroke="var(--color-ink)" strokeWidth={1.5} />
            ))}
            <ReferenceLine y={0} stroke="var(--color-rule-strong)" />
            {points.map(
              (p) =>
                p.adjusted &&
                p.left && (
                  <ReferenceLine
                    key={p.date}
                    segment={[
                      { x: Date.parse(p.date), y: plot(p.date, p.found).error },
                      { x: Date.parse(p.date), y: plot(p.date, p.left).error },
                    ]}
                    stroke="var(--color-ink)"
                    strokeWidth={2}
                  />
                ),
            )}
            <Scatter data={found} shape={Ring} isAnimationActive={false}>
              <ErrorBar dataKey="U" direction="y" width={6} stroke="var(--color-ink)" strokeWidth={1.2} />
            </Scatter>
            <Scatter data={left} shape={Dot} isAnimationActive={false}>
              <ErrorBar dataKey="U" direction="y" width={6} stroke="var(--color-ink)" strokeWidth={1.2} />
            </Scatter>
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="px-2 pb-2 text-sm text-soft">
        Hollow ring: as found, with its expanded uncertainty. Filled dot: as left after an adjustment. Shaded: inside the limits.
        {[...found, ...left].some((p) => p.off) &&
          ' An arrow at the edge: farther out than the chart shows; the figure is in the list below.'}
      </figcaption>
    </figure>
  );
});
