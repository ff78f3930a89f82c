import { CartesianGrid, ComposedChart, Line, ReferenceArea, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { NamedChart } from '../../core/interval/checks-page';
import { inShownUnit } from '../../core/run/shown-value';
import { roundTicks } from '../../ui/axis-ticks';
import { axisStyle, onAxis } from './axis';
import { checkChartHeight } from './heights';

/** So many of the latest are drawn. */
const mostDrawn = 60;

/** What is drawn of a control chart, in the unit it is shown in. */
export type CheckPlot = {
  checks: { order: number; day: string; value: number; isAlarm: boolean }[];
  middle: number | null;
  /** Three standard deviations to either side. */ control: [number, number] | null;
  /** Limits of the tolerance that are near enough not to press the checks into a line. */ tolerance: number[];
  bottom: number;
  top: number;
};

export function checkPlot(chart: NamedChart): CheckPlot {
  const shown = (n: number) => inShownUnit(n, chart.unit, chart.shownIn);
  const skipped = Math.max(0, chart.checks.length - mostDrawn);
  const alarms = new Set(chart.alarms.map((r) => r.index));
  const checks = chart.checks.slice(skipped).map((c, order) => ({
    order,
    day: c.day,
    value: shown(c.value),
    isAlarm: alarms.has(order + skipped),
  }));
  const { limits } = chart;
  const control: CheckPlot['control'] = limits
    ? [shown(limits.centre - 3 * limits.sigma), shown(limits.centre + 3 * limits.sigma)]
    : null;
  const drawn = [...checks.map((c) => c.value), ...(control ?? [])];
  const [least, most] = [Math.min(...drawn), Math.max(...drawn)];
  const room = Math.max((most - least) * 0.2, 1e-12);
  const last = chart.checks.at(-1);
  const tolerance = [last?.lower ?? null, last?.upper ?? null]
    .filter((t) => t !== null)
    .map(shown)
    .filter((t) => t > least - 2 * (most - least) && t < most + 2 * (most - least));
  return {
    checks,
    middle: limits ? shown(limits.centre) : null,
    control,
    tolerance,
    bottom: Math.min(least, ...tolerance) - room,
    top: Math.max(most, ...tolerance) + room,
  };
}

type DotProps = { cx?: number; cy?: number; payload?: CheckPlot['checks'][number] };

/** A check: a dot, and a triangle where it gives an alarm. */
function Check({ cx = 0, cy = 0, payload }: DotProps) {
  return payload?.isAlarm ? (
    <path d={`M${cx} ${cy - 10} l9 17 h-18 z`} fill="var(--color-brick)" stroke="var(--color-sheet)" strokeWidth={1.5} />
  ) : (
    <circle cx={cx} cy={cy} r={4.5} fill="var(--color-ink)" />
  );
}

const named = (value: string, fill: string) => ({ value, position: 'right' as const, fill, fontSize: 13 });

/** A control chart: the checks in their order, the middle, the limits, the tolerance; alarms are marked by their shape. */
export function CheckChart({ chart }: { chart: NamedChart }) {
  const plot = checkPlot(chart);
  const { checks, control } = plot;
  const days = checks.length > 3 ? [0, checks.length - 1] : [0];
  return (
    <ResponsiveContainer width="100%" height={checkChartHeight}>
      <ComposedChart data={checks} margin={{ top: 16, right: 84, bottom: 4, left: 0 }} accessibilityLayer={false}>
        {control && <ReferenceArea y1={control[0]} y2={control[1]} fill="var(--color-verdigris-tint)" fillOpacity={0.8} />}
        <CartesianGrid stroke="var(--color-rule)" vertical={false} />
        <XAxis
          {...axisStyle}
          dataKey="order"
          type="number"
          domain={[-0.5, Math.max(8, checks.length) - 0.5]}
          ticks={days}
          interval={0}
          tickLine={false}
          tickFormatter={(i: number) => checks[i]?.day ?? ''}
        />
        <YAxis
          {...axisStyle}
          type="number"
          domain={[plot.bottom, plot.top]}
          ticks={roundTicks(plot.bottom, plot.top, 7)}
          width={92}
          tickFormatter={(v: number) => onAxis(v, chart.shownIn)}
        />
        {plot.middle !== null && (
          <ReferenceLine y={plot.middle} stroke="var(--color-ink)" label={named('middle', 'var(--color-ink)')} />
        )}
        {control?.map((y, i) => (
          <ReferenceLine
            key={i}
            y={y}
            stroke="var(--color-ink)"
            strokeDasharray="6 4"
            label={named(i === 0 ? '−3 σ' : '+3 σ', 'var(--color-ink)')}
          />
        ))}
        {plot.tolerance.map((y) => (
          <ReferenceLine
            key={`t${y}`}
            y={y}
            stroke="var(--color-brick)"
            strokeWidth={1.5}
            label={named('tolerance', 'var(--color-brick)')}
          />
        ))}
        <Line dataKey="value" type="linear" stroke="var(--color-soft)" dot={Check} activeDot={false} isAnimationActive={false} />
      </ComposedChart>
    </ResponsiveContainer>
  );
}
