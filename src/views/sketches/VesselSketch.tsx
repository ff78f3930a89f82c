import { findUnit, printedUnit } from '../../core/quantity/unit';
import { shownPair } from '../../core/run/shown-value';
import type { SketchProps } from './Sketch';
import { sketchData } from './sketch-points';
import { TrendSketch } from './TrendSketch';

const size = 150;
const wall = 62;

/** Each height of a vessel from above: the shaft off the middle, drawn to the scale of its limit. */
export function VesselSketch({ state, slot }: SketchProps) {
  const { points, unit, shownIn, result } = sketchData(state, slot);
  if (!result) return null;
  // No shaft turns in a bath: there one looks at whether it stands.
  if (findUnit(unit)?.kind !== 'length') return <TrendSketch state={state} slot={slot} />;
  return (
    <figure>
      <div className="flex gap-4">
        {points.map((p) => {
          const limit = p.result?.limits?.upper;
          const off = p.result && limit ? Math.min(1.4, p.result.estimate / limit) : null;
          const isOut = off !== null && off > 1;
          return (
            <svg
              key={p.id}
              viewBox={`0 0 ${size} ${size + 18}`}
              width={size}
              role="img"
              aria-label={`${p.title}: ${p.result ? shownPair(p.result.estimate, p.result.expandedUncertainty, unit, shownIn, p.result.limits).value : 'not read yet'}`}
            >
              <circle
                cx={size / 2}
                cy={size / 2}
                r={wall}
                fill="var(--color-sheet)"
                stroke={p.isHere ? 'var(--color-verdigris)' : 'var(--color-rule-strong)'}
                strokeWidth={p.isHere ? 4 : 2}
              />
              <circle
                cx={size / 2}
                cy={size / 2}
                r={30}
                fill="var(--color-verdigris-tint)"
                stroke="var(--color-soft)"
                strokeDasharray="3 3"
              />
              <line x1={size / 2 - 6} x2={size / 2 + 6} y1={size / 2} y2={size / 2} stroke="var(--color-rule-strong)" />
              <line y1={size / 2 - 6} y2={size / 2 + 6} x1={size / 2} x2={size / 2} stroke="var(--color-rule-strong)" />
              {off !== null && (
                <circle cx={size / 2 + 30 * off} cy={size / 2} r={7} fill={isOut ? 'var(--color-brick)' : 'var(--color-ink)'} />
              )}
              <text
                x={size / 2}
                y={size + 12}
                textAnchor="middle"
                fontSize={13}
                fontWeight={p.isHere ? 700 : 400}
                fill="var(--color-ink)"
              >
                {p.title}
              </text>
            </svg>
          );
        })}
      </div>
      <figcaption className="text-sm text-soft">
        Shaft off the middle{printedUnit(shownIn) && `, ${printedUnit(shownIn)}`}; the dashed ring is the limit.
      </figcaption>
    </figure>
  );
}
