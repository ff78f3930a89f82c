import { printedPair, roundToDecimals } from '../../core/quantity/rounding';
import { printedUnit } from '../../core/quantity/unit';
import { truncatedDof } from '../../core/uncertainty/coverage';
import type { ReactNode } from 'react';
import type { BudgetResult } from '../../core/uncertainty/propagate';

const percent = (share: number): string => `${roundToDecimals(share * 100, share < 0.1 ? 1 : 0)} %`;

/** What would help most: by how much U falls when one contribution is halved. */
export function whatHelps(result: BudgetResult): { symbol: string; lowers: number }[] {
  return result.contributions
    .map((c) => ({ symbol: c.symbol, lowers: 1 - Math.sqrt(Math.max(0, 1 - 0.75 * c.share)) }))
    .filter((h) => h.lowers >= 0.005)
    .sort((a, b) => b.lowers - a.lowers)
    .slice(0, 3);
}

/** The result of a budget at once: value and uncertainty, and what would help. */
export function BudgetOutcome({
  result,
  symbol,
  unit,
  names,
  children,
}: {
  result: BudgetResult;
  symbol: string;
  unit: string;
  names: Record<string, string>;
  /** What stands between the result and what would help. */ children?: ReactNode;
}) {
  const helps = whatHelps(result);
  const reported = printedPair(result.reported);
  return (
    <section aria-label="Result">
      <p className="figure text-3xl font-bold" data-testid="reported">
        {symbol} = {reported.estimate} {printedUnit(unit)}
      </p>
      <p className="figure text-2xl">
        U = {reported.expandedUncertainty} {printedUnit(unit)}
      </p>
      <p className="figure mt-1 text-sm !whitespace-normal text-soft">
        k = {roundToDecimals(result.coverageFactor, 2)}
        {result.coverageProbability !== null && ` for ${roundToDecimals(result.coverageProbability * 100, 2)} %`} · effective
        degrees of freedom {result.effectiveDof === null ? 'infinite' : truncatedDof(result.effectiveDof)} · u ={' '}
        {Number(result.standardUncertainty.toPrecision(3))} {printedUnit(unit)}
      </p>
      {result.warnings.map((w) => (
        <p key={w} className="caution mt-2 text-sm">
          {w}
        </p>
      ))}
      {children}
      {helps.length > 0 && (
        <div className="mt-3">
          <h2>What would help</h2>
          {helps.map((h) => (
            <p key={h.symbol} className="text-sm">
              Halving {names[h.symbol] ? `“${names[h.symbol]}”` : h.symbol} lowers U by {percent(h.lowers)}.
            </p>
          ))}
        </div>
      )}
    </section>
  );
}
