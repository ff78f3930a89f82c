import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Range } from '../../core/interval/family';
import type { ObservedStep } from '../../core/interval/observed-steps';
import { monthsUntil, shareInside, type Survival } from '../../core/interval/survival';
import { monthsInWords, percent } from '../../core/interval/proposal';
import { roundTicks } from '../../ui/axis-ticks';

const width = 820;
const height = 380;
const edge = { left: 64, right: 20, top: 14, bottom: 44 };
const plotWidth = width - edge.left - edge.right;
const plotHeight = height - edge.top - edge.bottom;

/** Targets that can be dragged to. */
export const targets = { least: 0.5, most: 0.995 };
const keyStep = 0.005;

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
  const svg = useRef<SVGSVGElement>(null);
  const longest = band.at(-1)!.months;
  const least = Math.max(
    0,
    Math.floor(10 * Math.min(targets.least, ...band.map((b) => b.middle), ...steps.map((s) => s.share))) / 10,
  );
  const x = (months: number) => edge.left + (plotWidth * Math.min(longest, months)) / longest;
  const y = (share: number) => edge.top + plotHeight * (1 - (Math.max(least, share) - least) / (1 - least));
  const path = (points: readonly (readonly [number, number])[]) =>
    points.map(([a, b], i) => `${i ? 'L' : 'M'}${x(a).toFixed(1)} ${y(b).toFixed(1)}`).join('');
  const months = monthsUntil(curve, target);
  const held = (t: number) => Math.max(targets.least, Math.min(targets.most, t));
  const drag = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    const at = ((event.clientY - box.top) / box.height) * height;
    onTarget(held(Math.round(1000 * (1 - ((at - edge.top) / plotHeight) * (1 - least))) / 1000));
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
    onTarget(held(Math.round(1000 * (target + by)) / 1000));
  };
  return (
    <svg ref={svg} viewBox={`0 0 ${width} ${height}`} className="block h-auto w-full touch-none select-none">
      {roundTicks(least, 1, 7).map((t) => (
        <g key={t}>
          <line x1={edge.left} x2={width - edge.right} y1={y(t)} y2={y(t)} stroke="var(--color-rule)" />
          <text x={edge.left - 8} y={y(t) + 4.5} textAnchor="end" fontSize={13} fill="var(--color-soft)">
            {percent(t)}
          </text>
        </g>
      ))}
      {roundTicks(0, longest, 9).map((m) => (
        <text key={m} x={x(m)} y={height - edge.bottom + 19} textAnchor="middle" fontSize={13} fill="var(--color-soft)">
          {m}
        </text>
      ))}
      <text x={edge.left + plotWidth / 2} y={height - 6} textAnchor="middle" fontSize={13} fill="var(--color-soft)">
        months since it was put in order
      </text>
      <path
        d={`${path(band.map((b) => [b.months, b.high] as const))}${path([...band].reverse().map((b) => [b.months, b.low] as const)).replace('M', 'L')}Z`}
        fill="var(--color-verdigris)"
        fillOpacity={0.16}
      />
      <path
        d={path(steps.flatMap((s) => [[s.from, s.share] as const, [s.to, s.share] as const]))}
        fill="none"
        stroke="var(--color-ink)"
        strokeWidth={1.5}
      />
      <path
        d={path(band.map((b) => [b.months, shareInside(curve, b.months)] as const))}
        fill="none"
        stroke="var(--color-verdigris)"
        strokeWidth={3}
      />
      <line x1={edge.left} x2={edge.left} y1={edge.top} y2={height - edge.bottom} stroke="var(--color-ink)" />
      <line
        x1={edge.left}
        x2={width - edge.right}
        y1={height - edge.bottom}
        y2={height - edge.bottom}
        stroke="var(--color-ink)"
      />
      {months <= longest && (
        <line
          x1={x(months)}
          x2={x(months)}
          y1={y(target)}
          y2={height - edge.bottom}
          stroke="var(--color-ochre)"
          strokeWidth={2}
          strokeDasharray="6 4"
        />
      )}
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
        <rect x={edge.left} y={y(target) - 16} width={plotWidth} height={32} fill="transparent" />
        <line
          x1={edge.left}
          x2={width - edge.right}
          y1={y(target)}
          y2={y(target)}
          stroke="var(--color-ochre)"
          strokeWidth={2.5}
        />
        <rect x={width - edge.right - 104} y={y(target) - 14} width={104} height={28} fill="var(--color-ochre)" />
        <path
          d={`M${width - edge.right - 92} ${y(target) - 2} l4 -6 l4 6 z M${width - edge.right - 92} ${y(target) + 2} l4 6 l4 -6 z`}
          fill="#fff"
        />
        <text x={width - edge.right - 12} y={y(target) + 5} textAnchor="end" fontSize={15} fontWeight={700} fill="#fff">
          {percent(target, 1)}
        </text>
      </g>
    </svg>
  );
}
