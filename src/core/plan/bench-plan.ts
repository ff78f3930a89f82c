import type { Place, Places, PlacedPoint, Plan, PlanItem } from './plan-schema';
import type { Case } from '../evaluate/case-schema';
import { settingOf } from '../evaluate/setting-of';
import { Absent, DocumentError } from '../faults';
import { decidingTolerance, limitsAt } from '../evaluate/results';
import { noScope, pointsOf, type Instance, type Point, type Scope, type Series, type Setting } from '../evaluate/setting';
import { itemsOfUse } from '../evaluate/uses';
import type { AdjustmentDocument, ProcedureDocument, StepDocument } from '../procedure/document-schema';
import { quickConditions, quickRoles } from './quick-set';
import { planOpenSeries, planPart, seriesOfSet, type PlanItem as Planned } from './run-plan';

/** An item as a log keeps it: where and what, without words that the document has. */
function kept(item: Planned): PlanItem {
  const place = {
    set: item.set,
    ...(item.series === undefined ? {} : { series: item.series }),
    ...(item.each === undefined ? {} : { each: item.each }),
    ...(item.point === undefined ? {} : { point: item.point }),
    ...(item.sweep === undefined ? {} : { sweep: item.sweep }),
  };
  const repeat = item.repeat === undefined ? {} : { repeat: item.repeat };
  switch (item.type) {
    case 'reading':
      return { type: 'reading', ...place, ...repeat, id: item.observation };
    case 'open':
      return { type: 'open', ...place, id: item.series! };
    case 'gate':
      return { type: 'gate', ...place, id: item.id };
    default:
      return { type: item.type, ...place, ...repeat, id: item.id };
  }
}

/** What cannot be told before something is read stays untold; a fault of instrument or standard is said. */
function ifKnown<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (error instanceof Absent) return undefined;
    throw error;
  }
}

function placed(s: Setting, series: Series, instance: Instance, point: Point, set: string): PlacedPoint {
  const scope: Scope = { ...noScope(set, series.path), series, instance, point };
  const items: Record<string, string[]> = {};
  for (const use of Object.keys(series.doc.uses)) {
    const ids = ifKnown(() => itemsOfUse(s, use, scope));
    if (ids) items[use] = ids;
  }
  const limits: PlacedPoint['limits'] = {};
  for (const result of series.doc.results) {
    const tolerance = decidingTolerance(s, result, scope.path);
    if (!tolerance) continue;
    // Limits that depend on what is read are told then.
    const known = ifKnownNumber(() => limitsAt(s, tolerance, NaN, NaN, scope));
    if (!known) continue;
    const shown = {
      ...(known.lower !== null ? { lower: known.lower } : {}),
      ...(known.upper !== null ? { upper: known.upper } : {}),
    };
    if (Object.values(shown).every(Number.isFinite)) limits[result.symbol] = shown;
  }
  return {
    id: point.id,
    index: point.index,
    ...(point.label === undefined ? {} : { label: point.label }),
    ...(point.nominal === undefined ? {} : { nominal: point.nominal }),
    columns: point.columns,
    ...(point.item === null ? {} : { item: point.item.item.id }),
    items,
    limits,
  };
}

const ifKnownNumber = <T>(work: () => T): T | undefined => {
  try {
    return work();
  } catch (error) {
    if (error instanceof Absent || error instanceof DocumentError) return undefined;
    throw error;
  }
};

const placesOf = (s: Setting, series: readonly Series[], set: string): Places[] =>
  series.flatMap((x): Places[] =>
    x.isOpen
      ? []
      : x.instances.flatMap((instance): Places[] => {
          const points = ifKnown(() => pointsOf(s, x, instance));
          return points
            ? [{ series: x.doc.id, each: instance.id, points: points.map((p) => placed(s, x, instance, p, set)) }]
            : [];
        }),
  );

const judge = (set: string): PlanItem => ({ type: 'judge', set });

/**
 * The plan with which a run begins: its steps, the readings as found, the judgement, and what follows whatever is decided.
 * @throws DocumentError when instrument or standards cannot serve: a stack that cannot be built, a property that is not stated
 */
export function firstPlan(document: ProcedureDocument, given: Case): Plan {
  const set = 'as-found';
  const s = settingOf(document, { ...given, observations: [] }, { planning: true });
  const found = seriesOfSet(s, set);
  const later = (kind: string) => seriesOfSet(s, kind).filter((x) => !found.includes(x));
  return {
    items: [
      ...planPart(s, { before: set }).plan.map(kept),
      ...planPart(s, { set, series: found }).plan.map(kept),
      judge(set),
      // A series that is only read as left is read whether or not anything is adjusted.
      ...(later('as-left').length ? [{ type: 'begin', set: 'as-left' } as const] : []),
      ...(seriesOfSet(s, 'check').length ? [{ type: 'begin', set: 'check' } as const] : []),
      ...planPart(s, { after: set }).plan.map(kept),
      { type: 'interval', set },
      { type: 'complete', set },
    ],
    places: placesOf(s, found, set),
  };
}

/**
 * A quick check between calibrations: only the steps and series that name it, and who and what it is.
 * @example quickPlan(document, bareCase(began, 'quick', '2026-11-24')).items.filter((i) => i.type === 'reading') // []
 */
export function quickPlan(document: ProcedureDocument, given: Case, cause?: ProcedureDocument['ruleOut'][number]): Plan {
  const set = 'quick';
  const s = settingOf(document, { ...given, set, observations: [] }, { planning: true });
  const series = seriesOfSet(s, set);
  const roles = quickRoles(document);
  const conditions = quickConditions(document);
  // The instrument and its parts, and the standards that are used.
  const isIdle = (what: string) => document.standards.some((s) => s.role === what) && !roles.has(what);
  const identify = document.steps.filter((step) => step.kind === 'identify' && step.sets === undefined && !isIdle(step.what));
  return {
    items: [
      ...identify.map((step): PlanItem => ({ type: 'step', set, id: step.id })),
      ...(cause ? stepItems(cause.steps, set, cause.id) : []),
      ...planPart(s, { set, series })
        .plan.filter((i) => i.type !== 'condition' || conditions.has(i.id))
        .map(kept),
      { type: 'complete', set },
    ],
    places: placesOf(s, series, set),
  };
}

/**
 * The plan of a set that begins later.
 * @param s the setting of the run as it stands @param affected series to be read; others are carried over
 * @example setPlan(setting, 'as-left', ['error']).places.length // 1
 */
export function setPlan(s: Setting, set: string, affected: readonly string[]): Plan {
  const series = seriesOfSet(s, set).filter((x) => affected.includes(x.doc.id));
  const isCheck = set.startsWith('check');
  return {
    items: [...planPart(s, { set, series }).plan.map(kept), ...(isCheck ? [] : [judge(set)])],
    places: placesOf(s, series, set),
  };
}

/** The plan of a series whose points were open; null while they still are. */
export function openedPlan(s: Setting, series: Series, set: string): Plan | null {
  const { plan } = planOpenSeries(s, series, set);
  return plan.some((item) => item.type === 'open') ? null : { items: plan.map(kept), places: placesOf(s, [series], set) };
}

const stepItems = (steps: readonly StepDocument[] | undefined, set: string, of: string, each?: string): PlanItem[] =>
  (steps ?? []).map((step) => ({ type: 'step', set, ...(each === undefined ? {} : { each }), id: step.id, of }));

/**
 * What an adjustment asks for, and the set that is read after it.
 * @example adjustmentPlan(document.adjustments[0], 'as-found', undefined, 'as-left').items.map((i) => i.type) // ['adjust', 'begin']
 */
export const adjustmentPlan = (doc: AdjustmentDocument, set: string, each: string | undefined, next: string): Plan => ({
  items: [
    ...stepItems(doc.steps, set, doc.id, each),
    { type: 'adjust', set, ...(each === undefined ? {} : { each }), id: doc.id },
    ...stepItems(doc.afterSteps, set, doc.id, each),
    { type: 'begin', set: next },
  ],
  places: [],
});

/**
 * What looking for a cause asks for, and the point that is read after it.
 * @example rungPlan(document.ruleOut[0], place).items.at(-1).type // 'look'
 */
export const rungPlan = (doc: ProcedureDocument['ruleOut'][number], place: Place): Plan => ({
  items: [...stepItems(doc.steps, place.set, doc.id), { type: 'look', ...place, id: doc.id }],
  places: [],
});

/**
 * What ruling a cause out asks for where that was not done yet, and the set that is read after it.
 * @example rulingPlan(document.ruleOut[0], 'as-found', 'as-found-2').items.at(-1) // { type: 'begin', set: 'as-found-2' }
 */
export const rulingPlan = (doc: ProcedureDocument['ruleOut'][number], set: string, next: string, isLookedFor = false): Plan => ({
  items: [...(isLookedFor ? [] : stepItems(doc.steps, set, doc.id)), { type: 'begin', set: next }],
  places: [],
});
