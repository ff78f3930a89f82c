import { comparedWords } from '../../core/certificate/certificate-tables';
import { printedUnit } from '../../core/quantity/unit';
import { roundToDecimals } from '../../core/quantity/rounding';
import { placeTitle, seriesOf, setTitle, shownUnit } from '../../core/run/place-words';
import { determinedIn } from '../../core/run/run-results';
import type { RunState } from '../../core/state/run-state';
import { differenceInShownUnit, limitWords, shownPair, significant, withPrintedUnit } from '../../core/run/shown-value';
import { unitIn } from '../../core/steps/step-context';
import type { ProcedureDocument } from '../../core/procedure/document-schema';
import type { Contribution } from '../../core/uncertainty/propagate';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { ShareBar } from '../../ui/ShareBar';
import { VerdictWord } from '../../ui/VerdictWord';
import type { OpenResult } from './SeriesSheet';
import { later } from '../../ui/later';

const ModelType = later(async () => (await import('../budgets/ModelType')).ModelType);

/** A value and its standard uncertainty, both to the two significant digits of the latter. */
const pairOf = (value: number, u: number): [string, string] => {
  const { value: shown, U } = shownPair(value, u === 0 ? null : u, '', '');
  return [shown.replace(/^\+/, ''), U];
};

/** The unit of a sensitivity: of the result over that of the quantity; nothing where they are the same. */
const perUnit = (unit: string, of: string): string =>
  unit === of ? '' : `${printedUnit(unit) || '1'}/${printedUnit(of) || '1'}`;

type Quantity = ProcedureDocument['series'][number]['results'][number]['quantities'][number];
type Line = { c: Contribution; q: Quantity; /** Of the result, and the one it is shown in. */ unit: string; shownIn: string };

const columns: DataColumn<Line>[] = [
  {
    id: 'quantity',
    title: 'Quantity',
    className: 'w-[36%]',
    sortBy: ({ c }) => c.symbol,
    cell: ({ c, q }) => (
      <>
        <span className="figure font-bold">{c.symbol}</span> {q.name}
        <span className="ml-1 text-xs text-soft">{q.source}</span>
      </>
    ),
  },
  {
    id: 'value',
    title: 'Value',
    align: 'right',
    className: 'figure',
    cell: ({ c, q }) => `${pairOf(c.estimate, c.standardUncertainty)[0]} ${printedUnit(q.unit)}`,
  },
  {
    id: 'u',
    title: 'u',
    align: 'right',
    className: 'figure',
    cell: ({ c, q }) =>
      c.standardUncertainty === 0 ? '–' : withPrintedUnit(pairOf(c.estimate, c.standardUncertainty)[1], q.unit),
  },
  { id: 'shape', title: 'Shape', sortBy: ({ q }) => q.distribution.type, cell: ({ q }) => q.distribution.type },
  {
    id: 'dof',
    title: 'Degrees of freedom',
    align: 'right',
    className: 'figure',
    cell: ({ c }) => (c.dof === null ? '∞' : Math.floor(c.dof + 1e-9)),
  },
  {
    id: 'sensitivity',
    title: 'Sensitivity',
    align: 'right',
    className: 'figure',
    cell: ({ c, q, unit }) => `${significant(c.sensitivity, 3).replace('-', '−')} ${perUnit(unit, q.unit)}`,
  },
  {
    id: 'contribution',
    title: 'Contributes',
    align: 'right',
    className: 'figure',
    sortBy: ({ c }) => Math.abs(c.contribution),
    cell: ({ c, unit, shownIn }) =>
      withPrintedUnit(significant(Math.abs(differenceInShownUnit(c.contribution, unit, shownIn)), 3), shownIn),
  },
  {
    id: 'share',
    title: 'Share of the variance',
    sortBy: ({ c }) => c.share,
    cell: ({ c }) => <ShareBar share={c.share} />,
  },
];

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
  const result = determinedIn(state, place, doc);
  if (!result) return null;
  const unit = unitIn(state, doc.unit, place);
  const shownIn = shownUnit(state, doc, place);
  const pair = shownPair(result.estimate, result.expandedUncertainty, unit, shownIn, result.limits, result.acceptance);
  const compared = comparedWords(state, seriesOf(state, place.series)!, doc, place, result);
  const lines = [...result.contributions]
    .sort((a, b) => b.share - a.share)
    .map((c): Line => ({ c, q: doc.quantities.find((x) => x.symbol === c.symbol)!, unit, shownIn }));
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
            limits {limitWords(result.limits ?? {}, unit, shownIn, { decimals: pair.decimals })}; the rule accepts{' '}
            {limitWords(result.acceptance ?? {}, unit, shownIn, { decimals: pair.decimals }) || 'nothing'}
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
      <div className="mt-2 [&>div]:!text-base">
        <ModelType symbol={doc.symbol} model={doc.model} functions />
        {doc.where?.map((w) => (
          <ModelType key={w.symbol} symbol={w.symbol} model={w.is} functions />
        ))}
      </div>
      <p className="mt-1 text-sm text-soft">
        {compared.indication && (
          <>
            Indication <span className="figure">{compared.indication}</span> ·{' '}
          </>
        )}
        {compared.reference && (
          <>
            reference <span className="figure">{compared.reference}</span> ·{' '}
          </>
        )}
        u ={' '}
        <span className="figure">
          {withPrintedUnit(significant(differenceInShownUnit(result.standardUncertainty, unit, shownIn), 3), shownIn)}
        </span>{' '}
        · effective degrees of freedom{' '}
        <span className="figure">{result.effectiveDof === null ? 'infinite' : Math.floor(result.effectiveDof + 1e-9)}</span> · k ={' '}
        <span className="figure">{roundToDecimals(result.coverageFactor, 2)}</span>
      </p>
      <div className="mt-3">
        <DataTable label="What it is made of" isSmall columns={columns} rows={lines} idOf={(l) => l.c.symbol} />
      </div>
    </Dialog>
  );
}
