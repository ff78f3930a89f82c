import { Trash2 } from 'lucide-react';
import type { BudgetDraft } from '../../core/uncertainty/budget-draft';

type Correlations = BudgetDraft['correlations'];

/** Which two inputs vary together, and how much. */
export function CorrelationList({
  correlations,
  faultAt,
  onChange,
}: {
  correlations: Correlations;
  faultAt: (index: number) => string | null;
  onChange: (correlations: Correlations) => void;
}) {
  return correlations.map((c, i) => {
    const change = (part: Partial<typeof c>) => onChange(correlations.map((old, j) => (j === i ? { ...old, ...part } : old)));
    return (
      <div key={i} className="mt-2">
        <div className="flex flex-wrap items-center gap-2 text-sm">
          correlation of
          <input
            value={c.a}
            onChange={(e) => change({ a: e.target.value })}
            aria-label="First symbol"
            className="!min-h-9 w-24 !py-1 font-mono"
          />
          and
          <input
            value={c.b}
            onChange={(e) => change({ b: e.target.value })}
            aria-label="Second symbol"
            className="!min-h-9 w-24 !py-1 font-mono"
          />
          <input
            value={c.coefficient}
            onChange={(e) => change({ coefficient: e.target.value })}
            aria-label="Correlation coefficient"
            inputMode="decimal"
            className="figure !min-h-9 w-20 !py-1"
          />
          <button
            type="button"
            aria-label="Remove this correlation"
            className="cursor-pointer p-2"
            onClick={() => onChange(correlations.filter((_, j) => j !== i))}
          >
            <Trash2 size={16} aria-hidden />
          </button>
        </div>
        {faultAt(i) && <p className="fault mt-1 text-sm">{faultAt(i)}</p>}
      </div>
    );
  });
}
