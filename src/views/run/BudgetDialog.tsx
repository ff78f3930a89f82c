import { useEffect, useRef } from 'react';
import type { PointResult } from '../../core/run/point-results';
import { printedUnit } from '../../core/quantity/unit';
import { printedPair, reportedPair, roundToDecimals } from '../../core/quantity/rounding';
import { inMicrometres, uncertaintyInMicrometres } from '../../ui/PairMark';
import { VerdictWord } from '../../ui/VerdictWord';

/** A value and its standard uncertainty, both to the two significant digits of the latter. */
const pairOf = (value: number, u: number): [string, string] => {
  const { estimate, expandedUncertainty } = printedPair(reportedPair(value, u));
  return [estimate, expandedUncertainty];
};

const ruleWords = (result: PointResult): string => {
  const { limits, acceptance } = result.conformity;
  return `limits ±${roundToDecimals((limits.upper ?? 0) * 1000, 2)} µm; the rule accepts errors up to ±${roundToDecimals((acceptance.upper ?? 0) * 1000, 2)} µm`;
};

/** One result, opened: its readings, its reference value, its budget, its verdict. */
export function BudgetDialog({ result, run, onClose }: { result: PointResult; run: string; onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    dialog.current?.showModal();
    dialog.current?.scrollTo(0, 0);
  }, []);
  const { uncertainty, conformity, budget } = result;
  const ordered = uncertainty.contributions
    .map((c, i) => ({ ...c, quantity: budget.quantities[i]! }))
    .sort((a, b) => b.share - a.share);
  return (
    <dialog ref={dialog} onClose={onClose} className="!w-[min(64rem,calc(100vw-2rem))] !p-6" aria-labelledby="budget-title">
      <div className="float-right flex flex-row-reverse gap-2">
        <form method="dialog">
          <button className="button">
            Close <span className="key">Esc</span>
          </button>
        </form>
        <a href={`/budgets/new?run=${run}&pass=${result.pass}&point=${result.point.id}`} className="button">
          Open as a budget
        </a>
      </div>
      <h2 id="budget-title" className="!text-xl">
        {result.point.nominal.toFixed(1)} mm: error <span className="figure">{inMicrometres(conformity.error, 2)}</span> µm, U{' '}
        <span className="figure">{uncertaintyInMicrometres(uncertainty.expandedUncertainty)}</span> µm
      </h2>
      <p className="mt-1 flex flex-wrap items-center gap-x-4">
        <VerdictWord verdict={conformity.verdict} />{' '}
        <span className="text-soft">
          {ruleWords(result)}; probability of conformity {roundToDecimals(conformity.probabilityOfConformity * 100, 1)} %
        </span>
      </p>
      <p className="figure mt-3 text-sm">
        {budget.output.symbol} = {budget.model}
      </p>
      <p className="mt-1 text-sm text-soft">
        Mean of {result.readings.length}: <span className="figure">{roundToDecimals(result.mean, 5)}</span> mm · reference{' '}
        <span className="figure">{roundToDecimals(result.reference.value, 5)}</span> mm · u ={' '}
        <span className="figure">{roundToDecimals(uncertainty.standardUncertainty * 1000, 3)}</span> µm · effective degrees of
        freedom{' '}
        <span className="figure">{uncertainty.effectiveDof === null ? 'infinite' : Math.floor(uncertainty.effectiveDof)}</span> ·
        k = <span className="figure">{roundToDecimals(uncertainty.coverageFactor, 2)}</span>
      </p>
      <table className="mt-3 w-full border-collapse text-sm">
        <thead>
          <tr className="border-y border-rule-strong [&>th]:px-2 [&>th]:py-1">
            <th scope="col" className="w-[46%]">
              Quantity
            </th>
            <th scope="col" className="text-right">
              Value
            </th>
            <th scope="col" className="text-right">
              u
            </th>
            <th scope="col">Shape</th>
            <th scope="col" className="text-right">
              Contributes, µm
            </th>
            <th scope="col">Share of the variance</th>
          </tr>
        </thead>
        <tbody>
          {ordered.map((c) => (
            <tr key={c.symbol} className="border-b border-rule [&>td]:px-2 [&>td]:py-1">
              <td>
                <span className="figure font-bold">{c.symbol}</span> {c.quantity.name}
                <span className="ml-1 text-xs text-soft">{c.quantity.source}</span>
              </td>
              <td className="figure text-right">
                {pairOf(c.estimate, c.standardUncertainty)[0]} {printedUnit(c.quantity.unit)}
              </td>
              <td className="figure text-right">{pairOf(c.estimate, c.standardUncertainty)[1]}</td>
              <td>{c.quantity.distribution.type}</td>
              <td className="figure text-right">{roundToDecimals(Math.abs(c.contribution) * 1000, 3)}</td>
              <td>
                <span className="flex items-center gap-2">
                  <svg width="90" height="12" aria-hidden>
                    <rect width={Math.max(0.5, 90 * c.share)} height="12" fill="var(--color-verdigris)" />
                  </svg>
                  <span className="figure">{roundToDecimals(c.share * 100, 1)} %</span>
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </dialog>
  );
}
