import { plainDecimal } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import { pointUnit, seriesOf } from '../../core/run/place-words';
import { inShownUnit, limitWords } from '../../core/run/shown-value';
import { WhereRoom } from '../../ui/WhereRoom';
import { ErrorCurve as Drawing } from '../charts';
import { errorPlot, type CurvePoint } from '../charts/error-plot';
import type { SketchProps } from './Sketch';
import { sketchData, type SketchPoint } from './sketch-points';

/** Of the drawing and a line beneath it, in px. */
const height = 170;

/** Errors of a series along its range, or along the frequencies it was read at. */
export function ErrorCurve({ state, slot, axis }: SketchProps & { axis: 'nominal' | 'frequency' }) {
  const { points, unit, shownIn, result } = sketchData(state, slot);
  const isFrequency = axis === 'frequency';
  const inHertz = isFrequency && points.some((p) => p.columns['frequency'] !== undefined);
  const pointIn = printedUnit(inHertz ? 'Hz' : pointUnit(state, slot));
  const valueOf = (p: SketchPoint) => (isFrequency ? Number(p.columns['frequency'] ?? p.nominal) : p.nominal);
  const plot = errorPlot(
    points.map((p): CurvePoint => {
      const value = valueOf(p) ?? Number.NaN;
      const r = p.result;
      return {
        x: isFrequency && value ? Math.log10(value) : value,
        label: Number.isFinite(value)
          ? `${plainDecimal(value).replace('-', '−')} ${pointIn === '1' ? '' : pointIn}`.trim()
          : p.title,
        limits: r?.limits ? { lower: r.limits.lower ?? null, upper: r.limits.upper ?? null } : null,
        result: r ? { estimate: r.estimate, U: r.expandedUncertainty } : null,
        isHere: p.isHere,
      };
    }),
  );
  if (!result || !plot) return null;
  const limitsSaid = new Set(points.flatMap((p) => (p.result?.limits ? [limitWords(p.result.limits, unit, shownIn)] : [])));
  const said = points.flatMap((p) =>
    p.result ? [`${p.title} ${inShownUnit(p.result.estimate, unit, shownIn).toPrecision(3)}`] : [],
  );
  return (
    <WhereRoom height={height}>
      <figure className="max-w-[26rem]">
        <div role="img" aria-label={`${result.title} so far, in ${printedUnit(shownIn)}: ${said.join('; ')}`}>
          <Drawing plot={plot} />
        </div>
        <figcaption className="text-sm text-soft">
          {result.title} {seriesOf(state, slot.series)?.separate ? 'piece by piece' : 'along the range'},{' '}
          {limitsSaid.size === 1 ? `limits ${[...limitsSaid][0]}` : 'each with its own limits'}
        </figcaption>
      </figure>
    </WhereRoom>
  );
}
