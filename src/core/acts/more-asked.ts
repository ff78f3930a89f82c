import * as z from 'zod';
import { id } from '../plan/atoms';
import { place, type Plan, type PlanItem } from '../plan/plan-schema';
import { repeatsAt } from '../run/how-many';
import { nextItem } from '../run/next-step';
import { isThere, lookedAt } from '../run/rungs';
import { itemKey, placeOf } from '../state/place-keys';
import { refuse } from '../state/refusal';
import { insert, type RunState } from '../state/run-state';
import type { Place } from '../plan/plan-schema';
import { actKind, addedPlan } from './act-kind';
import { notNow, where } from './common';
import { alone } from './spreading';

function morePlan(state: RunState, at: Place, count: number): Plan {
  const planned = state.plan.flatMap((i) => (i.type === 'reading' && isThere(i, at) ? [i.repeat ?? 1] : []));
  const last = Math.max(0, ...planned);
  const items = Array.from({ length: count }, (_, i) =>
    lookedAt(state, at).map((slot): PlanItem => ({ type: 'reading', ...at, repeat: last + i + 1, id: slot.observation })),
  );
  return { items: items.flat(), places: [] };
}

/** One point is read some more times before its set is judged: its scatter leaves it in doubt. */
export const moreAsked = actKind(
  'more-asked',
  { ...place, series: id, point: id, count: z.number().int().min(1).max(30), plan: addedPlan },
  {
    plan: (state, act) => morePlan(state, placeOf(act), act.count),
    admit: (state, act) => {
      const next = nextItem(state);
      if (next?.type !== 'judge' || next.set !== act.set) return notNow();
      return repeatsAt(state, placeOf(act)) > 0 ? null : refuse('Nothing was read there that could be read more often.', 'point');
    },
    fold: (state, act) => insert(state, act.plan, act.set, state.index.get(itemKey({ type: 'judge', set: act.set }))!),
    words: (act, state) => `${where(state, act)}: ${act.count} more ${act.count === 1 ? 'reading' : 'readings'}`,
    spread: alone,
  },
);
