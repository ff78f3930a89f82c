import { Absent, DocumentError } from '../faults';
import { adjustmentOutlooks, proposedFrom, type AdjustmentOutlook, type LeftValue } from '../evaluate/adjustments';
import { parseReading } from '../quantity/reading';
import { plainDecimal } from '../quantity/rounding';
import { diagnose, probabilityOf, unmendable } from './diagnosis';
import { failuresIn, type Failure } from './failures';
import { unitIn, withUnit } from '../steps/step-context';
import { instanceTitle, placeTitle, pointTitle, seriesOf, shownUnit } from './place-words';
import { ownFormIn, toShown } from '../state/own-units';
import { evaluationIn, faultIn, settingIn } from './run-results';
import type { RunState } from '../state/run-state';
import { caseOf } from '../state/run-case';
import { differenceInShownUnit, signed, significant, withPrintedUnit } from './shown-value';

export type AdjustmentAdvice = {
  /** The adjustment that the procedure asks for; null: leave it as it is. */
  adjustment: string | null;
  /** Of which instance, where they are adjusted separately. */ each: string | null;
  reason: string;
  /** What is said first: how probable it is that no adjustment helps. */ before?: string;
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

/** Whether an adjustment was made already and changed next to nothing: then making it again would not mend anything. */
function wasInVain(state: RunState, set: string, o: AdjustmentOutlook): boolean {
  const made = [...state.adjusted].reverse().find((a) => a.id === o.doc.id && (a.each ?? null) === (o.advice.each ?? null));
  if (!made || made.set === set) return false;
  const before = outlooksIn(state, made.set).find((x) => x.doc.id === o.doc.id && x.advice.each === o.advice.each);
  return before !== undefined && o.present >= 0.9 * before.present;
}

/** Whether what is proposed after a set is what was entered before it: then there is nothing to enter. */
function isEntered(state: RunState, set: string, { doc, advice }: AdjustmentOutlook): boolean {
  const made = state.adjusted.findLast((a) => a.set !== set && a.id === doc.id && (a.each ?? null) === (advice.each ?? null));
  const proposed = Object.entries(advice.proposed);
  return made !== undefined && proposed.length > 0 && proposed.every(([id, value]) => Number(made.stored[id]?.after) === value);
}

/**
 * Whether the procedure's policy asks for an adjustment, for which, and why: the first in the order of cost that leaves enough, those
 * whose effect can be foretold before others. What failed and no adjustment shows is named; the person decides, and going against this
 * takes a reason.
 * @example adjustmentAdvice(run, 'as-found').reason // '“Set the zero” would not make the greatest error much smaller.'
 */
export function adjustmentAdvice(state: RunState, set: string): AdjustmentAdvice {
  const fault = faultIn(state, set);
  if (fault !== null) return { adjustment: null, each: null, reason: notWorkedOut(fault), outlooks: [] };
  const outlooks = outlooksIn(state, set);
  const no = (reason: string): AdjustmentAdvice => ({ adjustment: null, each: null, reason, outlooks });
  const failures = failuresIn(state, set);
  const outside = failures.filter((f) => f.verdict !== 'not-determined');
  if (state.procedure.adjustments.length === 0)
    return no(outside.length ? 'This procedure has no adjustment: look for the cause.' : 'This procedure has no adjustment.');
  const wanted = outlooks.filter((o) => o.advice.wanted && !isEntered(state, set, o));
  if (wanted.length === 0)
    return no(
      failures.length === 0 && evaluationIn(state, set).verdict === null
        ? 'Nothing is judged: no limits were chosen.'
        : whyNone(outlooks, failures),
    );
  if (!state.instrument.adjustmentAllowed) return no('The owner wants a check only.');
  const made = mostOften(state);
  if (outside.length > 0 && made >= mostTimes)
    return no(
      `Adjusted ${made} times and still outside: stop here. It needs repair: break the run off as damaged, or leave it as it is, outside.`,
    );
  const diagnosis = diagnose(state, set);
  const elsewhere = unmendable(diagnosis);
  if (diagnosis.scatter || elsewhere > 1 / 2)
    return no('Look for the cause that the readings point to first; an adjustment would not cure it.');
  // Taking a constant away only shifts an error that changes over the range, unless the constant is most of it.
  const changes = probabilityOf(diagnosis, ['span', 'offset-and-span', 'curvature']) > 1 / 2;
  const isShift = (o: AdjustmentOutlook) => changes && o.doc.kind === 'offset' && (leftBy(o) ?? 0) > 0.4 * o.present;
  const inOrder = [...wanted.filter((o) => leftBy(o) !== null), ...wanted.filter((o) => leftBy(o) === null)];
  const best = inOrder.find((o) => isEnough(o) && !isShift(o) && !o.worst?.isOutside && !wasInVain(state, set, o));
  if (!best) {
    const outlook = wanted[0]!;
    const { doc } = outlook;
    if (wasInVain(state, set, outlook))
      return no(`“${doc.title}” was made and changed next to nothing: look for the cause before it is made again.`);
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
      ? '; what this leaves cannot be foretold.'
      : `; “${best.doc.title}” would bring it to about ${percent((best.used * left) / best.present)}${best.worst && left > 0.005 * best.present ? `, and leave ${leftWords(state, set, best)} at the worst point` : ''}.`;
  const before =
    elsewhere >= worthSaying
      ? `With ${percent(elsewhere)} probability it is something that no adjustment takes away.`
      : undefined;
  return {
    adjustment: best.doc.id,
    each: best.advice.each ?? null,
    reason: `${of}${uses}${after}`,
    outlooks,
    ...(before && { before }),
  };
}

/** The same adjustment is made so often at the most: what is outside then is no matter of adjusting. */
const mostTimes = 3;

/** How often the adjustment that was made most often was made, of one instance. */
function mostOften(state: RunState): number {
  const keys = state.adjusted.map((a) => `${a.id}|${a.each ?? ''}`);
  return Math.max(0, ...keys.map((key) => keys.filter((k) => k === key).length));
}

/** So probable a cause that no adjustment takes away is said before one is advised. */
const worthSaying = 0.1;

/** What to do where the readings of a set give no results at all. */
export const notWorkedOut = (fault: string): string =>
  `As a whole these readings cannot be worked out: ${fault} Strike out what is wrong and read it again; where the start was wrong, break the run off and start anew.`;

/** Why no adjustment is wanted: nothing is outside, what is outside none of them mends, or something is not determined. */
function whyNone(outlooks: readonly AdjustmentOutlook[], failures: readonly Failure[]): string {
  const undecided = outlooks.find((o) => o.advice.wanted === null);
  if (undecided) return `Whether “${undecided.doc.title}” is wanted cannot be told: ${undecided.advice.why}`;
  const [failed] = failures;
  if (failed)
    return failed.verdict === 'not-determined'
      ? 'Something is not determined: settle that before anything is adjusted.'
      : 'No adjustment of this procedure mends what is outside: look for the cause first.';
  const policy = outlooks[0]?.doc.policy ?? { kind: 'never-while-inside' as const };
  const used = Math.max(0, ...outlooks.flatMap((o) => o.used ?? []));
  const share = outlooks.some((o) => o.used !== null)
    ? `The greatest error uses ${percent(used)} of the tolerance`
    : 'Nothing is outside';
  switch (policy.kind) {
    case 'beyond-share':
      return `${share}, below the ${percent(policy.share)} at which this procedure adjusts.`;
    case 'never-while-inside':
      return `${share}, and this procedure never adjusts inside the limits.`;
    case 'always-centre':
      return 'There is nothing to centre.';
    case 'beyond':
      return `${share}, less than what this procedure adjusts for.`;
  }
}

/** What is left where it is worst, with its place. */
function leftWords(state: RunState, set: string, { doc, worst, effects }: AdjustmentOutlook): string {
  if (!worst) return '';
  const series = effects.find((e) => e.left === worst)?.series ?? doc.of[0]!;
  return leftValueWords(state, set, series, doc.result, worst);
}

function leftValueWords(state: RunState, set: string, id: string, symbol: string | undefined, left: LeftValue): string {
  const series = seriesOf(state, id);
  const result = series?.results.find((r) => r.symbol === symbol) ?? series?.results[0];
  if (!series || !result) return '';
  const place = {
    set,
    series: series.id,
    ...(left.instance?.id ? { each: left.instance.id } : {}),
    ...(left.point ? { point: left.point.id } : {}),
  };
  const shownIn = shownUnit(state, result, place);
  const value = signed(
    withPrintedUnit(significant(differenceInShownUnit(left.value, unitIn(state, result.unit, place), shownIn), 2), shownIn),
  );
  const where = placeTitle(state, place);
  return where ? `${value} (${where})` : value;
}

export const outlookOf = (state: RunState, set: string, id: string, each: string | null): AdjustmentOutlook | undefined =>
  faultIn(state, set) === null
    ? outlooksIn(state, set).find((o) => o.doc.id === id && (o.advice.each ?? null) === each)
    : undefined;

/**
 * How an adjustment in rounds is gone through, in a sentence; null where it is made once. The readings of the rounds belong to the
 * adjustment; what counts is the set that is read as left.
 * @example roundsSentence(run, 'as-found', 'zero', null) // null
 */
export function roundsSentence(state: RunState, set: string, id: string, each: string | null): string | null {
  const outlook = outlookOf(state, set, id, each);
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

/**
 * What an adjustment proposes to store once it is known what the instrument holds, which need not be what the register says.
 * @param held as typed, in the instrument's own unit; what is no number counts as not known
 * @example proposedFromHeld(run, 'as-found', 'zero', null, { zero: '0' }) // { shift: '-0.001' }
 */
export function proposedFromHeld(
  state: RunState,
  set: string,
  id: string,
  each: string | null,
  held: Readonly<Record<string, string>>,
): Record<string, string> {
  const doc = state.procedure.adjustments.find((a) => a.id === id);
  if (!doc) return {};
  const numbers = Object.fromEntries(
    doc.stored.flatMap(({ id: stored, unit }) => {
      const parsed = parseReading(held[stored] ?? '');
      if (!parsed.ok) return [];
      const form = ownFormIn(state, unit);
      return [[stored, form ? form.toDocument(parsed.reading.value) : parsed.reading.value]];
    }),
  );
  try {
    return storedWords(state, id, proposedFrom(settingIn(state, set), doc, set, each, numbers));
  } catch (error) {
    if (error instanceof Absent || error instanceof DocumentError) return {};
    throw error;
  }
}

const storedWords = (state: RunState, id: string, values: Readonly<Record<string, number>>): Record<string, string> => {
  const doc = state.procedure.adjustments.find((a) => a.id === id);
  return Object.fromEntries(
    Object.entries(values).map(([stored, value]) => [
      stored,
      plainDecimal(toShown(state, doc?.stored.find((x) => x.id === stored)?.unit, value)),
    ]),
  );
};

/**
 * What the record says that the instrument holds when a set is judged, as it is shown; empty where nothing is known.
 * @example heldByRecord(run, 'as-found', document.adjustments[0].id, null) // {}
 */
export function heldByRecord(state: RunState, set: string, id: string, each: string | null): Record<string, string> {
  const { stored } = caseOf(state, set);
  const doc = state.procedure.adjustments.find((a) => a.id === id);
  return storedWords(
    state,
    id,
    Object.fromEntries(
      (doc?.stored ?? []).flatMap((s) => {
        const known = stored[s.id];
        const value = typeof known === 'object' ? (each === null ? undefined : known[each]) : known;
        return value === undefined ? [] : [[s.id, value]];
      }),
    ),
  );
}

/** What an adjustment would do to one series that it moves, in words. */
export type EffectWords = { title: string; now: string; left: string; isOutside: boolean };

/**
 * What an adjustment would leave in every series that it moves, where it is worst there; empty where it cannot be foretold.
 * @example adjustmentEffects(run, 'as-found', 'zero', null).length // 1
 */
export function adjustmentEffects(state: RunState, set: string, id: string, each: string | null): EffectWords[] {
  const outlook = outlookOf(state, set, id, each);
  return (outlook?.effects ?? []).map(({ series, now, left }) => {
    const doc = seriesOf(state, series)!;
    const words = (value: LeftValue) => leftValueWords(state, set, series, outlook!.doc.result, value);
    return { title: doc.title, now: words(now), left: words(left), isOutside: left.isOutside };
  });
}
