import { plainDecimal } from '../../core/quantity/rounding';
import { numberIn, type StepContext } from '../../core/steps/step-context';
import { watchedSamples } from '../../core/steps/wait';
import { waitKey } from '../../core/state/place-keys';

const [width, height, pad] = [340, 120, 14];

/** What was seen while waiting, over the minutes, with the band that it is to stay in about the latest value, or about what it waits for. */
export function ApproachSketch({ context }: { context: StepContext<'wait'> }) {
  const { state, step, place } = context;
  const record = state.waits.get(waitKey({ ...place, id: step.id }));
  const seen = record ? watchedSamples(record).filter(([, v]) => Number.isFinite(v)) : [];
  const within = numberIn(context, step.until?.within);
  if (!step.until || seen.length < 2 || within === undefined) return null;
  const last = seen.at(-1)![1];
  const centre = 'near' in step.until ? (numberIn(context, { is: step.until.near }) ?? last) : last;
  const values = [...seen.map(([, v]) => v), centre - within, centre + within];
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const longest = seen.at(-1)![0] || 1;
  const x = (minutes: number) => pad + (minutes / longest) * (width - 2 * pad);
  const y = (v: number) => pad + ((most - v) / (most - least || 1)) * (height - 2 * pad);
  const said = seen.map(([t, v]) => `${t.toFixed(1)} min ${plainDecimal(v)}`).join('; ');
  return (
    <figure>
      <svg viewBox={`0 0 ${width} ${height}`} className="w-full max-w-[26rem]" role="img" aria-label={`Seen so far: ${said}`}>
        <rect
          x={0}
          width={width}
          y={y(centre + within)}
          height={Math.max(2, y(centre - within) - y(centre + within))}
          fill="var(--color-verdigris-tint)"
        />
        <polyline
          points={seen.map(([t, v]) => `${x(t)},${y(v)}`).join(' ')}
          fill="none"
          stroke="var(--color-verdigris)"
          strokeWidth={2}
        />
        {seen.map(([t, v], i) => (
          <circle key={i} cx={x(t)} cy={y(v)} r={4} fill="var(--color-sheet)" stroke="var(--color-ink)" strokeWidth={2} />
        ))}
      </svg>
      <figcaption className="text-sm text-soft">
        Seen over {longest < 1 ? 'less than a minute' : `${Math.round(longest)} min`}; shaded: close enough
      </figcaption>
    </figure>
  );
}
