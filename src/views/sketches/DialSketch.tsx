import { plainDecimal } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import { pointUnit } from '../../core/run/place-words';
import type { SketchProps } from './Sketch';
import { sketchData } from './sketch-points';

const size = 180;
const turn = 270;
/** More numerals than this run into each other. */
const mostNumerals = 7;

/** A dial over the range: the points as marks, those read filled, the needle where the present point stands. */
export function DialSketch({ state, slot }: SketchProps) {
  const { points } = sketchData(state, slot);
  const { usedLower, usedUpper } = state.instrument;
  const placed = points.filter((p) => p.nominal !== undefined && usedUpper > usedLower);
  if (placed.length < 2) return null;
  const unit = printedUnit(pointUnit(state, slot));
  const at = (nominal: number, radius: number): [number, number] => {
    const share = Math.max(0, Math.min(1, (nominal - usedLower) / (usedUpper - usedLower)));
    const angle = ((-turn / 2 + share * turn - 90) * Math.PI) / 180;
    return [size / 2 + radius * Math.cos(angle), size / 2 + radius * Math.sin(angle)];
  };
  const every = Math.ceil(placed.length / mostNumerals);
  const here = placed.find((p) => p.isHere);
  return (
    <figure className="flex items-center gap-4">
      <svg
        viewBox={`0 0 ${size} ${size}`}
        width={size}
        role="img"
        aria-label={here ? `The needle is wanted at ${here.title}` : 'The dial'}
      >
        <circle
          cx={size / 2}
          cy={size / 2}
          r={size / 2 - 4}
          fill="var(--color-sheet)"
          stroke="var(--color-rule-strong)"
          strokeWidth={1.5}
        />
        {placed.map((p, i) => {
          const [x1, y1] = at(p.nominal!, 70);
          const [x2, y2] = at(p.nominal!, 82);
          const [tx, ty] = at(p.nominal!, 56);
          return (
            <g key={p.id}>
              <line
                x1={x1}
                y1={y1}
                x2={x2}
                y2={y2}
                stroke={p.result ? 'var(--color-verdigris)' : 'var(--color-rule-strong)'}
                strokeWidth={p.result ? 5 : 2.5}
              />
              {i % every === 0 && (
                <text x={tx} y={ty + 4} fontSize={11} textAnchor="middle" fill="var(--color-soft)" className="figure">
                  {plainDecimal(p.nominal!).replace('-', '−')}
                </text>
              )}
            </g>
          );
        })}
        {here && (
          <line
            x1={size / 2}
            y1={size / 2}
            x2={at(here.nominal!, 66)[0]}
            y2={at(here.nominal!, 66)[1]}
            stroke="var(--color-ink)"
            strokeWidth={3}
            strokeLinecap="round"
          />
        )}
        <circle cx={size / 2} cy={size / 2} r={5} fill="var(--color-ink)" />
      </svg>
      <figcaption className="text-sm text-soft">
        {here ? `Set ${here.title}.` : ''} Green marks are read{unit && unit !== '1' ? `; ${unit}` : ''}.
      </figcaption>
    </figure>
  );
}
