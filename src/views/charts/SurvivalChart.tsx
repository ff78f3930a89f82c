import type { KeyboardEvent, PointerEvent } from 'react';
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
  usePlotArea,
  useYAxisInverseScale,
  useYAxisScale,
} from 'recharts';
import type { Range } from '../../core/interval/family';
import type { ObservedStep } from '../../core/interval/observed-steps';
import { monthsInWords, percent } from '../../core/interval/proposal';
import { monthsUntil, shareInside, type Survival } from '../../core/interval/survival';
import { roundTicks } from '../../ui/axis-ticks';
import { axisStyle } from './axis';
import { survivalHeight } from './heights';

/** Targets that can be dragged to. */
const targets = { least: 0.5, most: 0.995 };
const keyStep = 0.005;
const held = (t: number) => Math.max(targets.least, Math.min(targets.most, Math.round(1000 * t) / 1000));

/**
 * The share still inside against months since it was put in order: the curve with its 95 % band, what was observed as steps, and the
 * target as a line that is dragged, or moved with the arrow keys.
 */
export function SurvivalChart({
  curve,
  band,
  steps,
  target,
  onTarget,
}: {
  curve: Survival;
  band: readonly (Range & { months: number })[];
  steps: readonly ObservedStep[];
  target: number;
  onTarget: (target: number) => void;
}) {
  const longest = band.at(-1)!.months;
  const lowest = Math.min(targets.least, ...band.map((b) => b.middle), ...steps.map((s) => s.share));
  const least = Math.max(0, Math.floor(10 * lowest) / 10);
  const curveData = band.map((b) => ({
    months: b.months,
    range: [Math.max(least, b.low), b.high],
    share: Math.max(least, shareInside(curve, b.months)),
  }));
  const stepData = steps.flatMap((s) => [
    { months: s.from, share: s.share },
    { months: Math.min(longest, s.to), share: s.share },
  ]);
  const months = monthsUntil(curve, target);
  return (
    <ResponsiveContainer width="100%" height={survivalHeight} className="touch-none select-none">
      <ComposedChart margin={{ top: 14, right: 20, bottom: 22, left: 0 }} accessibilityLayer={false}>
        <CartesianGrid stroke="var(--color-rule)" vertical={false} />
        <XAxis
          {...axisStyle}
          dataKey="months"
          type="number"
          domain={[0, longest]}
          ticks={roundTicks(0, longest, 9)}
          allowDuplicatedCategory={false}
          label={{
            value: 'months since it was put in order',
            position: 'bottom',
            offset: 2,
            fill: 'var(--color-soft)',
            fontSize: 13,
          }}
        />
        <YAxis
          {...axisStyle}
          type="number"
          domain={[least, 1]}
          ticks={roundTicks(least, 1, 7)}
          width={64}
          tickFormatter={(t: number) => percent(t)}
        />
        <Area
          data={curveData}
          dataKey="range"
          stroke="none"
          fill="var(--color-verdigris)"
          fillOpacity={0.16}
          activeDot={false}
          isAnimationActive={false}
        />
        <Line
          data={stepData}
          dataKey="share"
          type="linear"
          stroke="var(--color-ink)"
          strokeWidth={1.5}
          dot={false}
          activeDot={false}
          isAnimationActive={false}
        />
        <Line
          data={curveData}
          dataKey="share"
          type="linear"
          stroke="var(--color-verdigris)"
          strokeWidth={3}
          dot={false}
          activeDot={false}
          isAnimationActive={false}
        />
        {months <= longest && (
          <ReferenceLine
            segment={[
              { x: months, y: least },
              { x: months, y: Math.max(least, target) },
            ]}
            stroke="var(--color-ochre)"
            strokeWidth={2}
            strokeDasharray="6 4"
          />
        )}
        <Target target={target} months={months} onTarget={onTarget} />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

/** The target: a line across the plot with its figure at the right. */
function Target({ target, months, onTarget }: { target: number; months: number; onTarget: (target: number) => void }) {
  const area = usePlotArea();
  const scale = useYAxisScale();
  const inverse = useYAxisInverseScale();
  const y = scale?.(target);
  if (!area || !inverse || y === undefined) return null;
  const drag = (event: PointerEvent<SVGGElement>) => {
    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    const share = Number(inverse(event.clientY - box.top));
    if (Number.isFinite(share)) onTarget(held(share));
  };
  const byKey = (event: KeyboardEvent) => {
    const by = {
      ArrowUp: keyStep,
      ArrowRight: keyStep,
      ArrowDown: -keyStep,
      ArrowLeft: -keyStep,
      PageUp: 5 * keyStep,
      PageDown: -5 * keyStep,
    }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    onTarget(held(target + by));
  };
  const right = area.x + area.width;
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label="Target: the share that shall still be inside"
      aria-orientation="vertical"
      aria-valuemin={100 * targets.least}
      aria-valuemax={100 * targets.most}
      aria-valuenow={Math.round(1000 * target) / 10}
      aria-valuetext={`${percent(target, 1)} inside after ${monthsInWords(months)}`}
      className="cursor-ns-resize"
      onKeyDown={byKey}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        drag(e);
      }}
      onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && drag(e)}
    >
      <rect x={area.x} y={y - 16} width={area.width} height={32} fill="transparent" />
      <line x1={area.x} x2={right} y1={y} y2={y} stroke="var(--color-ochre)" strokeWidth={2.5} />
      <rect x={right - 104} y={y - 14} width={104} height={28} fill="var(--color-ochre)" />
      <path d={`M${right - 92} ${y - 2} l4 -6 l4 6 z M${right - 92} ${y + 2} l4 6 l4 -6 z`} fill="var(--color-sheet)" />
      <text x={right - 12} y={y + 5} textAnchor="end" fontSize={15} fontWeight={700} fill="var(--color-sheet)">
        {percent(target, 1)}
      </text>
    </g>
  );
}
