import type { RunState } from '../state/run-state';
import { thereAndBack } from '../plan/there-and-back';
import { none } from './act-kind';
import { kindOf, type Act } from './registry';

/**
 * An act with the part of the plan that it brings: what comes next is decided by what is recorded now, not by what later code
 * would make of it.
 * @throws DocumentError when instrument or standards cannot serve what would follow
 * @example withPlan(run, { type: 'note-added', version: 2, text: 'warm' }).type // 'note-added'
 */
export function withPlan(state: RunState, act: Act): Act {
  const { plan: planOf, kept } = kindOf(act);
  if (kept) return kept(state, act);
  if (!planOf) return act;
  const plan = planOf(state, act) ?? none;
  return { ...act, plan: state.setUp && !state.setUp.left ? thereAndBack(plan, state.procedure) : plan } as Act;
}
