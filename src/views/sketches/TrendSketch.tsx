import { decimalsForSignificant } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import { observationOf, observedResolution, observedUnit } from '../../core/run/reading-rules';
import { mean } from '../../core/statistics/moments';
import type { SketchProps } from './Sketch';
import { readingsHere } from './sketch-points';

const [width, height, pad] = [340, 120, 14];
/** As many of the last readings as are drawn. */
const last = 30;

/** The readings of one observation in the order in which they were taken: whether they stand, drift or jump. */
export function TrendSketch({ state, slot }: SketchProps) {
  const observation = observationOf(state, slot);
  const values = readingsHere(state, slot)
    .filter((r) => r.slot.observation === slot.observation && r.slot.point === slot.point && typeof r.value === 'number')
    .map((r) => r.value as number)
    .slice(-last);
  if (!observation || values.length < 2) return null;
  const unit = printedUnit(observedUnit(state, slot, observation));
  const step = observedResolution(state, slot, observation);
  const middle = mean(values);
  // Never so magnified that the last digit alone fills the picture.
  const reach = Math.max(...values.map((v) => Math.abs(v - middle)), 2 * (step ?? 0)) || 1;
  const x = (i: number) => pad + (i * (width - 2 * pad)) / Math.max(1, values.length - 1);
  const y = (v: number) => height / 2 - ((v - middle) / reach) * (height / 2 - pad);
  const range = Math.max(...values) - Math.min(...values);
  const decimals = decimalsForSignificant(step ?? range, 1) ?? 3;
  return (
    <figure>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full max-w-[26rem]"
        role="img"
        aria-label={`Readings so far: ${values.join(', ')} ${unit}`}
      >
        <line x1={0} x2={width} y1={y(middle)} y2={y(middle)} stroke="var(--color-rule-strong)" strokeDasharray="4 4" />
        <polyline
          points={values.map((v, i) => `${x(i)},${y(v)}`).join(' ')}
          fill="none"
          stroke="var(--color-verdigris)"
          strokeWidth={2}
        />
        {values.map((v, i) => (
          <circle key={i} cx={x(i)} cy={y(v)} r={4} fill="var(--color-sheet)" stroke="var(--color-ink)" strokeWidth={2} />
        ))}
      </svg>
      <figcaption className="text-sm text-soft">
        {values.length} readings, mean <span className="figure">{middle.toFixed(Math.min(12, Math.max(0, decimals + 1)))}</span>{' '}
        {unit}, from least to greatest <span className="figure">{range.toFixed(Math.min(12, Math.max(0, decimals)))}</span> {unit}
      </figcaption>
    </figure>
  );
}
