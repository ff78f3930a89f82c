import { plainDecimal } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import { observationOf, observedUnit } from '../../core/run/reading-rules';
import { mean } from '../../core/statistics/moments';
import type { SketchProps } from './Sketch';
import { readingsHere, sketchData } from './sketch-points';

/** Where on the pan a position lies, by its label; from −1 to 1. */
const places: Record<string, [number, number]> = {
  centre: [0, 0],
  center: [0, 0],
  middle: [0, 0],
  front: [0, 1],
  back: [0, -1],
  left: [-1, 0],
  right: [1, 0],
  frontleft: [-1, 1],
  frontright: [1, 1],
  backleft: [-1, -1],
  backright: [1, -1],
};
const size = 170;
const reach = 52;

/** The pan from above: where the load lies now, and how far each corner reads from the middle. */
export function PanSketch({ state, slot }: SketchProps) {
  const { points } = sketchData(state, slot);
  const placed = points.flatMap((p) => {
    const at = places[p.title.replace(/\W/g, '').toLowerCase()];
    return at ? [{ ...p, at }] : [];
  });
  if (placed.length < 3) return null;
  const observation = observationOf(state, slot);
  const unit = observation ? printedUnit(observedUnit(state, slot, observation)) : '';
  const readings = readingsHere(state, slot).filter(
    (r) => r.slot.observation === slot.observation && typeof r.value === 'number',
  );
  const valueOf = (id: string): number | null => {
    const values = readings.filter((r) => r.slot.point === id).map((r) => r.value as number);
    return values.length ? mean(values) : null;
  };
  const centre = placed.find((p) => p.at[0] === 0 && p.at[1] === 0);
  const middle = centre ? valueOf(centre.id) : null;
  return (
    <figure className="flex items-center gap-4">
      <svg
        viewBox={`0 0 ${size} ${size}`}
        width={size}
        role="img"
        aria-label={`The load lies now: ${placed.find((p) => p.isHere)?.title ?? 'nowhere'}`}
      >
        <rect
          x={6}
          y={6}
          width={size - 12}
          height={size - 12}
          rx={10}
          fill="var(--color-sheet)"
          stroke="var(--color-rule-strong)"
          strokeWidth={1.5}
        />
        {placed.map((p) => {
          const [cx, cy] = [size / 2 + reach * p.at[0], size / 2 + reach * p.at[1]];
          const value = valueOf(p.id);
          const off = value === null || middle === null || p === centre ? null : Number((value - middle).toPrecision(6));
          return (
            <g key={p.id}>
              <circle
                cx={cx}
                cy={cy}
                r={18}
                fill={p.isHere ? 'var(--color-verdigris)' : value === null ? 'none' : 'var(--color-verdigris-tint)'}
                stroke={p.isHere ? 'var(--color-verdigris)' : 'var(--color-rule-strong)'}
                strokeWidth={p.isHere ? 3 : 1.5}
              />
              {off !== null && (
                <text
                  x={cx}
                  y={cy + 4}
                  textAnchor="middle"
                  fontSize={11}
                  fontWeight={700}
                  fill={p.isHere ? '#fff' : 'var(--color-ink)'}
                  className="figure"
                >
                  {off > 0 ? '+' : ''}
                  {plainDecimal(off).replace('-', '−')}
                </text>
              )}
            </g>
          );
        })}
        <text x={size / 2} y={size - 12} textAnchor="middle" fontSize={11} fill="var(--color-soft)">
          front
        </text>
      </svg>
      <figcaption className="text-sm text-soft">
        Put the load where the pan is filled. Numbers: against the middle{unit && `, ${unit}`}.
      </figcaption>
    </figure>
  );
}
