import { isDetermined } from '../../core/evaluate/undetermined';
import type { SeriesDocument } from '../../core/procedure/document-schema';
import { pointTitle, shownUnitOfAggregate, sweepTitle } from '../../core/run/place-words';
import type { ShownAggregate } from '../../core/run/run-results';
import type { RunState } from '../../core/state/run-state';
import { aggregatePair } from '../../core/run/shown-aggregate';
import { limitWords, withPrintedUnit } from '../../core/run/shown-value';
import { unitIn } from '../../core/steps/step-context';
import { VerdictWord } from '../../ui/VerdictWord';
import type { SheetPlace } from './sheet-layout';

/** Statistics over the readings of a series; those that stand for each point only where they are judged. */
export function AggregateList({
  state,
  series,
  aggregates,
  place,
  isComplete,
}: {
  state: RunState;
  series: SeriesDocument;
  aggregates: readonly ShownAggregate[];
  place: SheetPlace;
  /** Whether every reading that they are of is there. */ isComplete: boolean;
}) {
  const shown = aggregates.filter((a) => a.at === null || a.limits || a.verdict);
  if (shown.length === 0) return null;
  const at = { set: place.set, series: place.series, ...(place.each === null ? {} : { each: place.each }) };
  return (
    <div className="mt-2 border-y border-rule bg-sheet">
      {!isComplete && <p className="px-3 py-1 text-sm text-soft">So far, of the readings that are there:</p>}
      <dl className="ruled">
        {shown.map((a, i) => {
          const doc = series.aggregates.find((d) => d.id === a.id)!;
          const unit = unitIn(state, doc.unit, at);
          const shownIn = shownUnitOfAggregate(state, series, doc, at);
          const where = [a.at === null ? '' : pointTitle(state, { ...at, point: a.at }), sweepTitle(state, series.id, a.sweep)]
            .filter(Boolean)
            .join(', ');
          const title = where ? `${doc.title}, ${where}` : doc.title;
          if (!isDetermined(a))
            return (
              <div key={i} className="flex flex-wrap items-baseline gap-x-4 px-3 py-1.5">
                <dt className="mr-auto">
                  {title} <span className="text-soft">{a.why}</span>
                </dt>
                <dd>
                  <VerdictWord verdict={a.verdict} short />
                </dd>
              </div>
            );
          const pair = aggregatePair(state, series, a, at);
          return (
            <div key={i} className="flex flex-wrap items-baseline gap-x-4 px-3 py-1.5">
              <dt className="mr-auto">{title}</dt>
              <dd className="flex flex-wrap items-baseline gap-x-4">
                <span className="figure font-bold">
                  {withPrintedUnit(pair.U ? `${pair.value} ± ${pair.U}` : pair.value, shownIn)}
                </span>
                {a.limits && (
                  <span className="text-sm text-soft">
                    {limitWords(a.limits, unit, shownIn, pair.U ? { decimals: pair.decimals } : {})}
                  </span>
                )}
                {a.verdict && <VerdictWord verdict={a.verdict} short />}
              </dd>
            </div>
          );
        })}
      </dl>
    </div>
  );
}
