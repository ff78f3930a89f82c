import { causeTitles, type Look } from '../../core/run/diagnosis';
import { differenceInShownUnit, significant, withPrintedUnit } from '../../core/run/shown-value';
import { instanceTitle, pointTitle } from '../../core/run/place-words';
import { ShareBar } from '../../ui/ShareBar';
import { LookSketch } from './LookSketch';
import { useRun } from './run-context';
import { useDiagnosis } from './use-diagnosis';

/** Less probable causes than this are not listed. */
const worthListing = 0.02;

/** What the readings of a set look like: drawn, with how probable each cause is. */
export function LookFigure({ set }: { set: string }) {
  const { state } = useRun();
  const diagnosis = useDiagnosis(state, set);
  const [first, ...others] = diagnosis?.looks ?? [];
  // One point alone has no shape.
  if (!diagnosis || !first || first.of.points.length < 2) return null;
  const { of } = first;
  const [second] = others.filter((l) => l.probability >= worthListing);
  const shown: [Look, ...Look[]] = second ? [first, second] : [first];
  const where = [of.series.title, of.each === null ? '' : instanceTitle(state, of.series.id, of.each), of.result.title];
  return (
    <figure className="mb-4 px-2">
      <figcaption className="flex flex-wrap items-baseline gap-x-3">
        <h3 className="text-lg font-normal">What the readings look like</h3>
        <span className="text-sm text-soft">{[...new Set(where.filter(Boolean))].join(', ')}</span>
      </figcaption>
      <LookSketch looks={shown} nameOf={(p) => pointTitle(state, p.place)} />
      <ul className="flex flex-col gap-1">
        {shown.map((l, i) => (
          <li key={`${l.cause}|${l.of.series.id}|${l.of.result.symbol}|${l.of.each}`} className="flex items-center gap-3">
            <svg width="28" height="8" aria-hidden className="shrink-0">
              {l.cause !== 'none' && (
                <line
                  x2="28"
                  y1="4"
                  y2="4"
                  strokeWidth={i === 0 ? 3 : 2}
                  stroke={i === 0 ? 'var(--color-verdigris)' : 'var(--color-ochre)'}
                  strokeDasharray={i === 0 ? undefined : '7 5'}
                />
              )}
            </svg>
            <span className="flex-1">
              {causeTitles[l.cause]}
              {l.at.length > 0 && `: ${l.at.map((p) => p.title).join(' and ')}`}
            </span>
            <span className="w-64 shrink-0">
              <ShareBar share={l.probability} />
            </span>
          </li>
        ))}
      </ul>
      {diagnosis.unexplained !== null && (
        <p className="mt-1 text-sm text-soft">
          What this leaves unexplained scatters by s ={' '}
          {withPrintedUnit(significant(differenceInShownUnit(diagnosis.unexplained, of.unit, of.shownIn), 2), of.shownIn)}.
        </p>
      )}
    </figure>
  );
}
