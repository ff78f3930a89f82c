import { printedPair, reportedPair, roundToDecimals } from '../core/quantity/rounding';

/** One mark: an error and its expanded uncertainty, both in mm. */
export type Mark = { error: number; expandedUncertainty: number };

type Props = {
  /** The tolerance to each side, in mm; the strip is drawn to its scale and shows half as much again beyond it. */
  limit: number;
  /** Guard band drawn in from the limit, in mm. */
  guard?: number;
  found: Mark | null;
  left: Mark | null;
  width?: number;
  height?: number;
};

export const inMicrometres = (mm: number, decimals = 1): string => {
  const text = roundToDecimals(mm * 1000, decimals);
  return text.startsWith('-') ? `−${text.slice(1)}` : Number(text) === 0 ? text : `+${text}`;
};

/** An expanded uncertainty in mm as it stands on a sheet, in micrometres; over a power of ten where two digits count of more. */
export const uncertaintyInMicrometres = (mm: number): string =>
  mm * 1000 >= 99.5 ? printedPair(reportedPair(0, mm * 1000)).expandedUncertainty : roundToDecimals(mm * 1000, 2);

/**
 * Found and left as a pair: a hollow ring as found, a filled dot as left, a stem between, on a strip drawn to the scale of
 * the tolerance. The same mark stands on the bench, in lists, on charts and on the certificate.
 */
export function PairMark({ limit, guard = 0, found, left, width = 220, height = 26 }: Props) {
  const half = width / 2;
  const unit = half / (1.5 * limit);
  const at = (error: number) => Math.max(4, Math.min(width - 4, half + error * unit));
  const middle = height / 2;
  const apart = found && left ? 5 : 0;
  const colour = (mark: Mark) => (Math.abs(mark.error) > limit ? 'var(--color-brick)' : 'var(--color-ink)');
  const isOff = (mark: Mark) => Math.abs(mark.error) > 1.5 * limit;
  const said = [
    found && `as found ${inMicrometres(found.error)} µm`,
    left && `as left ${inMicrometres(left.error)} µm`,
    `limits ±${roundToDecimals(limit * 1000, 1)} µm`,
  ]
    .filter(Boolean)
    .join(', ');

  const draw = (mark: Mark, y: number, filled: boolean) => (
    <g stroke={colour(mark)} fill={filled ? colour(mark) : 'var(--color-sheet)'}>
      <line
        x1={at(mark.error - mark.expandedUncertainty)}
        x2={at(mark.error + mark.expandedUncertainty)}
        y1={y}
        y2={y}
        strokeWidth={1.5}
      />
      {isOff(mark) ? (
        <path d={mark.error > 0 ? `M${width - 10} ${y - 5} l8 5 l-8 5 z` : `M10 ${y - 5} l-8 5 l8 5 z`} strokeWidth={1.5} />
      ) : (
        <circle cx={at(mark.error)} cy={y} r={filled ? 4.5 : 4.2} strokeWidth={filled ? 0 : 2} />
      )}
    </g>
  );

  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={said} className="block">
      <rect
        x={at(-limit)}
        width={at(limit) - at(-limit)}
        y={1}
        height={height - 2}
        fill="var(--color-ochre-tint)"
        opacity={0.75}
      />
      <rect
        x={at(-limit + guard)}
        width={Math.max(0, at(limit - guard) - at(-limit + guard))}
        y={1}
        height={height - 2}
        fill="var(--color-verdigris-tint)"
      />
      <line x1={0} x2={width} y1={middle} y2={middle} stroke="var(--color-rule)" />
      {[-limit, 0, limit].map((edge) => (
        <line
          key={edge}
          x1={at(edge)}
          x2={at(edge)}
          y1={1}
          y2={height - 1}
          stroke={edge === 0 ? 'var(--color-rule-strong)' : 'var(--color-soft)'}
          strokeWidth={edge === 0 ? 1 : 1.5}
        />
      ))}
      {found && left && (
        <line
          x1={at(found.error)}
          y1={middle - apart}
          x2={at(left.error)}
          y2={middle + apart}
          stroke="var(--color-ink)"
          strokeWidth={1.5}
        />
      )}
      {found && draw(found, middle - apart, false)}
      {left && draw(left, middle + apart, true)}
    </svg>
  );
}
