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
import { percent, type SchoolId } from '../../core/interval/proposal';
import { inShownUnit, limitWords, significant, withPrintedUnit } from '../../core/run/shown-value';
import { printedUnit } from '../../core/quantity/unit';
import type { HistoryPoint } from '../../core/interval/history';
import { roundTicks, yearTicks } from '../../ui/axis-ticks';

export type SchoolDate = { school: SchoolId; date: string; isChosen: boolean };

/** Short names of the schools, as they stand on the time axis. */
export const schoolNames: Record<SchoolId, string> = {
  fixed: 'fixed',
  react: 'steps',
  drift: 'drift',
  reliability: 'kin',
  use: 'use',
  quick: 'checks',
};

type Plotted = { time: number; error: number; U: number; off: boolean };

/** The chart is drawn to the scale of the tolerance and shows this many times as much; what lies farther out stands as an arrow at the edge. */
const widest = 4;
const axisWidth = 84;
const margin = { top: 6, right: 20, bottom: 4, left: 0 };
const railRow = 24;

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
const Check = ({ cx = 0, cy = 0 }: ShapeProps) => (
  <path d={`M${cx} ${cy - 3.5} v7`} stroke="var(--color-ochre)" strokeWidth={2} />
);

/** A date of a school on the rail under the chart, its name beside its mark. */
function SchoolMark({
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

/**
 * One result over the years with its uncertainty and limits: found as rings, left as dots, quick checks between, and from the last on
 * the band in which it is expected. On the same time axis beneath: the date that each school gives.
 */
export function HistoryChart({
  history,
  today,
  target,
  schools,
}: {
  history: HistoryPoint;
  today: string;
  target: number;
  schools: readonly SchoolDate[];
}) {
  const { unit, shownIn } = history;
  const shown = (n: number) => inShownUnit(n, unit, shownIn);
  const at = (day: string) => Date.parse(day);
  const limits = [history.limits.lower, history.limits.upper].filter((l) => l !== null).map(shown);
  const values = history.visits.flatMap((v) => [v.found, ...(v.left ? [v.left] : [])]);
  const centre = limits.length === 2 && limits[0]! * limits[1]! > 0 ? (limits[0]! + limits[1]!) / 2 : 0;
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
    return { time: at(day), error: held(shown(v.value)), U: off ? 0 : Math.abs(shown(v.U)), off };
  };
  const found = history.visits.map((v) => plot(v.day, v.found));
  const left = history.visits.flatMap((v) => (v.left ? [plot(v.day, v.left)] : []));
  const checks = history.checks.map((c) => ({ time: Date.parse(c.at), error: held(shown(c.value)) }));
  const band = history.band.map((b) => ({
    time: at(b.day),
    band: [held(shown(b.low)), held(shown(b.high))],
    middle: held(shown(b.middle)),
  }));
  const month = 30 * 86_400_000;
  const times = [...found.map((p) => p.time), at(today), ...schools.map((s) => at(s.date))];
  const [from, until] = [Math.min(...times) - 2 * month, Math.max(...times)];
  // A sixth more, for the names of the schools beside their marks.
  const [first, last] = [from, until + (until - from) / 6];
  const say = (n: number) => withPrintedUnit(significant(n, 3).replace('-', '−'), shownIn);
  const label = history.visits
    .map((v) => `${v.day}: found ${say(shown(v.found.value))}${v.left ? `, left ${say(shown(v.left.value))}` : ''}`)
    .join('; ');
  const printed = printedUnit(shownIn);
  const chosen = schools.find((s) => s.isChosen);
  const xAxis = { dataKey: 'time', type: 'number' as const, domain: [first, last] as [number, number], allowDataOverflow: true };
  const rail = schools.map((s, i) => ({
    time: at(s.date),
    row: schools.length - i,
    name: schoolNames[s.school],
    isChosen: s.isChosen,
    date: s.date,
  }));

  return (
    <figure className="mt-2 overflow-hidden border-y border-rule bg-sheet pt-3 pb-1">
      <div
        role="img"
        aria-label={`${history.what} ${history.point}. ${label}. Limits: ${limitWords(history.limits, unit, shownIn)}.`}
        style={{ height: 270 }}
      >
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 1180, height: 270 }}>
          <ComposedChart margin={margin} accessibilityLayer={false}>
            <ReferenceArea
              y1={history.limits.lower === null ? bottom : shown(history.limits.lower)}
              y2={history.limits.upper === null ? top : shown(history.limits.upper)}
              fill="var(--color-verdigris-tint)"
              fillOpacity={0.8}
            />
            <CartesianGrid stroke="var(--color-rule)" vertical={false} />
            <XAxis
              {...xAxis}
              ticks={yearTicks(first, last, 12)}
              tickFormatter={(t: number) => String(new Date(t).getUTCFullYear())}
              stroke="var(--color-soft)"
              tick={{ fill: 'var(--color-soft)', fontSize: 13 }}
            />
            <YAxis
              dataKey="error"
              type="number"
              domain={[bottom, top]}
              ticks={roundTicks(bottom, top, 7)}
              allowDataOverflow
              width={axisWidth}
              tickFormatter={(v: number) =>
                `${bottom < 0 && v > 0 ? '+' : v < 0 ? '−' : ''}${Number(Math.abs(v).toPrecision(6))}${printed ? ` ${printed}` : ''}`
              }
              stroke="var(--color-soft)"
              tick={{ fill: 'var(--color-soft)', fontSize: 13 }}
            />
            <Area
              data={band}
              dataKey="band"
              stroke="var(--color-soft)"
              strokeWidth={1}
              fill="var(--color-soft)"
              fillOpacity={0.18}
              isAnimationActive={false}
              activeDot={false}
            />
            {limits.map((y) => (
              <ReferenceLine key={y} y={y} stroke="var(--color-ink)" strokeWidth={1.5} />
            ))}
            {[history.guarded.lower, history.guarded.upper]
              .filter((g) => g !== null)
              .map(shown)
              .filter((g) => !limits.includes(g))
              .map((y) => (
                <ReferenceLine key={`g${y}`} y={y} stroke="var(--color-ink)" strokeDasharray="2 5" />
              ))}
            <ReferenceLine y={0} stroke="var(--color-rule-strong)" />
            <ReferenceLine
              x={at(today)}
              stroke="var(--color-rule-strong)"
              strokeDasharray="5 3"
              label={{ value: 'today', position: 'insideTopRight', fill: 'var(--color-soft)', fontSize: 13 }}
            />
            {chosen && <ReferenceLine x={at(chosen.date)} stroke="var(--color-verdigris)" strokeWidth={3} />}
            {history.visits.map(
              (v) =>
                v.left && (
                  <ReferenceLine
                    key={v.run}
                    segment={[
                      { x: at(v.day), y: plot(v.day, v.found).error },
                      { x: at(v.day), y: plot(v.day, v.left).error },
                    ]}
                    stroke="var(--color-ink)"
                    strokeWidth={2}
                  />
                ),
            )}
            <Scatter data={checks} shape={Check} isAnimationActive={false} />
            <Scatter data={found} shape={Ring} isAnimationActive={false}>
              <ErrorBar dataKey="U" direction="y" width={6} stroke="var(--color-ink)" strokeWidth={1.2} />
            </Scatter>
            <Scatter data={left} shape={Dot} isAnimationActive={false}>
              <ErrorBar dataKey="U" direction="y" width={6} stroke="var(--color-ink)" strokeWidth={1.2} />
            </Scatter>
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <div aria-hidden style={{ height: railRow * schools.length + 12 }}>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 1180, height: railRow * schools.length + 12 }}>
          <ComposedChart data={rail} margin={{ ...margin, top: 0, bottom: 0 }} accessibilityLayer={false}>
            <XAxis {...xAxis} hide />
            <YAxis
              dataKey="row"
              type="number"
              domain={[0.4, schools.length + 0.6]}
              width={axisWidth}
              tick={false}
              axisLine={false}
              tickLine={false}
            />
            <ReferenceLine x={at(today)} stroke="var(--color-rule-strong)" strokeDasharray="5 3" />
            <Scatter data={rail} dataKey="row" isAnimationActive={false} shape={SchoolMark} />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="px-4 pb-2 text-sm text-soft">
        Hollow ring: as found, with its expanded uncertainty.
        {left.length > 0 && ' Filled dot: as left after an adjustment.'} Shaded: inside the limits
        {history.guarded.lower !== history.limits.lower || history.guarded.upper !== history.limits.upper
          ? '; dotted: where the rule accepts'
          : ''}
        .{checks.length > 0 && ' Short strokes: quick checks.'}
        {band.length > 0 && ` Grey: where it is expected, ${percent(1 - target)} beyond each edge.`}
        {[...found, ...left].some((p) => p.off) &&
          ' An arrow at the edge: farther out than the chart shows; the figure is in the table below.'}
      </figcaption>
    </figure>
  );
}
