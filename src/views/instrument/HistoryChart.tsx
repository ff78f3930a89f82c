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
import type { SummaryValue } from '../../core/run/judged-points';
import { inShownUnit, limitWords, significant, withPrintedUnit } from '../../core/run/shown-value';
import { printedUnit } from '../../core/quantity/unit';
import { roundTicks, yearTicks } from '../../ui/axis-ticks';
import { guarded } from '../../ui/guarded';

export type HistoryPoint = { date: string; found: SummaryValue; left: SummaryValue | null; adjusted: boolean };

type Plotted = { time: number; error: number; U: number; off: boolean };

/** The chart is drawn to the scale of the tolerance and shows this many times as much; what lies farther out stands as an arrow at the edge. */
const widest = 4;

/** How values are drawn: in their own unit where all are values of one thing, else as a share of the tolerance. */
type Scale = {
  at: (v: SummaryValue) => number;
  uncertainty: (v: SummaryValue) => number;
  lower: number | null;
  upper: number | null;
  unit: string;
};

function scaleOf(values: readonly SummaryValue[]): Scale {
  const last = values.at(-1)!;
  const isSame = values.every((v) => v.what === last.what && v.unit === last.unit);
  const inUnit = (v: SummaryValue, n: number) => inShownUnit(n, v.unit, v.shownIn);
  if (isSame)
    return {
      at: (v) => inUnit(v, v.value),
      uncertainty: (v) => (v.expandedUncertainty === null ? 0 : inUnit(v, v.expandedUncertainty)),
      lower: last.lower === null ? null : inUnit(last, last.lower),
      upper: last.upper === null ? null : inUnit(last, last.upper),
      unit: last.shownIn,
    };
  return { at: (v) => 100 * (v.toleranceUsed ?? 0), uncertainty: () => 0, lower: null, upper: 100, unit: '%' };
}

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
  const values = points.flatMap((p) => [p.found, ...(p.adjusted && p.left ? [p.left] : [])]);
  const scale = scaleOf(values);
  const limits = [scale.lower, scale.upper].filter((l) => l !== null);
  const limit = Math.max(...limits.map(Math.abs), 1e-12);
  const farthest = Math.max(...values.map((v) => Math.abs(scale.at(v)) + scale.uncertainty(v)));
  const extent = Math.min(widest * limit, Math.max(1.5 * limit, farthest * 1.05));
  // Where nothing is below zero, nothing of the chart is spent on it.
  const bottom = scale.lower === null && values.every((v) => scale.at(v) >= 0) ? 0 : -extent;
  const plot = (date: string, v: SummaryValue): Plotted => {
    const value = scale.at(v);
    const off = Math.abs(value) > extent;
    return { time: Date.parse(date), error: Math.max(bottom, Math.min(extent, value)), U: off ? 0 : scale.uncertainty(v), off };
  };
  const found = points.map((p) => plot(p.date, p.found));
  const left = points.flatMap((p) => (p.adjusted && p.left ? [plot(p.date, p.left)] : []));
  const month = 30 * 86_400_000;
  const times = found.map((p) => p.time);
  const [first, last] = [Math.min(...times) - 2 * month, Math.max(...times) + 2 * month];
  const say = (v: SummaryValue) => withPrintedUnit(significant(scale.at(v), 3).replace('-', '−'), scale.unit);
  const label = points
    .map((p) => `${p.date}: found ${say(p.found)}${p.adjusted && p.left ? `, left ${say(p.left)}` : ''}`)
    .join('; ');
  const unit = printedUnit(scale.unit);

  return (
    <figure className="mt-2 overflow-hidden border-y border-rule bg-sheet px-2 pt-3 pb-1">
      <div
        role="img"
        aria-label={`Worst values. ${label}. Limits: ${limitWords(scale, scale.unit, scale.unit)}.`}
        style={{ height: 260 }}
      >
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height: 260 }}>
          <ComposedChart margin={{ top: 6, right: 16, bottom: 4, left: 0 }} accessibilityLayer={false}>
            <ReferenceArea
              y1={scale.lower ?? bottom}
              y2={scale.upper ?? extent}
              fill="var(--color-verdigris-tint)"
              fillOpacity={0.8}
            />
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
              domain={[bottom, extent]}
              ticks={roundTicks(bottom, extent, 9)}
              allowDataOverflow
              width={84}
              tickFormatter={(v: number) =>
                `${bottom < 0 && v > 0 ? '+' : v < 0 ? '−' : ''}${Number(Math.abs(v).toPrecision(6))}${unit ? ` ${unit}` : ''}`
              }
              stroke="var(--color-soft)"
              tick={{ fill: 'var(--color-soft)', fontSize: 13 }}
            />
            {limits.map((y) => (
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
        {scale.unit === '%' && scale.lower === null && 'Share of the tolerance used by the worst value of each calibration. '}
        Hollow ring: as found, with its expanded uncertainty. Filled dot: as left after an adjustment. Shaded: inside the limits.
        {[...found, ...left].some((p) => p.off) &&
          ' An arrow at the edge: farther out than the chart shows; the figure is in the list below.'}
      </figcaption>
    </figure>
  );
});
