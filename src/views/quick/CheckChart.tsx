import { inShownUnit, limitWords, significant, withPrintedUnit } from '../../core/run/shown-value';
import type { NamedChart } from '../../core/interval/checks-page';
import { roundTicks } from '../../ui/axis-ticks';

const width = 820;
const height = 300;
const edge = { left: 92, right: 84, top: 16, bottom: 34 };
/** So many of the latest are drawn. */
const mostDrawn = 60;

/** A control chart: the checks in their order, the middle, the limits, the tolerance; those that ring are marked by their shape. */
export function CheckChart({ chart }: { chart: NamedChart }) {
  const skipped = Math.max(0, chart.checks.length - mostDrawn);
  const checks = chart.checks.slice(skipped);
  const ringing = new Set(chart.rings.map((r) => r.index));
  const shown = (n: number) => inShownUnit(n, chart.unit, chart.shownIn);
  const last = checks.at(-1)!;
  const { limits } = chart;
  const lines = limits ? [limits.centre - 3 * limits.sigma, limits.centre + 3 * limits.sigma] : [];
  const tolerance = [last.lower, last.upper].filter((l) => l !== null);
  const values = checks.map((c) => c.value);
  const spread = [...values, ...lines];
  const [least, most] = [Math.min(...spread), Math.max(...spread)];
  const room = Math.max((most - least) * 0.25, 1e-12);
  // The tolerance is drawn where it is near enough not to press the checks into a line.
  const near = tolerance.filter((t) => t > least - 2 * (most - least) && t < most + 2 * (most - least));
  const [low, high] = [Math.min(least - room, ...near), Math.max(most + room, ...near)];
  const x = (i: number) => edge.left + ((width - edge.left - edge.right) * (i + 0.5)) / Math.max(8, checks.length);
  const y = (v: number) => edge.top + ((height - edge.top - edge.bottom) * (high - v)) / (high - low);
  const say = (v: number) => withPrintedUnit(significant(shown(v), 3).replace('-', '−'), chart.shownIn);
  const back = (tick: number) => tick / (shown(1) - shown(0) || 1);
  const line = (v: number, name: string, dash?: string, tone = 'var(--color-ink)') => (
    <g key={name}>
      <line
        x1={edge.left}
        x2={width - edge.right}
        y1={y(v)}
        y2={y(v)}
        stroke={tone}
        strokeWidth={1.3}
        {...(dash ? { strokeDasharray: dash } : {})}
      />
      <text x={width - edge.right + 6} y={y(v) + 4.5} fontSize={13} fill={tone}>
        {name}
      </text>
    </g>
  );
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="block h-auto w-full"
      role="img"
      aria-label={`${chart.what} ${chart.point}: ${checks.map((c) => `${c.day} ${say(c.value)}`).join('; ')}. Tolerance ${limitWords(last, chart.unit, chart.shownIn)}.`}
    >
      {roundTicks(shown(low), shown(high), 7).map((t) => (
        <text key={t} x={edge.left - 8} y={y(back(t)) + 4.5} textAnchor="end" fontSize={13} fill="var(--color-soft)">
          {withPrintedUnit(String(t).replace('-', '−'), chart.shownIn)}
        </text>
      ))}
      {limits && (
        <rect
          x={edge.left}
          width={width - edge.left - edge.right}
          y={y(lines[1]!)}
          height={y(lines[0]!) - y(lines[1]!)}
          fill="var(--color-verdigris-tint)"
          opacity={0.8}
        />
      )}
      {limits && line(limits.centre, 'middle')}
      {limits && line(lines[0]!, '−3 σ', '6 4')}
      {limits && line(lines[1]!, '+3 σ', '6 4')}
      {near.map((t) => line(t, 'tolerance', undefined, 'var(--color-brick)'))}
      <path
        d={checks.map((c, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(c.value).toFixed(1)}`).join('')}
        fill="none"
        stroke="var(--color-soft)"
      />
      {checks.map((c, i) =>
        ringing.has(i + skipped) ? (
          <path
            key={c.run}
            d={`M${x(i)} ${y(c.value) - 10} l9 17 h-18 z`}
            fill="var(--color-brick)"
            stroke="var(--color-sheet)"
            strokeWidth={1.5}
          />
        ) : (
          <circle key={c.run} cx={x(i)} cy={y(c.value)} r={4.5} fill="var(--color-ink)" />
        ),
      )}
      {[0, checks.length - 1].map(
        (i, k) =>
          (k === 0 || i > 2) && (
            <text key={k} x={x(i)} y={height - 10} textAnchor="middle" fontSize={13} fill="var(--color-soft)">
              {checks[i]!.day}
            </text>
          ),
      )}
    </svg>
  );
}
