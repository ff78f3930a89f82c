import { printedUnit } from '../../core/quantity/unit';
import { roundToDecimals } from '../../core/quantity/rounding';
import { placeTitle, seriesOf, setTitle, shownUnit } from '../../core/run/place-words';
import { pointIn } from '../../core/run/run-results';
import type { RunState } from '../../core/run/run-state';
import { inShownUnit, limitWords, shownPair, significant, withPrintedUnit } from '../../core/run/shown-value';
import { unitIn } from '../../core/steps/step-context';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { VerdictWord } from '../../ui/VerdictWord';
import type { OpenResult } from './SeriesSheet';

/** A value and its standard uncertainty, both to the two significant digits of the latter. */
const pairOf = (value: number, u: number): [string, string] => {
  const { value: shown, U } = shownPair(value, u === 0 ? null : u, '', '');
  return [shown.replace(/^\+/, ''), U];
};

/** The unit of a sensitivity: of the result over that of the quantity; nothing where they are the same. */
const perUnit = (unit: string, of: string): string =>
  unit === of ? '' : `${printedUnit(unit) || '1'}/${printedUnit(of) || '1'}`;

/** One result, opened: its readings, its reference value, its budget, its verdict. */
export function ResultDialog({
  state,
  opened,
  run,
  onClose,
}: {
  state: RunState;
  opened: OpenResult;
  run: string;
  onClose: () => void;
}) {
  const { place, symbol } = opened;
  const doc = seriesOf(state, place.series)!.results.find((r) => r.symbol === symbol)!;
  const result = pointIn(state, place, [doc])?.[symbol];
  if (!result) return null;
  const unit = unitIn(state, doc.unit, place);
  const shownIn = shownUnit(state, doc, place);
  const pair = shownPair(result.estimate, result.expandedUncertainty, unit, shownIn, result.limits);
  const ordered = [...result.contributions].sort((a, b) => b.share - a.share);
  const query = new URLSearchParams({
    run,
    result: symbol,
    ...Object.fromEntries(Object.entries(place).map(([k, v]) => [k, String(v)])),
  });
  return (
    <Dialog
      isOpen
      isWide
      onClose={onClose}
      title={
        <>
          {[placeTitle(state, place), setTitle(place.set).toLowerCase()].filter(Boolean).join(', ')}: {doc.title.toLowerCase()}{' '}
          <span className="figure">{pair.value}</span> {printedUnit(shownIn)}, U <span className="figure">{pair.U}</span>{' '}
          {printedUnit(shownIn)}
        </>
      }
      aside={
        <>
          <DialogClose>
            Close <span className="key">Esc</span>
          </DialogClose>
          <a href={`/budgets/new?${query.toString()}`} className="button">
            Open as a budget
          </a>
        </>
      }
    >
      {result.verdict && (
        <p className="mt-1 flex flex-wrap items-center gap-x-4">
          <VerdictWord verdict={result.verdict} />{' '}
          <span className="text-soft">
            limits {limitWords(result.limits ?? {}, unit, shownIn)}; the rule accepts{' '}
            {limitWords(result.acceptance ?? {}, unit, shownIn, 3) || 'nothing'}
            {result.probabilityOfConformity !== undefined &&
              `; probability of conformity ${roundToDecimals(result.probabilityOfConformity * 100, 1)} %`}
          </span>
        </p>
      )}
      {result.schools && (
        <p className="mt-1 text-sm text-soft">
          {Object.entries(result.schools)
            .map(
              ([id, school]) =>
                `${doc.tolerances?.find((t) => t.id === id)?.title ?? id}: ${limitWords(school.limits, unit, shownIn)}`,
            )
            .join('; ')}
        </p>
      )}
      <p className="figure mt-3 text-sm">
        {doc.symbol} = {doc.model}
      </p>
      {doc.where?.map((w) => (
        <p key={w.symbol} className="figure text-sm text-soft">
          {w.symbol} = {w.is}
        </p>
      ))}
      <p className="mt-1 text-sm text-soft">
        {result.indication !== undefined && (
          <>
            Indication <span className="figure">{significant(result.indication, 8).replace('-', '−')}</span> ·{' '}
          </>
        )}
        {result.reference !== undefined && (
          <>
            reference <span className="figure">{significant(result.reference, 8).replace('-', '−')}</span> ·{' '}
          </>
        )}
        u ={' '}
        <span className="figure">
          {withPrintedUnit(significant(inShownUnit(result.standardUncertainty, unit, shownIn), 3), shownIn)}
        </span>{' '}
        · effective degrees of freedom{' '}
        <span className="figure">{result.effectiveDof === null ? 'infinite' : Math.floor(result.effectiveDof + 1e-9)}</span> · k ={' '}
        <span className="figure">{roundToDecimals(result.coverageFactor, 2)}</span>
      </p>
      <table className="mt-3 w-full border-collapse text-sm">
        <thead>
          <tr className="border-y border-rule-strong [&>th]:px-2 [&>th]:py-1">
            <th scope="col" className="w-[36%]">
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
              Degrees of freedom
            </th>
            <th scope="col" className="text-right">
              Sensitivity
            </th>
            <th scope="col" className="text-right">
              Contributes{printedUnit(shownIn) && `, ${printedUnit(shownIn)}`}
            </th>
            <th scope="col">Share of the variance</th>
          </tr>
        </thead>
        <tbody>
          {ordered.map((c) => {
            const q = doc.quantities.find((x) => x.symbol === c.symbol)!;
            const [value, u] = pairOf(c.estimate, c.standardUncertainty);
            return (
              <tr key={c.symbol} className="border-b border-rule [&>td]:px-2 [&>td]:py-1">
                <td>
                  <span className="figure font-bold">{c.symbol}</span> {q.name}
                  <span className="ml-1 text-xs text-soft">{q.source}</span>
                </td>
                <td className="figure text-right whitespace-nowrap">
                  {value} {printedUnit(q.unit)}
                </td>
                <td className="figure text-right">{u}</td>
                <td>{q.distribution.type}</td>
                <td className="figure text-right">{c.dof === null ? '∞' : Math.floor(c.dof + 1e-9)}</td>
                <td className="figure text-right">
                  {significant(c.sensitivity, 3).replace('-', '−')} {perUnit(unit, q.unit)}
                </td>
                <td className="figure text-right">{significant(Math.abs(inShownUnit(c.contribution, unit, shownIn)), 3)}</td>
                <td>
                  <span className="flex items-center gap-2">
                    <svg width="90" height="12" aria-hidden>
                      <rect width={Math.max(0.5, 90 * c.share)} height="12" fill="var(--color-verdigris)" />
                    </svg>
                    <span className="figure">{roundToDecimals(c.share * 100, 1)} %</span>
                  </span>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Dialog>
  );
}
