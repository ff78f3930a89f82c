import { AnalysisError } from '../../core/disciplines/discipline-analysis';
import { readTouchstone, type NetworkPoint } from '../../core/disciplines/rf/touchstone';
import type { SketchProps } from './Sketch';

const size = 220;
const unit = 96;
/** More steps than this cannot be told apart in a drawing of this size. */
const mostSteps = 600;
const rings = [0.25, 0.5, 0.75, 1];

/** The network file that was read last in this set; null where none was, or where it cannot be read. */
function latestNetwork({ state, slot }: SketchProps): NetworkPoint[] | null {
  const files = new Set(
    state.procedure.series.flatMap((s) => s.observe.filter((o) => o.type === 'file').map((o) => `${s.id}|${o.id}`)),
  );
  const read = [...state.live.values()].filter(
    (r) => r.slot.set === slot.set && files.has(`${r.slot.series}|${r.slot.observation}`),
  );
  const last = read.reduce<(typeof read)[number] | null>((a, r) => (a && a.sequence > r.sequence ? a : r), null);
  if (!last) return null;
  try {
    return readTouchstone(last.text);
  } catch (error) {
    if (error instanceof AnalysisError) return null;
    throw error;
  }
}

/** A reflection coefficient in its plane: rings of equal magnitude, the locus from the lowest frequency to the highest, outward steps marked. */
export function ReflectionSketch(props: SketchProps) {
  const points = latestNetwork(props);
  if (!points || points.length < 2) return null;
  const every = Math.ceil(points.length / mostSteps);
  const drawn = points.filter((_, i) => i % every === 0 || i === points.length - 1);
  const at = ([re, im]: NetworkPoint['s11']): string =>
    `${(size / 2 + unit * re).toFixed(1)},${(size / 2 - unit * im).toFixed(1)}`;
  const magnitude = (p: NetworkPoint) => Math.hypot(...p.s11);
  const outward = points.filter((p, i) => i > 0 && magnitude(p) > magnitude(points[i - 1]!) + 1e-9);
  const [first, last] = [points[0]!, points.at(-1)!];
  const said = `Reflection from ${magnitude(first).toFixed(3)} to ${magnitude(last).toFixed(3)}, ${outward.length === 0 ? 'never outward' : `${outward.length} ${outward.length === 1 ? 'step' : 'steps'} outward`}`;
  return (
    <figure>
      <svg viewBox={`0 0 ${size} ${size}`} width={size} role="img" aria-label={said}>
        {rings
          .map((r) => (
            <circle
              key={r}
              cx={size / 2}
              cy={size / 2}
              r={unit * r}
              fill={r === 1 ? 'var(--color-sheet)' : 'none'}
              stroke="var(--color-rule-strong)"
              strokeWidth={r === 1 ? 1.5 : 0.75}
              strokeDasharray={r === 1 ? undefined : '3 3'}
            />
          ))
          .reverse()}
        <line x1={size / 2 - unit} x2={size / 2 + unit} y1={size / 2} y2={size / 2} stroke="var(--color-rule)" />
        <line y1={size / 2 - unit} y2={size / 2 + unit} x1={size / 2} x2={size / 2} stroke="var(--color-rule)" />
        <polyline points={drawn.map((p) => at(p.s11)).join(' ')} fill="none" stroke="var(--color-verdigris)" strokeWidth={1.5} />
        {outward.slice(0, mostSteps).map((p) => {
          const [x, y] = at(p.s11).split(',');
          return <circle key={p.frequency} cx={x} cy={y} r={4} fill="none" stroke="var(--color-brick)" strokeWidth={2} />;
        })}
        <text x={size / 2 + unit + 3} y={size / 2 + 4} fontSize={11} fill="var(--color-soft)">
          1
        </text>
      </svg>
      <figcaption className="text-sm text-soft">{said}.</figcaption>
    </figure>
  );
}
