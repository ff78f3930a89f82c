import { printedUnit } from '../../core/quantity/unit';
import { roundToDecimals } from '../../core/quantity/rounding';
import type { QuantityDraft } from '../../core/uncertainty/budget-draft';
import { inputSentence } from '../../core/uncertainty/input-sentence';
import type { BudgetResult } from '../../core/uncertainty/propagate';
import { DistributionShape, reachOf } from './DistributionShape';
import type { Open } from './Equation';

/** The inputs, each a sentence, with the shape of what it contributes on one scale of the result. */
export function InputList({
  quantities,
  result,
  unit,
  limit,
  open,
  onOpen,
  faultAt,
}: {
  quantities: readonly QuantityDraft[];
  /** Null while model and inputs do not fit together. */ result: BudgetResult | null;
  unit: string;
  limit: number | null;
  open: Open;
  onOpen: (open: Open) => void;
  faultAt: (index: number) => string | null;
}) {
  const of = (q: QuantityDraft) => result?.contributions.find((c) => c.symbol === q.symbol.trim());
  const reaches = quantities.map((q) => reachOf(q.form, of(q)?.contribution ?? 0));
  const widest = Math.max(0, ...reaches, result ? 1.05 * result.expandedUncertainty : 0);
  // The limit is drawn where it does not make the shapes too small to be told apart.
  const reach = limit !== null && limit <= 3 * widest ? Math.max(widest, 1.05 * limit) : widest;
  return (
    <ul className="border-t border-rule-strong" aria-label="Inputs">
      {quantities.map((q, i) => {
        const c = of(q);
        const fault = faultAt(i);
        return (
          <li key={i} className={`border-b border-rule ${open === i ? 'bg-verdigris-tint' : ''}`}>
            <div className="grid grid-cols-[1fr_220px_8.5rem] items-center gap-x-3 py-1 max-md:grid-cols-[1fr_7rem]">
              <button
                type="button"
                className="flex min-h-11 cursor-pointer items-baseline gap-3 py-1 text-left hover:underline"
                aria-expanded={open === i}
                onClick={() => onOpen(open === i ? null : i)}
              >
                <span className="w-12 shrink-0 truncate font-mono text-sm text-soft">{q.symbol || '?'}</span>
                <span>{inputSentence(q)}</span>
              </button>
              <span className="max-md:hidden">
                {c && reach > 0 && <DistributionShape form={q.form} contribution={c.contribution} reach={reach} limit={limit} />}
              </span>
              {c && (
                <span className="figure text-right text-sm">
                  {Number(Math.abs(c.contribution).toPrecision(2))} {printedUnit(unit)}
                  <span className="block text-soft">{roundToDecimals(c.share * 100, 1)} %</span>
                </span>
              )}
            </div>
            {fault && (
              <p className="fault pb-2 text-sm" role="alert">
                {fault}
              </p>
            )}
          </li>
        );
      })}
    </ul>
  );
}
