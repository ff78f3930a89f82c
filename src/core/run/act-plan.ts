import { kindOfSet } from '../evaluate/evaluate';
import { adjustmentPlan, openedPlan, rulingPlan, setPlan } from '../plan/bench-plan';
import type { Act, ActOf, Plan } from '../log/event-schema';
import { readForm } from './own-units';
import { thereAndBack } from '../set-up/there-and-back';
import { settingIn } from './run-results';
import type { RunState } from './run-state';

const none: Plan = { items: [], places: [] };

/** The next set of a kind: the first has no number. @example nextSet(state, 'as-found') // 'as-found-2' */
export function nextSet(state: RunState, kind: 'as-found' | 'as-left'): string {
  const count = state.sets.filter((s) => kindOfSet(s.id) === kind).length;
  return count === 0 ? kind : `${kind}-${count + 1}`;
}

/**
 * The series that a set reads: after an adjustment those it affects, with the gates that they stand behind, after a cause was ruled out
 * all; those read nowhere else too.
 */
function affectedBy(state: RunState, set: string): string[] {
  const { series, adjustments } = state.procedure;
  const all = series.filter((s) => s.sets.includes(kindOfSet(set))).map((s) => s.id);
  if (kindOfSet(set) !== 'as-left') return all;
  const decision = [...state.decisions].reverse().find((d) => d.adjustment !== null);
  const adjustment = adjustments.find((a) => a.id === decision?.adjustment);
  const onlyLeft = series.filter((s) => !s.sets.includes('as-found')).map((s) => s.id);
  if (!decision) return all.filter((id) => onlyLeft.includes(id));
  if (!adjustment?.affects) return all;
  const gates = series.flatMap((s) =>
    adjustment.affects!.includes(s.id) && s.with ? series.filter((g) => g.gate && g.id === s.with) : [],
  );
  const again = [...adjustment.affects, ...onlyLeft, ...gates.map((g) => g.id)];
  return all.filter((id) => again.includes(id));
}

/** What an act adds to the plan; empty for most. */
function planOf(state: RunState, act: Act): Plan | null {
  switch (act.type) {
    case 'plan-resolved': {
      const s = settingIn(state, act.set);
      const series = s.series.get(act.series);
      return series ? openedPlan(s, series, act.set) : null;
    }
    case 'set-begun':
      return setPlan(settingIn(state, state.sets.at(-1)!.id), act.set, affectedBy(state, act.set));
    case 'adjustment-decided': {
      const doc = state.procedure.adjustments.find((a) => a.id === act.adjustment);
      return doc ? adjustmentPlan(doc, act.set, act.each, nextSet(state, 'as-left')) : none;
    }
    case 'ruling-out': {
      const doc = state.procedure.ruleOut.find((r) => r.id === act.id);
      return doc ? rulingPlan(doc, act.set, nextSet(state, 'as-found')) : none;
    }
    default:
      return none;
  }
}

/** A reading of a standard that shows another unit than the document's is kept with its unit. */
function withUnit(state: RunState, act: ActOf<'observed'>): Act {
  const series = state.procedure.series.find((s) => s.id === act.series);
  const observation = series?.observe.find((o) => o.id === act.observation);
  const form = observation && observation.of !== 'instrument' ? readForm(state, series, observation) : null;
  return form ? { ...act, unit: form.unit } : act;
}

/**
 * An act with the part of the plan that it brings: what comes next is decided by what is recorded now, not by what later code
 * would make of it.
 * @throws DocumentError when instrument or standards cannot serve what would follow
 */
export function withPlan(state: RunState, act: Act): Act {
  if (act.type === 'observed') return withUnit(state, act);
  if (!('plan' in act) || act.type === 'run-started') return act;
  const plan = planOf(state, act) ?? none;
  return { ...act, plan: state.setUp && !state.setUp.left ? thereAndBack(plan, state.procedure) : plan };
}
