import { printedUnit } from '../../core/quantity/unit';
import { roundToDecimals } from '../../core/quantity/rounding';
import type { BudgetResult } from '../../core/uncertainty/propagate';

const [width, height] = [340, 34];

/** The contributions, stacked to U by their shares of the variance, against the limit that the result is to serve. */
export function LimitStack({
  result,
  unit,
  typed,
  limit,
  fault,
  onType,
}: {
  result: BudgetResult;
  unit: string;
  typed: string;
  /** What was typed, as a number; null where there is none. */ limit: number | null;
  /** Why what was typed is no number. */ fault: string | null;
  onType: (text: string) => void;
}) {
  const U = result.expandedUncertainty;
  const most = Math.max(U, limit ?? 0);
  const whole = most > 0 ? (U / most) * width : 0;
  const total = result.contributions.reduce((s, c) => s + Math.abs(c.share), 0) || 1;
  const ordered = [...result.contributions].sort((a, b) => Math.abs(b.share) - Math.abs(a.share));
  const sizes = ordered.map((c) => (whole * Math.abs(c.share)) / total);
  const parts = ordered.map((c, i) => ({
    symbol: c.symbol,
    from: sizes.slice(0, i).reduce((a, b) => a + b, 0),
    size: sizes[i]!,
    isDark: i % 2 === 0,
  }));
  return (
    <section aria-label="Against the limit" className="mt-4">
      <label className="flex flex-wrap items-center gap-2">
        It is to serve a limit of ±
        <input
          value={typed}
          onChange={(e) => onType(e.target.value)}
          inputMode="decimal"
          aria-label="Limit that it is to serve"
          className="figure w-28"
        />
        {printedUnit(unit)}
      </label>
      {fault && (
        <p className="fault mt-1 text-sm" role="alert">
          {fault}
        </p>
      )}
      <svg viewBox={`0 0 ${width} ${height}`} className="mt-2 w-full" role="img" aria-label="Contributions stacked to U">
        <line x1="0" x2={width} y1={height - 8} y2={height - 8} stroke="var(--color-rule)" />
        {parts.map((p) => (
          <g key={p.symbol}>
            <rect
              x={p.from}
              y="4"
              width={Math.max(0, p.size - 1)}
              height={height - 12}
              fill={p.isDark ? 'var(--color-verdigris)' : 'var(--color-verdigris-tint)'}
              stroke="var(--color-verdigris)"
            />
            {p.size > 9 * p.symbol.length + 6 && (
              <text
                x={p.from + p.size / 2}
                y={height / 2 + 1}
                textAnchor="middle"
                fontSize="12"
                fill={p.isDark ? 'white' : 'var(--color-ink)'}
              >
                {p.symbol}
              </text>
            )}
          </g>
        ))}
        {limit !== null && limit > 0 && (
          <line
            x1={(limit / most) * (width - 2)}
            x2={(limit / most) * (width - 2)}
            y1="0"
            y2={height - 4}
            stroke="var(--color-brick)"
            strokeWidth="2.5"
          />
        )}
      </svg>
      <p className="text-sm" role="status">
        {limit === null || limit <= 0
          ? 'Each part is a contribution, as large as its share of the variance; together they are U.'
          : U > limit
            ? `U is ${roundToDecimals(U / limit, 1)} times the limit: nothing can be told inside.`
            : `U takes ${roundToDecimals((100 * U) / limit, 0)} % of the limit: a ratio of ${roundToDecimals(limit / U, 1)} to 1.`}
      </p>
    </section>
  );
}
