import {
  Area,
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
import type { SchoolId } from '../../core/interval/proposal';
import { roundTicks, yearTicks } from '../../ui/axis-ticks';
import { axisStyle, onAxis } from './axis';
import { dateRow, historyPlotHeight } from './heights';
import type { HistoryPlot, Plotted } from './history-plot';

/** A date that a method gives. */
export type SchoolDate = { school: SchoolId; name: string; date: string; isChosen: boolean };

const axisWidth = 84;
const margin = { top: 6, right: 20, bottom: 4, left: 0 };

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

const Found = ({ cx = 0, cy = 0, payload }: ShapeProps) =>
  payload?.off ? (
    <Arrow cx={cx} cy={cy} up={payload.error > 0} filled={false} />
  ) : (
    <circle cx={cx} cy={cy} r={5} fill="var(--color-sheet)" stroke="var(--color-ink)" strokeWidth={2} />
  );
const Left = ({ cx = 0, cy = 0, payload }: ShapeProps) =>
  payload?.off ? (
    <Arrow cx={cx} cy={cy} up={payload.error > 0} filled />
  ) : (
    <circle cx={cx} cy={cy} r={5} fill="var(--color-ink)" />
  );
const Check = ({ cx = 0, cy = 0 }: ShapeProps) => (
  <path d={`M${cx} ${cy - 3.5} v7`} stroke="var(--color-ochre)" strokeWidth={2} />
);

/** A date of a method on the rail under the chart, its name beside its mark. */
function DateMark({
  cx = 0,
  cy = 0,
  payload,
}: {
  cx?: number;
  cy?: number;
  payload?: { name: string; isChosen: boolean; date: string };
}) {
  if (!payload) return null;
  return (
    <g>
      <path
        d={`M${cx} ${cy - 9} v18`}
        stroke={payload.isChosen ? 'var(--color-verdigris)' : 'var(--color-soft)'}
        strokeWidth={payload.isChosen ? 5 : 2}
      />
      <text
        x={cx + 8}
        y={cy + 4.5}
        fontSize={13}
        stroke="var(--color-sheet)"
        strokeWidth={5}
        paintOrder="stroke"
        fontWeight={payload.isChosen ? 700 : 400}
        fill={payload.isChosen ? 'var(--color-ink)' : 'var(--color-soft)'}
      >
        {payload.name} {payload.date}
      </text>
    </g>
  );
}

type Props = { plot: HistoryPlot; unit: string; today: string; schools: readonly SchoolDate[] };

/**
 * One result over the years with its uncertainty and limits: found as rings, left as dots, quick checks between, and from the last on
 * the band in which it is expected. On the same time axis beneath: the date that each method gives.
 */
export function HistoryChart(props: Props) {
  return (
    <>
      <Values {...props} />
      <Dates {...props} />
    </>
  );
}

const timeAxis = (plot: HistoryPlot) => ({
  dataKey: 'time',
  type: 'number' as const,
  domain: [plot.from, plot.until] as [number, number],
  allowDataOverflow: true,
});

function Values({ plot, unit, today, schools }: Props) {
  const { bottom, top } = plot;
  const chosen = schools.find((s) => s.isChosen);
  return (
    <ResponsiveContainer width="100%" height={historyPlotHeight}>
      <ComposedChart margin={margin} accessibilityLayer={false}>
        <ReferenceArea y1={plot.inside[0]} y2={plot.inside[1]} fill="var(--color-verdigris-tint)" fillOpacity={0.8} />
        <CartesianGrid stroke="var(--color-rule)" vertical={false} />
        <XAxis
          {...timeAxis(plot)}
          {...axisStyle}
          ticks={yearTicks(plot.from, plot.until, 12)}
          tickFormatter={(t: number) => String(new Date(t).getUTCFullYear())}
        />
        <YAxis
          {...axisStyle}
          dataKey="error"
          type="number"
          domain={[bottom, top]}
          ticks={roundTicks(bottom, top, 7)}
          allowDataOverflow
          width={axisWidth}
          tickFormatter={(v: number) => `${bottom < 0 && v > 0 ? '+' : ''}${onAxis(v, unit)}`}
        />
        <Area
          data={plot.band}
          dataKey="band"
          stroke="var(--color-soft)"
          strokeWidth={1}
          fill="var(--color-soft)"
          fillOpacity={0.18}
          isAnimationActive={false}
          activeDot={false}
        />
        {plot.limits.map((y) => (
          <ReferenceLine key={y} y={y} stroke="var(--color-ink)" strokeWidth={1.5} />
        ))}
        {plot.guarded.map((y) => (
          <ReferenceLine key={`g${y}`} y={y} stroke="var(--color-ink)" strokeDasharray="2 5" />
        ))}
        <ReferenceLine y={0} stroke="var(--color-rule-strong)" />
        <ReferenceLine
          x={Date.parse(today)}
          stroke="var(--color-rule-strong)"
          strokeDasharray="5 3"
          label={{ value: 'today', position: 'insideTopRight', fill: 'var(--color-soft)', fontSize: 13 }}
        />
        {chosen && <ReferenceLine x={Date.parse(chosen.date)} stroke="var(--color-verdigris)" strokeWidth={3} />}
        {plot.moved.map((m) => (
          <ReferenceLine
            key={m.run}
            segment={[
              { x: m.time, y: m.from },
              { x: m.time, y: m.to },
            ]}
            stroke="var(--color-ink)"
            strokeWidth={2}
          />
        ))}
        <Scatter data={plot.checks} shape={Check} isAnimationActive={false} />
        <Scatter data={plot.found} shape={Found} isAnimationActive={false}>
          <ErrorBar dataKey="U" isAnimationActive={false} direction="y" width={6} stroke="var(--color-ink)" strokeWidth={1.2} />
        </Scatter>
        <Scatter data={plot.left} shape={Left} isAnimationActive={false}>
          <ErrorBar dataKey="U" isAnimationActive={false} direction="y" width={6} stroke="var(--color-ink)" strokeWidth={1.2} />
        </Scatter>
      </ComposedChart>
    </ResponsiveContainer>
  );
}

function Dates({ plot, today, schools }: Props) {
  const rows = schools.map((s, i) => ({ ...s, time: Date.parse(s.date), row: schools.length - i }));
  return (
    <ResponsiveContainer width="100%" height={dateRow * schools.length + 12}>
      <ComposedChart data={rows} margin={{ ...margin, top: 0, bottom: 0 }} accessibilityLayer={false}>
        <XAxis {...timeAxis(plot)} hide />
        <YAxis
          dataKey="row"
          type="number"
          domain={[0.4, schools.length + 0.6]}
          width={axisWidth}
          tick={false}
          axisLine={false}
          tickLine={false}
        />
        <ReferenceLine x={Date.parse(today)} stroke="var(--color-rule-strong)" strokeDasharray="5 3" />
        <Scatter data={rows} dataKey="row" isAnimationActive={false} shape={DateMark} />
      </ComposedChart>
    </ResponsiveContainer>
  );
}
