import type { Num, ProcedureDocument, StepDocument } from '../procedure/document-schema';
import type { Case } from '../evaluate/case-schema';
import { DocumentError } from '../faults';
import { isNotKnownYet, settingOf } from '../evaluate/setting-of';
import { kindOfSet } from '../evaluate/completeness';
import { slotsOf, type Slot } from '../evaluate/slots';
import { isIn, isObserved, noScope, numberOf, type Scope, type Series, type Setting } from '../evaluate/setting';

/** One thing that is done, in its order: a step, a condition to record, a reading, or points that later steps decide. */
export type PlanItem = {
  set: string;
  series?: string;
  each?: string;
  point?: string;
  label?: string;
  nominal?: number;
  sweep?: string;
  /** Of a step or condition that comes with a reading: with which repeat. */ repeat?: number;
} & (
  | { type: 'step'; id: string; kind: StepDocument['kind']; title: string; caution?: string; minutes?: number; handsOn?: number }
  | { type: 'condition'; id: string; title: string }
  /** A result or aggregate that must pass before the plan goes on; in the plan of a bench only. */
  | { type: 'gate'; id: string; title: string }
  | { type: 'reading'; repeat: number; observation: string; title: string }
  | { type: 'open'; title: string }
);

export type RunPlan = { plan: PlanItem[]; waitingMinutes: number; handsOnMinutes: number; readings: number };

/** Whether something is asked for; what hangs on an instrument that is not known yet stays in. */
function stands(s: Setting, when: Parameters<typeof isIn>[1], scope: Scope): boolean {
  try {
    return isIn(s, when, scope);
  } catch (error) {
    if (isNotKnownYet(error)) return true;
    throw error;
  }
}

/** The most things a plan may hold, and one set at a bench: beyond that a page and an entry are slow. */
const mostItems = 200_000;
const mostAtTheBench = 20_000;

/** What is put together for a plan, and the minutes of hands that it takes. */
class Assembly {
  readonly items: PlanItem[] = [];
  handsOnMinutes = 0;

  constructor(
    readonly s: Setting,
    /** Whether what must pass before the plan goes on stands in it. */ readonly gates: boolean,
  ) {}

  push(item: PlanItem): void {
    const most = this.gates ? mostAtTheBench : mostItems;
    if (this.items.length >= most)
      throw new DocumentError(`Its plan would hold more than ${most} things to do: fewer points, repeats or instances.`, [
        'series',
      ]);
    this.items.push(item);
  }

  step(step: StepDocument, set: string, place: Partial<PlanItem> = {}): void {
    this.handsOnMinutes += step.handsOn ?? 0;
    this.push({
      type: 'step',
      set,
      ...place,
      id: step.id,
      kind: step.kind,
      title: step.title,
      ...(step.caution === undefined ? {} : { caution: step.caution }),
      ...(step.kind === 'wait' ? this.minutes(step.minutes, set) : {}),
      ...(step.handsOn === undefined ? {} : { handsOn: step.handsOn }),
    } as PlanItem);
  }

  /** The minutes of a wait, where they are known before it comes. */
  private minutes(minutes: Num, set: string): { minutes?: number } {
    try {
      return { minutes: numberOf(this.s, minutes, noScope(set)) };
    } catch (error) {
      if (isNotKnownYet(error)) return {};
      throw error;
    }
  }

  /** Steps of the document: of the run, or of a set, before it or after. */
  runSteps(after: boolean, set: string, perSet: boolean): void {
    this.s.doc.steps
      .filter((step) => (step.after === 'run') === after && (step.sets !== undefined) === perSet)
      .filter((step) => !perSet || step.sets!.includes(kindOfSet(set)))
      .filter((step) => stands(this.s, step.when, noScope(set, ['procedure', 'steps'])))
      .forEach((step) => this.step(step, set));
  }

  /** A set: its steps, its conditions and the series wanted, those that go together instance by instance. */
  set(set: string, wanted: readonly Series[]): void {
    this.runSteps(false, set, true);
    for (const c of this.s.doc.conditions)
      if (c.recorded === 'set' && stands(this.s, c.when, noScope(set)))
        this.push({ type: 'condition', set, id: c.id, title: c.title });
    for (const series of wanted) {
      if (series.doc.with !== undefined && wanted.some((w) => w.doc.id === series.doc.with)) continue; // planned with that one
      const together = [series, ...wanted.filter((x) => x.doc.with === series.doc.id)];
      const met = together.map(() => new Set<string>());
      const instances = together.length > 1 ? series.instances.map((i) => i.id) : [undefined];
      for (const instance of instances) together.forEach((x, i) => planSeries(this, x, set, met[i]!, instance));
    }
    this.runSteps(true, set, true);
  }

  get plan(): RunPlan {
    return {
      plan: this.items,
      waitingMinutes: this.items.reduce((sum, item) => sum + (item.type === 'step' ? (item.minutes ?? 0) : 0), 0),
      handsOnMinutes: Number(this.handsOnMinutes.toPrecision(12)),
      readings: this.items.filter((i) => i.type === 'reading').length,
    };
  }
}

/** The series that a set reads. */
export const seriesOfSet = (s: Setting, set: string): Series[] =>
  [...s.series.values()].filter((x) => x.doc.sets.includes(kindOfSet(set)));

/**
 * What a run asks for, in order: the steps of the run, then set by set its conditions and series.
 * A series that is only in as-left is read all the same when nothing is adjusted; quick runs have a plan of their own.
 * @example planRun(document, bareCase(began, 'as-found', '2026-11-24')).plan.length // 41
 */
export function planRun(
  document: ProcedureDocument,
  given: Case,
  sets: readonly string[] = ['as-found', 'as-left', 'check'],
): RunPlan {
  const s = settingOf(document, { ...given, observations: [] }, { planning: true });
  const assembly = new Assembly(s, false);
  assembly.runSteps(false, sets[0]!, false);
  const read = new Set<string>();
  let lastSet = sets[0]!;
  for (const set of sets) {
    // Nothing adjusted: what was read as found stands for as left too.
    const wanted = seriesOfSet(s, set).filter((x) => !(kindOfSet(set) === 'as-left' && read.has(x.doc.id)));
    if (wanted.length === 0) continue;
    lastSet = set;
    assembly.set(set, wanted);
    for (const series of wanted) read.add(series.doc.id);
  }
  assembly.runSteps(true, lastSet, false);
  return assembly.plan;
}

/** The part of a plan that a bench works through: run steps before or after, or one set of some series, with its gates. */
export function planPart(
  s: Setting,
  part: { before: string } | { after: string } | { set: string; series: readonly Series[] },
): RunPlan {
  const assembly = new Assembly(s, true);
  if ('before' in part) assembly.runSteps(false, part.before, false);
  else if ('after' in part) assembly.runSteps(true, part.after, false);
  else assembly.set(part.set, part.series);
  return assembly.plan;
}

/** A series alone, where its points were open and are known now. */
export function planOpenSeries(s: Setting, series: Series, set: string): RunPlan {
  const assembly = new Assembly(s, true);
  planSeries(assembly, series, set, new Set(), undefined);
  return assembly.plan;
}

function planSeries(
  assembly: Assembly,
  series: Series,
  set: string,
  met: Set<string>,
  /** Of one instance alone; undefined for all. */ only: string | null | undefined,
): void {
  const { s } = assembly;
  const { doc } = series;
  const open = () => assembly.push({ type: 'open', set, series: doc.id, title: doc.title });
  if (series.isOpen) return open();
  let slots: Slot[];
  try {
    slots = slotsOf(s, series).filter((slot) => only === undefined || slot.instance.id === only);
  } catch (error) {
    if (!isNotKnownYet(error)) throw error;
    return open();
  }
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
      .filter((step) => stands(s, step.when, scopeOf(slot)))
      .forEach((step) => assembly.step(step, set, { ...placeOf(slot), repeat: slot.repeat + 1 }));
  const conditions = s.doc.conditions.filter((c) => (doc.conditions?.includes(c.id) ?? true) && stands(s, c.when, noScope(set)));
  const record = (recorded: 'series' | 'point', slot: Slot) => {
    for (const c of conditions)
      if (c.recorded === recorded)
        assembly.push({
          type: 'condition',
          set,
          ...placeOf(slot),
          repeat: slot.repeat + 1,
          id: c.id,
          title: c.title,
        } as PlanItem);
  };

  const instanceKeyOf = (slot: Slot) => `i${slot.instance.id ?? ''}`;
  const sweepKeyOf = (slot: Slot) => `${instanceKeyOf(slot)}|s${slot.sweep ?? ''}`;
  const lastOf = new Map<string, number>();
  slots.forEach((slot, i) => lastOf.set(instanceKeyOf(slot), i).set(sweepKeyOf(slot), i));
  const gates = assembly.gates ? gatesOf(s, series, set, slots) : [];
  const gateItem = (gate: Gate, slot: Slot): PlanItem => {
    const { each, point, label, nominal, sweep } = placeOf(slot) as {
      each?: string;
      point?: string;
      label?: string;
      nominal?: number;
      sweep?: string;
    };
    const at = gate.stays;
    return {
      type: 'gate',
      set,
      series: doc.id,
      ...(at.each && each !== undefined ? { each } : {}),
      ...(at.point ? { point, ...(label === undefined ? {} : { label }), ...(nominal === undefined ? {} : { nominal }) } : {}),
      ...(at.sweep && sweep !== undefined ? { sweep } : {}),
      id: gate.id,
      title: gate.title,
    } as PlanItem;
  };
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
      assembly.handsOnMinutes += doc.handsOn ?? 0;
      assembly.push({
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
    if (assembly.gates)
      for (const gate of gates) if (gate.lastOf.get(gate.keyOf(slot)) === i) assembly.push(gateItem(gate, slot));
    before = slot;
  });
}

/** What must pass before the plan goes on, what it stands for each of, and after which slot of each. */
type Gate = {
  id: string;
  title: string;
  stays: { each: boolean; point: boolean; sweep: boolean };
  keyOf: (slot: Slot) => string;
  lastOf: Map<string, number>;
};

function gatesOf(s: Setting, series: Series, set: string, slots: readonly Slot[]): Gate[] {
  const { doc } = series;
  const gate = (id: string, title: string, over: readonly string[]): Gate => {
    const stays = { each: !over.includes('instances'), point: !over.includes('points'), sweep: !over.includes('sweeps') };
    const keyOf = (slot: Slot): string =>
      `${stays.each ? slot.instance.id : ''}|${stays.point ? slot.point.id : ''}|${stays.sweep ? slot.sweep : ''}`;
    return { id, title, stays, keyOf, lastOf: new Map(slots.map((slot, i) => [keyOf(slot), i])) };
  };
  const isJudged = (x: { tolerance?: unknown; tolerances?: unknown }): boolean =>
    x.tolerance !== undefined || x.tolerances !== undefined;
  const stands = (x: { gate?: boolean | undefined; when?: Parameters<typeof isIn>[1] }): boolean =>
    (doc.gate || x.gate) === true && isIn(s, x.when, noScope(set));
  return [
    ...doc.results.filter((r) => stands(r) && isJudged(r)).map((r) => gate(r.symbol, r.title, r.over ?? [])),
    ...doc.aggregates.filter((a) => stands(a) && isJudged(a)).map((a) => gate(a.id, a.title, a.over)),
  ];
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
