import type { ProcedureDocument, StepDocument } from '../procedure/document-schema';
import type { Case } from '../evaluate/case-schema';
import { isNotKnownYet, kindOfSet, settingOf } from '../evaluate/evaluate';
import { slotsOf, type Slot } from '../evaluate/slots';
import { isIn, isObserved, noScope, type Scope, type Series, type Setting } from '../evaluate/setting';

/** One thing that is done, in its order: a step, a condition to record, a reading, or points that later steps decide. */
export type PlanItem = {
  set: string;
  series?: string;
  each?: string;
  point?: string;
  label?: string;
  nominal?: number;
  sweep?: string;
} & (
  | { type: 'step'; id: string; kind: StepDocument['kind']; title: string; caution?: string; minutes?: number; handsOn?: number }
  | { type: 'condition'; id: string; title: string }
  | { type: 'reading'; repeat: number; observation: string; title: string }
  | { type: 'open'; title: string }
);

export type RunPlan = { plan: PlanItem[]; waitingMinutes: number; handsOnMinutes: number; readings: number };

/** The most things a plan may hold. */
const mostItems = 200_000;

/**
 * What a run asks for, in order (procedure.md, sections 3 to 6): the steps of the run, then set by set its conditions and series.
 * A series that is only in as-left is read all the same when nothing is adjusted; quick runs have a plan of their own.
 */
export function planRun(
  document: ProcedureDocument,
  given: Case,
  sets: readonly string[] = ['as-found', 'as-left', 'check'],
): RunPlan {
  const plan: PlanItem[] = [];
  let handsOnMinutes = 0;
  const push = (item: PlanItem) => {
    if (plan.length < mostItems) plan.push(item);
  };
  const s = settingOf(document, { ...given, observations: [] }, true);
  const addStep = (step: StepDocument, set: string, place: Partial<PlanItem> = {}) => {
    handsOnMinutes += step.handsOn ?? 0;
    push({
      type: 'step',
      set,
      ...place,
      id: step.id,
      kind: step.kind,
      title: step.title,
      ...(step.caution === undefined ? {} : { caution: step.caution }),
      ...(step.kind === 'wait' ? { minutes: step.minutes } : {}),
      ...(step.handsOn === undefined ? {} : { handsOn: step.handsOn }),
    } as PlanItem);
  };
  const runSteps = (after: boolean, set: string, perSet: boolean) =>
    document.steps
      .filter((step) => (step.after === 'run') === after && (step.sets !== undefined) === perSet)
      .filter((step) => !perSet || step.sets!.includes(kindOfSet(set)))
      .filter((step) => isIn(s, step.when, noScope(set, ['procedure', 'steps'])))
      .forEach((step) => addStep(step, set));

  runSteps(false, sets[0]!, false);
  const read = new Set<string>();
  let lastSet = sets[0]!;
  for (const set of sets) {
    // Nothing adjusted: what was read as found stands for as left too.
    const wanted = [...s.series.values()].filter(
      (x) => x.doc.sets.includes(kindOfSet(set)) && !(kindOfSet(set) === 'as-left' && read.has(x.doc.id)),
    );
    if (wanted.length === 0) continue;
    runSteps(false, set, true);
    for (const c of document.conditions)
      if (c.recorded === 'set' && isIn(s, c.when, noScope(set))) push({ type: 'condition', set, id: c.id, title: c.title });
    lastSet = set;
    for (const series of wanted) {
      read.add(series.doc.id);
      const isTogether = (x: Series) => x.doc.with !== undefined && wanted.some((w) => w.doc.id === x.doc.with);
      if (isTogether(series)) continue; // planned with the one it goes with
      const together = [series, ...wanted.filter((x) => x.doc.with === series.doc.id)];
      const met = together.map(() => new Set<string>());
      const instances = together.length > 1 ? series.instances.map((i) => i.id) : [undefined];
      for (const instance of instances)
        together.forEach((x, i) => (handsOnMinutes += planSeries(s, x, set, push, addStep, met[i]!, instance)));
    }
    runSteps(true, set, true);
  }
  runSteps(true, lastSet, false);
  const waitingMinutes = plan.reduce((sum, item) => sum + (item.type === 'step' ? (item.minutes ?? 0) : 0), 0);
  return {
    plan,
    waitingMinutes,
    handsOnMinutes: Number(handsOnMinutes.toPrecision(12)),
    readings: plan.filter((i) => i.type === 'reading').length,
  };
}

function planSeries(
  s: Setting,
  series: Series,
  set: string,
  push: (item: PlanItem) => void,
  addStep: (step: StepDocument, set: string, place: Partial<PlanItem>) => void,
  met: Set<string>,
  /** Of one instance alone; undefined for all. */ only: string | null | undefined,
): number {
  const { doc } = series;
  const open = () => push({ type: 'open', set, series: doc.id, title: doc.title });
  if (series.isOpen) {
    open();
    return 0;
  }
  let slots: Slot[];
  try {
    slots = slotsOf(s, series).filter((slot) => only === undefined || slot.instance.id === only);
  } catch (error) {
    if (!isNotKnownYet(error)) throw error;
    open();
    return 0;
  }
  let handsOn = 0;
  let before: Slot | null = null;
  const scopeOf = (slot: Slot): Scope => ({
    ...noScope(set, series.path),
    series,
    instance: slot.instance,
    point: slot.point,
    sweep: slot.sweep,
  });
  const placeOf = (slot: Slot): Partial<PlanItem> => ({
    series: doc.id,
    ...(slot.instance.id === null ? {} : { each: slot.instance.id }),
    point: slot.point.id,
    ...(slot.point.label === undefined ? {} : { label: slot.point.label }),
    ...(slot.point.nominal === undefined ? {} : { nominal: slot.point.nominal }),
    ...(slot.sweep === null ? {} : { sweep: slot.sweep }),
  });
  const stepsAt = (when: 'before' | 'after', level: string, slot: Slot) =>
    doc.steps
      .filter((step) =>
        when === 'after' ? step.after === level : step.after === undefined && (step.before ?? 'instance') === level,
      )
      .filter((step) => step.sets === undefined || step.sets.includes(kindOfSet(set)))
      .filter((step) => step.sweeps === undefined || slot.sweep === null || step.sweeps.includes(slot.sweep))
      .filter((step) => isIn(s, step.when, scopeOf(slot)))
      .forEach((step) => addStep(step, set, placeOf(slot)));
  const conditions = s.doc.conditions.filter((c) => (doc.conditions?.includes(c.id) ?? true) && isIn(s, c.when, noScope(set)));
  const record = (recorded: 'series' | 'point', slot: Slot) => {
    for (const c of conditions)
      if (c.recorded === recorded) push({ type: 'condition', set, ...placeOf(slot), id: c.id, title: c.title } as PlanItem);
  };

  const instanceKeyOf = (slot: Slot) => `i${slot.instance.id ?? ''}`;
  const sweepKeyOf = (slot: Slot) => `${instanceKeyOf(slot)}|s${slot.sweep ?? ''}`;
  const lastOf = new Map<string, number>();
  slots.forEach((slot, i) => lastOf.set(instanceKeyOf(slot), i).set(sweepKeyOf(slot), i));
  slots.forEach((slot, i) => {
    const next = slots[i + 1] ?? null;
    const begins = (key: string): boolean => {
      if (met.has(key)) return false;
      met.add(key);
      return true;
    };
    if (begins(instanceKeyOf(slot))) {
      stepsAt('before', 'instance', slot);
      record('series', slot);
    }
    if (begins(sweepKeyOf(slot))) stepsAt('before', 'sweep', slot);
    if (!before || !samePoint(before, slot)) {
      stepsAt('before', 'point', slot);
      record('point', slot);
    }
    stepsAt('before', 'repeat', slot);
    for (const o of doc.observe) {
      if (!isObserved(s, o, scopeOf(slot)) || !isFirstOf(o.per, slot, met, o.id)) continue;
      handsOn += doc.handsOn ?? 0;
      push({
        type: 'reading',
        set,
        ...placeOf(slot),
        repeat: slot.repeat + 1,
        observation: o.id,
        title: o.title ?? o.id,
      } as PlanItem);
    }
    stepsAt('after', 'repeat', slot);
    if (!next || !samePoint(slot, next)) stepsAt('after', 'point', slot);
    if (lastOf.get(sweepKeyOf(slot)) === i) stepsAt('after', 'sweep', slot);
    if (lastOf.get(instanceKeyOf(slot)) === i) stepsAt('after', 'instance', slot);
    before = slot;
  });
  return handsOn;
}

const samePoint = (a: Slot, b: Slot): boolean => a.instance === b.instance && a.point === b.point && a.sweep === b.sweep;

/** Whether an observation of a wider scope stands in this reading: it stands in the first one there. */
function isFirstOf(per: 'repeat' | 'point' | 'sweep' | 'instance', slot: Slot, met: Set<string>, id: string): boolean {
  if (per === 'repeat') return true;
  const key = `o${id}|${slot.instance.id ?? ''}|${per === 'instance' ? '' : (slot.sweep ?? '')}|${per === 'point' ? slot.point.id : ''}`;
  if (met.has(key)) return false;
  met.add(key);
  return true;
}
