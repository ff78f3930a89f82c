import { Absent, DocumentError } from '../evaluate/faults';
import { adjustmentOutlooks, type AdjustmentOutlook } from '../evaluate/adjustments';
import { plainDecimal } from '../quantity/rounding';
import { diagnose } from './diagnosis';
import { unitIn, withUnit } from '../steps/step-context';
import { instanceTitle, placeTitle, pointTitle, seriesOf, shownUnit } from './place-words';
import { settingIn } from './run-results';
import type { RunState } from './run-state';
import { inShownUnit, signed, significant, withPrintedUnit } from './shown-value';

export type AdjustmentAdvice = {
  /** The adjustment that the procedure asks for; null: leave it as it is. */
  adjustment: string | null;
  /** Of which instance, where they are adjusted separately. */ each: string | null;
  reason: string;
  /** What every adjustment would do, those that are not wanted too. */ outlooks: AdjustmentOutlook[];
};

const percent = (share: number): string => `${Math.round(share * 100)} %`;

function outlooksIn(state: RunState, set: string): AdjustmentOutlook[] {
  try {
    return adjustmentOutlooks(settingIn(state, set), set);
  } catch (error) {
    if (error instanceof Absent || error instanceof DocumentError) return [];
    throw error;
  }
}

/** What would be left: by the points that took no part where the document names those that do, else by all. */
const leftBy = ({ advice, estimate }: AdjustmentOutlook): number | null => advice.remaining ?? estimate;

const isEnough = (o: AdjustmentOutlook): boolean => {
  const left = leftBy(o);
  if (left === null) return true;
  if (left > 0.9 * o.present) return false;
  return o.doc.enough === undefined || o.limit === null || left <= o.doc.enough * o.limit * (1 + 1e-9);
};

/**
 * Whether the procedure's policy asks for an adjustment, for which, and why: the first in the order of cost that leaves enough. The
 * person decides; going against this takes a reason.
 */
export function adjustmentAdvice(state: RunState, set: string): AdjustmentAdvice {
  const outlooks = outlooksIn(state, set);
  const no = (reason: string): AdjustmentAdvice => ({ adjustment: null, each: null, reason, outlooks });
  if (state.procedure.adjustments.length === 0) return no('This procedure has no adjustment.');
  const wanted = outlooks.filter((o) => o.advice.wanted);
  if (wanted.length === 0) {
    const policy = outlooks[0]?.doc.policy ?? { kind: 'never-while-inside' as const };
    const used = Math.max(0, ...outlooks.flatMap((o) => o.used ?? []));
    const share = outlooks.some((o) => o.used !== null)
      ? `The greatest error uses ${percent(used)} of the tolerance`
      : 'Nothing is outside';
    switch (policy.kind) {
      case 'beyond-share':
        return no(`${share}, below the ${percent(policy.share)} at which this procedure adjusts.`);
      case 'never-while-inside':
        return no(`${share}, and this procedure never adjusts inside the limits.`);
      case 'always-centre':
        return no('There is nothing to centre.');
      case 'beyond':
        return no(`${share}, less than what this procedure adjusts for.`);
    }
  }
  if (!state.instrument.adjustmentAllowed) return no('The owner wants a check only.');
  const { kind } = diagnose(state, set);
  if (kind === 'odd-point' || kind === 'scatter')
    return no('Look for the cause that the readings point to first; an adjustment would not cure it.');
  // Taking a constant away only shifts an error that changes over the range.
  const isShift = (o: AdjustmentOutlook) => (kind === 'slope' || kind === 'curve') && o.doc.kind === 'offset';
  const best = wanted.find((o) => isEnough(o) && !isShift(o) && !o.worst?.isOutside);
  if (!best) {
    const outlook = wanted[0]!;
    const { doc } = outlook;
    if (outlook.worst?.isOutside)
      return no(
        `“${doc.title}” would still leave ${leftWords(state, set, outlook)}, outside the limits: it needs more than this.`,
      );
    return no(`“${doc.title}” would not make the greatest error ${doc.enough === undefined ? 'much smaller' : 'small enough'}.`);
  }
  const left = leftBy(best);
  const of = best.advice.each ? `${instanceTitle(state, best.doc.of[0]!, best.advice.each)}: ` : '';
  const uses = best.used === null ? 'The greatest error' : `The greatest error uses ${percent(best.used)} of the tolerance`;
  const after =
    left === null || best.used === null || best.present === 0
      ? '.'
      : `; “${best.doc.title}” would bring it to about ${percent((best.used * left) / best.present)}${best.worst ? `, and leave ${leftWords(state, set, best)} at the worst point` : ''}.`;
  return { adjustment: best.doc.id, each: best.advice.each ?? null, reason: `${of}${uses}${after}`, outlooks };
}

/** What is left where it is worst, with its place. */
function leftWords(state: RunState, set: string, { doc, worst }: AdjustmentOutlook): string {
  const series =
    doc.of.map((id) => seriesOf(state, id)).find((x) => x?.results.some((r) => r.symbol === doc.result)) ??
    seriesOf(state, doc.of[0]!);
  const result = series?.results.find((r) => r.symbol === doc.result) ?? series?.results[0];
  if (!worst || !series || !result) return '';
  const place = {
    set,
    series: series.id,
    ...(worst.instance?.id ? { each: worst.instance.id } : {}),
    ...(worst.point ? { point: worst.point.id } : {}),
  };
  const shownIn = shownUnit(state, result, place);
  const value = signed(
    withPrintedUnit(significant(inShownUnit(worst.value, unitIn(state, result.unit, place), shownIn), 2), shownIn),
  );
  const where = placeTitle(state, place);
  return where ? `${value} (${where})` : value;
}

const outlookOf = (advice: AdjustmentAdvice, id: string, each: string | null): AdjustmentOutlook | undefined =>
  advice.outlooks.find((o) => o.doc.id === id && (o.advice.each ?? null) === each);

/**
 * How an adjustment in rounds is gone through, in a sentence; null where it is made once. The readings of the rounds belong to the
 * adjustment; what counts is the set that is read as left.
 */
export function roundsSentence(state: RunState, set: string, id: string, each: string | null): string | null {
  const outlook = outlookOf(adjustmentAdvice(state, set), id, each);
  if (!outlook?.rounds) return null;
  const { points, within, most } = outlook.rounds;
  const series = outlook.doc.of[0]!;
  const place = { set, series, ...(each === null ? {} : { each }) };
  const results = seriesOf(state, series)?.results ?? [];
  const result = results.find((r) => r.symbol === outlook.doc.result) ?? results[0];
  const instances = each === null ? instancesRead(state, set, series) : [each];
  const titles = [
    ...new Set(
      points.flatMap((p) =>
        instances.map((e) => pointTitle(state, { ...place, ...(e === null ? {} : { each: e }), point: p.id }) || p.id),
      ),
    ),
  ];
  const inTurn = titles.length === 1 ? titles[0]! : `${titles.slice(0, -1).join(', ')} and ${titles.at(-1)!} in turn`;
  const bound = withUnit(within, result ? unitIn(state, result.unit, place) : '');
  return `In rounds: set ${inTurn}, and go round again until each is within ${bound}; after ${most} rounds, stop and look for the cause.`;
}

/** Instances of a series that a set reads; null alone where it has none. */
const instancesRead = (state: RunState, set: string, series: string): (string | null)[] => [
  ...new Set(state.plan.flatMap((i) => (i.type === 'reading' && i.set === set && i.series === series ? [i.each ?? null] : []))),
];

/** What an adjustment proposes to store, in the unit of each value; empty where it proposes nothing. */
export const proposedToStore = (advice: AdjustmentAdvice, id: string, each: string | null): Record<string, string> =>
  Object.fromEntries(
    Object.entries(outlookOf(advice, id, each)?.advice.proposed ?? {}).map(([stored, value]) => [stored, plainDecimal(value)]),
  );
