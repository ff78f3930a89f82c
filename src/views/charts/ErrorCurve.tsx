import { ComposedChart, ErrorBar, ReferenceArea, ReferenceLine, ResponsiveContainer, Scatter, XAxis, YAxis } from 'recharts';
import { axisStyle } from './axis';
import type { ErrorPlot } from './error-plot';
import { errorCurveHeight } from './heights';

type ShapeProps = { cx?: number; cy?: number; payload?: { isOut: boolean } };

const Read = ({ cx = 0, cy = 0, payload }: ShapeProps) => (
  <circle
    cx={cx}
    cy={cy}
    r={4}
    fill="var(--color-sheet)"
    stroke={payload?.isOut ? 'var(--color-brick)' : 'var(--color-ink)'}
    strokeWidth={2}
  />
);
const Unread = ({ cx = 0, cy = 0 }: ShapeProps) => <circle cx={cx} cy={cy} r={1.5} fill="var(--color-rule-strong)" />;

/** Errors along the range: limits as a band, what is read as rings with their uncertainty, the present point as a line. */
export function ErrorCurve({ plot }: { plot: ErrorPlot }) {
  const [first, last] = plot.ends;
  return (
    <ResponsiveContainer width="100%" height={errorCurveHeight}>
      <ComposedChart margin={{ top: 4, right: 0, bottom: 0, left: 0 }} accessibilityLayer={false}>
        <XAxis
          {...axisStyle}
          dataKey="x"
          type="number"
          domain={plot.domain}
          ticks={plot.ends.map((e) => e.x)}
          interval={0}
          axisLine={false}
          tickLine={false}
          height={22}
          tick={({ x = 0, y = 0, payload }: { x?: number | string; y?: number | string; payload?: { value: number } }) => {
            const end = payload?.value === first?.x ? first : last;
            const anchor = plot.ends.length === 1 ? 'middle' : end === first ? 'start' : 'end';
            return (
              <text x={x} y={Number(y) + 10} textAnchor={anchor} fontSize={12} fill="var(--color-soft)" className="figure">
                {end?.label}
              </text>
            );
          }}
        />
        <YAxis hide type="number" dataKey="error" domain={[-plot.reach, plot.reach]} allowDataOverflow />
        {plot.limits.map((l, i) => (
          <ReferenceArea
            key={i}
            x1={l.from}
            x2={l.to}
            y1={l.lower ?? -plot.reach}
            y2={l.upper ?? plot.reach}
            fill="var(--color-verdigris-tint)"
            fillOpacity={1}
            ifOverflow="hidden"
          />
        ))}
        {plot.limits.flatMap((l, i) =>
          [l.lower, l.upper].map(
            (y, k) =>
              y !== null && (
                <ReferenceLine
                  key={`${i}-${k}`}
                  segment={[
                    { x: l.from, y },
                    { x: l.to, y },
                  ]}
                  stroke="var(--color-soft)"
                  ifOverflow="hidden"
                />
              ),
          ),
        )}
        <ReferenceLine y={0} stroke="var(--color-rule-strong)" />
        {plot.here !== null && (
          <ReferenceLine x={plot.here} stroke="var(--color-verdigris)" strokeWidth={2} strokeDasharray="3 3" />
        )}
        <Scatter data={plot.unread} shape={Unread} isAnimationActive={false} />
        <Scatter data={plot.read} shape={Read} isAnimationActive={false}>
          <ErrorBar dataKey="U" isAnimationActive={false} direction="y" width={5} stroke="var(--color-ink)" strokeWidth={1.5} />
        </Scatter>
      </ComposedChart>
    </ResponsiveContainer>
  );
}
