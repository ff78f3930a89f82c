import { plainDecimal } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import { pointUnit, seriesOf } from '../../core/run/place-words';
import { inShownUnit, limitWords } from '../../core/run/shown-value';
import type { SketchProps } from './Sketch';
import { sketchData } from './sketch-points';

const [width, height, side, top, bottom] = [340, 150, 14, 12, 26];

/** Errors along the range: limits as a band, what is read as rings with their uncertainty, the present point as a line. */
export function ErrorCurve({ state, slot, axis }: SketchProps & { axis: 'nominal' | 'frequency' }) {
  const { points, unit, shownIn, result } = sketchData(state, slot);
  const xOf = (p: (typeof points)[number]): number => {
    const value = axis === 'frequency' ? Number(p.columns['frequency'] ?? p.nominal) : p.nominal;
    return axis === 'frequency' && value ? Math.log10(value) : (value ?? Number.NaN);
  };
  const xs = points.map(xOf);
  const isPlaced = xs.every(Number.isFinite) && new Set(xs).size > 1;
  const [low, high] = isPlaced ? [Math.min(...xs), Math.max(...xs)] : [0, Math.max(1, points.length - 1)];
  const [leftmost, rightmost] = isPlaced ? [xs.indexOf(low), xs.indexOf(high)] : [0, points.length - 1];
  const x = (i: number) => {
    const share = ((isPlaced ? xs[i]! : points.length === 1 ? 0.5 : i) - low) / (high - low);
    return side + share * (width - 2 * side);
  };
  /** Room that a point has for its limits: up to half-way to the nearer neighbour. */
  const gapAt = (i: number) =>
    Math.min(60, ...points.flatMap((_, k) => (k === i ? [] : [Math.abs(x(k) - x(i))])).filter((d) => d > 0));
  const limits = points.flatMap((p) =>
    [p.result?.limits?.lower, p.result?.limits?.upper].flatMap((l) => (l === undefined ? [] : [Math.abs(l)])),
  );
  const values = points.flatMap((p) => (p.result ? [Math.abs(p.result.estimate) + p.result.expandedUncertainty] : []));
  if (!result || values.length === 0 || limits.length === 0) return null;
  // A failure stays in the picture, as far as a picture allows.
  const largest = Math.max(...limits);
  const reach = Math.max(1.25 * largest, Math.min(4 * largest, 1.05 * Math.max(...values)));
  const middle = top + (height - top - bottom) / 2;
  const y = (value: number) => middle - (Math.max(-reach, Math.min(reach, value)) / reach) * ((height - top - bottom) / 2);
  const limitsSaid = new Set(points.flatMap((p) => (p.result?.limits ? [limitWords(p.result.limits, unit, shownIn)] : [])));
  const here = points.findIndex((p) => p.isHere);
  const inHertz = axis === 'frequency' && points.some((p) => p.columns['frequency'] !== undefined);
  const pointIn = printedUnit(inHertz ? 'Hz' : pointUnit(state, slot));
  const label = (i: number) => {
    const p = points[i]!;
    const value = axis === 'frequency' ? Number(p.columns['frequency'] ?? p.nominal) : p.nominal;
    return value === undefined || !Number.isFinite(value)
      ? p.title
      : `${plainDecimal(value).replace('-', '−')} ${pointIn === '1' ? '' : pointIn}`.trim();
  };
  const said = points.flatMap((p) =>
    p.result ? [`${p.title} ${inShownUnit(p.result.estimate, unit, shownIn).toPrecision(3)}`] : [],
  );
  return (
    <figure>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full max-w-[26rem]"
        role="img"
        aria-label={`${result.title} so far, in ${printedUnit(shownIn)}: ${said.join('; ')}`}
      >
        {points.map((p, i) => {
          const { lower, upper } = p.result?.limits ?? {};
          if (lower === undefined && upper === undefined) return null;
          const half = Math.max(4, gapAt(i) / 2 - 1);
          const [from, to] = [y(upper ?? reach), y(lower ?? -reach)];
          return (
            <g key={p.id}>
              <rect
                x={x(i) - half}
                width={2 * half}
                y={from}
                height={Math.max(0, to - from)}
                fill="var(--color-verdigris-tint)"
              />
              {upper !== undefined && <line x1={x(i) - half} x2={x(i) + half} y1={from} y2={from} stroke="var(--color-soft)" />}
              {lower !== undefined && <line x1={x(i) - half} x2={x(i) + half} y1={to} y2={to} stroke="var(--color-soft)" />}
            </g>
          );
        })}
        <line x1={0} x2={width} y1={y(0)} y2={y(0)} stroke="var(--color-rule-strong)" />
        {here >= 0 && (
          <line
            x1={x(here)}
            x2={x(here)}
            y1={top - 8}
            y2={height - bottom}
            stroke="var(--color-verdigris)"
            strokeWidth={2}
            strokeDasharray="3 3"
          />
        )}
        {points.map((p, i) => {
          const r = p.result;
          if (!r) return <circle key={p.id} cx={x(i)} cy={y(0)} r={1.5} fill="var(--color-rule-strong)" />;
          const isOut =
            (r.limits?.upper !== undefined && r.estimate > r.limits.upper) ||
            (r.limits?.lower !== undefined && r.estimate < r.limits.lower);
          const colour = isOut ? 'var(--color-brick)' : 'var(--color-ink)';
          return (
            <g key={p.id} stroke={colour}>
              <line
                x1={x(i)}
                x2={x(i)}
                y1={y(r.estimate + r.expandedUncertainty)}
                y2={y(r.estimate - r.expandedUncertainty)}
                strokeWidth={1.5}
              />
              <circle cx={x(i)} cy={y(r.estimate)} r={4} fill="var(--color-sheet)" strokeWidth={2} />
            </g>
          );
        })}
        <g fontSize={12} fill="var(--color-soft)" className="figure">
          <text x={side - 8} y={height - 8}>
            {label(leftmost)}
          </text>
          {points.length > 1 && (
            <text x={width - side + 8} y={height - 8} textAnchor="end">
              {label(rightmost)}
            </text>
          )}
        </g>
      </svg>
      <figcaption className="text-sm text-soft">
        {result.title} {seriesOf(state, slot.series)?.separate ? 'piece by piece' : 'along the range'},{' '}
        {limitsSaid.size === 1 ? `limits ${[...limitsSaid][0]}` : 'each with its own limits'}
      </figcaption>
    </figure>
  );
}
