import type { RunSummary } from '../core/run/run-summary';
import type { SummaryValue } from '../core/run/judged-points';
import { shownPair, withPrintedUnit } from '../core/run/shown-value';
import { PairMark } from './PairMark';

/** What used most of its tolerance in a run, found and left on one strip; nothing where nothing was judged. */
export function SummaryMark({ summary, width = 180 }: { summary: RunSummary | null; width?: number }) {
  const { found, left } = summary ?? { found: null, left: null };
  const shown = found ?? left;
  if (!shown) return null;
  // Two values stand on one strip only where they are values of the same thing.
  const isSame = found && left && found.what === left.what && found.point === left.point && found.unit === left.unit;
  return (
    <PairMark
      width={width}
      limits={shown}
      found={found}
      left={isSame || !found ? left : null}
      unit={shown.unit}
      shownIn={shown.shownIn}
    />
  );
}

/** A value of a summary with its unit. */
export const summaryWords = (v: SummaryValue): string =>
  withPrintedUnit(shownPair(v.value, v.expandedUncertainty, v.unit, v.shownIn, v).value, v.shownIn);
