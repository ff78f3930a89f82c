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

/** A small drawing of a distribution's shape. */
export function DistributionShape({ form }: { form: DistributionForm }) {
  const points = Array.from({ length: 81 }, (_, i) => {
    const x = -1 + i / 40;
    return `${((x + 1) * 24).toFixed(1)},${(21 - 18 * Math.min(1, densities[form](x))).toFixed(1)}`;
  });
  return (
    <svg width="48" height="22" aria-hidden>
      <polygon
        points={`0,21 ${points.join(' ')} 48,21`}
        fill="var(--color-verdigris-tint)"
        stroke="var(--color-verdigris)"
        strokeWidth="1.3"
      />
    </svg>
  );
}
