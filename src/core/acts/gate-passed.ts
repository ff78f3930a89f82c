import * as z from 'zod';
import { id, reason } from '../plan/atoms';
import { at, type PlanItem } from '../plan/plan-schema';
import { gateStanding } from '../run/gates';
import { refuse } from '../state/refusal';
import { itemKey, placeOf } from '../state/place-keys';
import { markDone } from '../state/run-state';
import { actKind } from './act-kind';
import { isNext, notNow, where } from './common';
import { alone } from './spreading';

type Gate = PlanItem & { type: 'gate' };

/** What must pass before the plan goes on was looked at. */
export const gatePassed = actKind(
  'gate-passed',
  { ...at, id, passes: z.boolean(), reason: reason.optional() },
  {
    admit: (state, act) => {
      const gate: Gate = { type: 'gate', ...placeOf(act), id: act.id };
      if (!isNext(state, gate)) return notNow();
      const { passes, sentence } = gateStanding(state, gate);
      if (act.passes !== passes) return refuse('This has changed since it was shown. Look at it again.', 'passes');
      return passes || act.reason ? null : refuse(`${sentence} Look for the cause, or give the reason for going on.`, 'reason');
    },
    fold: (state, act, signed) => {
      const gate: Gate = { type: 'gate', ...placeOf(act), id: act.id };
      state.gates.set(itemKey(gate), { ...signed, passes: act.passes, reason: act.reason ?? null });
      markDone(state, gate, signed);
    },
    words: (act, state) =>
      `${where(state, act)}: ${act.passes ? 'inside its limits' : `outside its limits; gone on because ${act.reason ?? 'of a decision'}`}`,
    spread: alone,
  },
);
