import { percent, type SchoolId } from '../../core/interval/proposal';
import { inShownUnit, limitWords, significant, withPrintedUnit } from '../../core/run/shown-value';
import type { HistoryPoint } from '../../core/interval/history';
import { HistoryChart } from '../charts';
import { historyPlot } from '../charts/history-plot';

/** Short names of the methods, as they stand on the time axis. */
const names: Record<SchoolId, string> = {
  fixed: 'fixed',
  react: 'steps',
  drift: 'drift',
  reliability: 'similar ones',
  use: 'use',
  quick: 'checks',
};

/** The chart of one result over the years, with what its marks mean. */
export function HistoryFigure({
  history,
  today,
  target,
  dates,
}: {
  history: HistoryPoint;
  today: string;
  target: number;
  dates: readonly { school: SchoolId; date: string; isChosen: boolean }[];
}) {
  const { unit, shownIn } = history;
  const plot = historyPlot(history, [today, ...dates.map((d) => d.date)]);
  const say = (n: number) => withPrintedUnit(significant(inShownUnit(n, unit, shownIn), 3).replace('-', '−'), shownIn);
  const label = history.visits
    .map((v) => `${v.day}: found ${say(v.found.value)}${v.left ? `, left ${say(v.left.value)}` : ''}`)
    .join('; ');
  return (
    <figure className="mt-2 overflow-hidden border-y border-rule bg-sheet pt-3 pb-1">
      <div
        role="img"
        aria-label={`${history.what} ${history.point}. ${label}. Limits: ${limitWords(history.limits, unit, shownIn)}.`}
      >
        <HistoryChart plot={plot} unit={shownIn} today={today} schools={dates.map((d) => ({ ...d, name: names[d.school] }))} />
      </div>
      <figcaption className="px-4 pb-2 text-sm text-soft">
        Hollow ring: as found, with its expanded uncertainty.
        {plot.left.length > 0 && ' Filled dot: as left after an adjustment.'} Shaded: inside the limits
        {plot.guarded.length > 0 ? '; dotted: where the rule accepts' : ''}.
        {plot.checks.length > 0 && ' Short strokes: quick checks.'}
        {plot.band.length > 0 && ` Grey: where it is expected, ${percent(1 - target)} beyond each edge.`}
        {[...plot.found, ...plot.left].some((p) => p.off) &&
          ' An arrow at the edge: farther out than the chart shows; the figure is in the table below.'}
      </figcaption>
    </figure>
  );
}
