import { limitWords, shownPair, withPrintedUnit } from '../core/run/shown-value';

/** One mark: a value and its expanded uncertainty, in the unit of the strip. */
export type Mark = { value: number; expandedUncertainty: number | null };
export type StripLimits = { lower: number | null; upper: number | null };

type Props = {
  /** The strip is drawn to the scale of the tolerance and shows half as much again beyond it. */
  limits: StripLimits;
  /** Inside which the rule accepts; the limits themselves where it says nothing. */
  acceptance?: Partial<StripLimits> | undefined;
  found: Mark | null;
  left: Mark | null;
  unit: string;
  shownIn?: string;
  width?: number;
  height?: number;
};

/** The span that a strip stands for: between two limits, or as wide as the one there is is far from zero. Null where it has no width. */
function spanOf({ lower, upper }: StripLimits): { from: number; to: number } | null {
  const from = lower ?? (upper ?? 0) - Math.abs(upper ?? 0);
  const to = upper ?? (lower ?? 0) + Math.abs(lower ?? 0);
  return to > from ? { from, to } : null;
}

/**
 * Found and left as a pair: a hollow ring as found, a filled dot as left, a stem between, on a strip drawn to the scale of
 * the tolerance. The same mark stands on the bench, in lists, on charts and on the certificate.
 */
export function PairMark({ limits, acceptance, found, left, unit, shownIn = unit, width = 220, height = 26 }: Props) {
  const span = spanOf(limits);
  if (!span) return null;
  const centre = (span.from + span.to) / 2;
  const scale = width / (1.5 * (span.to - span.from));
  const at = (value: number) => Math.max(6, Math.min(width - 6, width / 2 + (value - centre) * scale));
  const middle = height / 2;
  const apart = found && left ? 5 : 0;
  const isOut = ({ value }: Mark) =>
    (limits.upper !== null && value > limits.upper) || (limits.lower !== null && value < limits.lower);
  const colour = (mark: Mark) => (isOut(mark) ? 'var(--color-brick)' : 'var(--color-ink)');
  const off = ({ value }: Mark): -1 | 0 | 1 =>
    (value - centre) * scale > width / 2 ? 1 : (value - centre) * scale < -width / 2 ? -1 : 0;
  const say = ({ value, expandedUncertainty }: Mark) =>
    withPrintedUnit(shownPair(value, expandedUncertainty, unit, shownIn, limits).value, shownIn);
  const said = [found && `as found ${say(found)}`, left && `as left ${say(left)}`, `limits ${limitWords(limits, unit, shownIn)}`]
    .filter(Boolean)
    .join(', ');

  const draw = (mark: Mark, y: number, filled: boolean) => (
    <g stroke={colour(mark)} fill={filled ? colour(mark) : 'var(--color-sheet)'}>
      {mark.expandedUncertainty !== null && (
        <line
          x1={at(mark.value - mark.expandedUncertainty)}
          x2={at(mark.value + mark.expandedUncertainty)}
          y1={y}
          y2={y}
          strokeWidth={1.5}
        />
      )}
      {off(mark) !== 0 ? (
        <path d={off(mark) > 0 ? `M${width - 10} ${y - 5} l8 5 l-8 5 z` : `M10 ${y - 5} l-8 5 l8 5 z`} strokeWidth={1.5} />
      ) : (
        <circle cx={at(mark.value)} cy={y} r={filled ? 4.5 : 4.2} strokeWidth={filled ? 0 : 2} />
      )}
    </g>
  );
  // On the side without a limit everything is accepted.
  const beyond = 0.25 * (span.to - span.from);
  const from = limits.lower === null ? span.from - beyond : span.from;
  const to = limits.upper === null ? span.to + beyond : span.to;
  const accepted = { from: acceptance?.lower ?? from, to: acceptance?.upper ?? to };
  const edges = [limits.lower, limits.upper].filter((e) => e !== null);

  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={said}
      className="block max-w-full bg-sheet"
    >
      <rect x={at(from)} width={at(to) - at(from)} y={1} height={height - 2} fill="var(--color-ochre-tint)" opacity={0.75} />
      <rect
        x={at(accepted.from)}
        width={Math.max(0, at(accepted.to) - at(accepted.from))}
        y={1}
        height={height - 2}
        fill="var(--color-verdigris-tint)"
      />
      <line x1={0} x2={width} y1={middle} y2={middle} stroke="var(--color-rule)" />
      {edges.length === 2 && <line x1={at(centre)} x2={at(centre)} y1={1} y2={height - 1} stroke="var(--color-rule-strong)" />}
      {edges.map((edge) => (
        <line key={edge} x1={at(edge)} x2={at(edge)} y1={1} y2={height - 1} stroke="var(--color-soft)" strokeWidth={1.5} />
      ))}
      {found && left && (
        <line
          x1={at(found.value)}
          y1={middle - apart}
          x2={at(left.value)}
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
