import { useState } from 'react';
import { Download } from 'lucide-react';
import { limitWords, shownPair, withPrintedUnit } from '../../core/run/shown-value';
import { driftModelTitles, driftModels } from '../../core/interval/drift';
import { kinAddress } from '../../core/interval/policy';
import { percent } from '../../core/interval/proposal';
import type { HistoryPoint, InstrumentHistory } from '../../core/interval/history';
import { Combobox } from '../../ui/Combobox';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { guarded } from '../../ui/guarded';
import { HistoryFigure } from './HistoryFigure';
import { MoveDate } from './MoveDate';
import { NoteCount } from './NoteCount';
import { Outing } from './Outing';
import { SchoolList } from './SchoolList';

type Visit = HistoryPoint['visits'][number] & { before: HistoryPoint['visits'][number] | null };

const titleOf = (p: HistoryPoint): string => [p.what, p.point].filter(Boolean).join(', ');

function columnsFor(p: HistoryPoint): DataColumn<Visit>[] {
  const pair = (v: { value: number; U: number }) => {
    const { value, U } = shownPair(v.value, v.U, p.unit, p.shownIn, p.limits);
    return withPrintedUnit(U ? `${value} ± ${U}` : value, p.shownIn);
  };
  return [
    {
      id: 'day',
      title: 'Calibrated',
      className: 'figure',
      sortBy: (v) => v.day,
      cell: (v) => <a href={`/runs/${v.run}`}>{v.day}</a>,
    },
    { id: 'found', title: 'As found', align: 'right', className: 'figure', cell: (v) => pair(v.found) },
    { id: 'left', title: 'As left', align: 'right', className: 'figure', cell: (v) => (v.left ? pair(v.left) : 'same') },
    {
      id: 'since',
      title: 'Change since it was left',
      align: 'right',
      className: 'figure',
      cell: (v) => {
        if (!v.before) return '–';
        const was = v.before.left ?? v.before.found;
        return pair({ value: v.found.value - was.value, U: Math.hypot(v.found.U, was.U) });
      },
    },
    { id: 'standards', title: 'Standards', isWideOnly: true, cell: (v) => (v.hasNewStandards ? 'with new certificates' : '') },
  ];
}

/** The history of an instrument: one result at a time over the years, what is expected of it, and what each school makes of that. */
export const HistoryView = guarded(function HistoryView({
  history,
  instrument,
}: {
  history: InstrumentHistory;
  instrument: { id: string; identification: string; nextDue: string | null };
}) {
  const { points, proposals, today, target } = history;
  const [key, setKey] = useState(points[0]?.key ?? '');
  const point = points.find((p) => p.key === key) ?? points[0];
  const dates = proposals.all.flatMap((p) =>
    p.date === null ? [] : [{ school: p.school, date: p.date, isChosen: p.school === proposals.chosen.school }],
  );
  return (
    <>
      <section>
        <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
          <h2 className="mr-auto">{point ? titleOf(point) : 'History'}</h2>
          {points.length > 1 && (
            <div className="w-full sm:w-96">
              <Combobox
                label={`Another of ${points.length} values`}
                value={point!.key}
                options={points.map((p, i) => ({ value: p.key, title: i === 0 ? `${titleOf(p)}: drifts worst` : titleOf(p) }))}
                onChoose={setKey}
              />
            </div>
          )}
          {points.length > 0 && (
            <a href={`/api/instruments/${instrument.id}/history.csv`} className="button" download>
              <Download size={16} aria-hidden /> All values as CSV
            </a>
          )}
        </div>
        {point ? (
          <>
            <HistoryFigure history={point} today={today} target={target} dates={dates} />
            <p className="mt-1 text-sm text-soft">
              Limits: {limitWords(point.limits, point.unit, point.shownIn)}.{' '}
              {point.evidence &&
                `Of the ways it may move: ${driftModels.map((m) => `${driftModelTitles[m]} ${percent(point.evidence![m])}`).join(', ')}. `}
              {point.left.map((l) => `${l[0]!.toUpperCase()}${l.slice(1)}.`).join(' ')}
              {history.more > 0 && ` ${history.more} more values are in the CSV.`}
            </p>
          </>
        ) : (
          <p className="mt-2 border-y border-rule bg-sheet px-4 py-5">No finished run yet. The first one starts the history.</p>
        )}
      </section>
      <section className="mt-6">
        <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
          <h2 className="mr-auto">When to come back</h2>
          <a href={kinAddress(history.kin)} className="pb-1">
            Similar instruments
          </a>
          <a href={`/laboratory?scope=instrument&subject=${encodeURIComponent(instrument.id)}#policy`} className="pb-1">
            Its policy
          </a>
          <MoveDate instrument={instrument} proposal={proposals.chosen} today={today} />
        </div>
        <div className="mt-2">
          <SchoolList all={proposals.all} chosen={proposals.chosen} isOpen />
        </div>
        {history.moves.length > 0 && (
          <ul className="mt-2 text-sm text-soft">
            {history.moves.map((m, i) => (
              <li key={i}>
                {m.day}, {m.person}: moved from {m.before ?? 'no date'} to {m.after}. {m.reason}
              </li>
            ))}
          </ul>
        )}
        {history.useUnit && (
          <>
            <NoteCount instrument={instrument.id} counts={history.counts} unit={history.useUnit} today={today} />
            <Outing instrument={instrument.id} out={history.out} unit={history.useUnit} />
          </>
        )}
      </section>
      {point && (
        <section className="mt-6">
          <h2>{titleOf(point)} at each calibration</h2>
          <div className="mt-2">
            <DataTable
              label="Values"
              columns={columnsFor(point)}
              rows={point.visits.map((v, i): Visit => ({ ...v, before: point.visits[i - 1] ?? null })).reverse()}
              idOf={(v) => v.run}
            />
          </div>
        </section>
      )}
    </>
  );
});
