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

export type HistoryPoint = { date: string; found: PassSummary; left: PassSummary | null; adjusted: boolean };

type Plotted = { time: number; error: number; U: number };

const micrometres = (mm: number) => mm * 1000;

type ShapeProps = { cx?: number; cy?: number };

const Ring = ({ cx = 0, cy = 0 }: ShapeProps) => (
  <circle cx={cx} cy={cy} r={5} fill="var(--color-sheet)" stroke="var(--color-ink)" strokeWidth={2} />
);
const Dot = ({ cx = 0, cy = 0 }: ShapeProps) => <circle cx={cx} cy={cy} r={5} fill="var(--color-ink)" />;

/** The greatest error at each calibration over the years, with its uncertainty and the limits: found as rings, left as dots. */
export function HistoryChart({ points }: { points: HistoryPoint[] }) {
  const plot = (date: string, pass: PassSummary): Plotted => ({
    time: Date.parse(date),
    error: micrometres(pass.error),
    U: micrometres(pass.expandedUncertainty),
  });
  const found = points.map((p) => plot(p.date, p.found));
  const left = points.flatMap((p) => (p.adjusted && p.left ? [plot(p.date, p.left)] : []));
  const limit = micrometres(points.at(-1)!.found.limit);
  const step = limit / 2;
  const extent = Math.ceil(Math.max(1.5 * limit, ...found.map((p) => Math.abs(p.error) + p.U)) / step) * step;
  const month = 30 * 86_400_000;
  const [first, last] = [found[0]!.time - 2 * month, found.at(-1)!.time + 2 * month];
  const years = Array.from({ length: new Date(last).getUTCFullYear() - new Date(first).getUTCFullYear() + 1 }, (_, i) =>
    Date.UTC(new Date(first).getUTCFullYear() + i, 0, 1),
  ).filter((t) => t >= first && t <= last);
  const ticks = Array.from({ length: 2 * Math.floor(extent / step) + 1 }, (_, i) => (i - Math.floor(extent / step)) * step);
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
              ticks={years}
              tickFormatter={(t: number) => String(new Date(t).getUTCFullYear())}
              stroke="var(--color-soft)"
              tick={{ fill: 'var(--color-soft)', fontSize: 13 }}
            />
            <YAxis
              dataKey="error"
              type="number"
              domain={[-extent, extent]}
              ticks={ticks}
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
                      { x: Date.parse(p.date), y: micrometres(p.found.error) },
                      { x: Date.parse(p.date), y: micrometres(p.left.error) },
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
      </figcaption>
    </figure>
  );
}
