import type { DistributionForm } from '../../core/uncertainty/budget-draft';

/** Density over −1 … 1, to its own greatest value. */
const densities: Record<DistributionForm, (x: number) => number> = {
  constant: (x) => (Math.abs(x) < 0.04 ? 1 : 0),
  normal: (x) => Math.exp(-5 * x * x),
  'normal-expanded': (x) => Math.exp(-5 * x * x),
  readings: (x) => (1 + 4 * x * x) ** -2,
  rectangular: (x) => (Math.abs(x) < 0.8 ? 0.8 : 0),
  'rectangular-limits': (x) => (Math.abs(x) < 0.8 ? 0.8 : 0),
  triangular: (x) => Math.max(0, 1 - Math.abs(x) / 0.85),
  trapezoidal: (x) => Math.min(0.8, Math.max(0, (0.9 - Math.abs(x)) * 2)),
  'curvilinear-trapezoidal': (x) =>
    Math.abs(x) < 0.55 ? 0.8 : Math.abs(x) < 0.95 ? 0.8 * (Math.log(0.95 / Math.abs(x)) / Math.log(0.95 / 0.55)) : 0,
  arcsine: (x) => (Math.abs(x) < 0.85 ? Math.min(1, 0.3 / Math.sqrt(1 - (x / 0.86) ** 2)) : 0),
  'student-t': (x) => (1 + 4 * x * x) ** -2,
  exponential: (x) => (x < -0.8 ? 0 : Math.exp(-2.2 * (x + 0.8))),
  gamma: (x) => (x < -0.9 ? 0 : ((x + 0.9) / 0.5) ** 2 * Math.exp(2 - (x + 0.9) / 0.25)),
};
const grid = Array.from({ length: 161 }, (_, i) => -1 + i / 80);

/** Mean and standard deviation of a drawn shape, on its own scale of −1 … 1. */
const moments = Object.fromEntries(
  Object.entries(densities).map(([form, density]) => {
    const sum = (f: (x: number) => number) => grid.reduce((s, x) => s + f(x) * density(x), 0);
    const total = sum(() => 1);
    const mean = sum((x) => x) / total;
    return [form, { mean, sd: Math.sqrt(sum((x) => (x - mean) ** 2) / total) }];
  }),
) as Record<DistributionForm, { mean: number; sd: number }>;

/** How far a shape reaches to either side, where its standard deviation is what it contributes. */
export const reachOf = (form: DistributionForm, contribution: number): number => Math.abs(contribution) / moments[form].sd;

const [width, height] = [220, 30];

/**
 * What an input contributes to the result, as its shape on a scale that all inputs of a budget share.
 * @param contribution its standard uncertainty in the result @param reach half of the width, in the same unit
 * @param limit limits that the result is to serve, where they are stated
 */
export function DistributionShape({
  form,
  contribution,
  reach,
  limit,
}: {
  form: DistributionForm;
  contribution: number;
  reach: number;
  limit: number | null;
}) {
  const at = (value: number) => width / 2 + (value / reach) * (width / 2 - 2);
  const scale = Math.abs(contribution) / moments[form].sd;
  const drawn = grid.filter((x) => densities[form](x) > 0);
  const points = drawn.map(
    (x) =>
      `${at((x - moments[form].mean) * scale).toFixed(1)},${(height - 2 - (height - 6) * Math.min(1, densities[form](x))).toFixed(1)}`,
  );
  const base = (x: number) => `${at((x - moments[form].mean) * scale).toFixed(1)},${height - 2}`;
  const isLine = Math.abs(contribution) === 0;
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="h-[30px] w-full max-w-[220px]" aria-hidden>
      <line x1="0" x2={width} y1={height - 2} y2={height - 2} stroke="var(--color-rule)" />
      {limit !== null &&
        limit <= reach &&
        [-limit, limit].map((l) => (
          <line key={l} x1={at(l)} x2={at(l)} y1="2" y2={height - 2} stroke="var(--color-brick)" strokeDasharray="3 2" />
        ))}
      {isLine ? (
        <line x1={width / 2} x2={width / 2} y1="6" y2={height - 2} stroke="var(--color-verdigris)" strokeWidth="1.5" />
      ) : (
        <polygon
          points={`${base(drawn[0]!)} ${points.join(' ')} ${base(drawn.at(-1)!)}`}
          fill="var(--color-verdigris-tint)"
          stroke="var(--color-verdigris)"
          strokeWidth="1.3"
          strokeLinejoin="round"
        />
      )}
    </svg>
  );
}
