import * as z from 'zod';
import { id } from '../plan/atoms';
import { place, type PlanItem } from '../plan/plan-schema';
import { outcomeOf, rungOf } from '../run/rungs';
import { refusalOfTyped, valuesOfTyped, wordsOfTyped } from '../run/typed-at';
import { placeOf } from '../state/place-keys';
import { markDone } from '../state/run-state';
import { actKind } from './act-kind';
import { isNext, notNow, where } from './common';
import { alone } from './spreading';

const itemOf = (act: { set: string; id: string; series: string; point: string }): PlanItem & { type: 'look' } => ({
  type: 'look',
  ...placeOf(act),
  id: act.id,
});

/** What one point reads after a cause was looked for: beside the readings of the set, which stay as they are. */
export const looked = actKind(
  'looked',
  /** Texts as typed, by observation; none where it was not read. */
  {
    ...place,
    series: id,
    point: id,
    id,
    texts: z.record(id, z.string().trim().max(60)),
    /** Whether it was that, as it was told then; worked out by the core (`withPlan`). */
    helped: z.boolean().optional(),
  },
  {
    kept: (state, act) => {
      const rung = rungOf(state, itemOf(act));
      const outcome =
        rung &&
        outcomeOf(state, {
          ...rung,
          look: { at: rung.at, person: rung.person, sequence: rung.sequence, ...valuesOfTyped(act.texts) },
        });
      return outcome ? { ...act, helped: outcome.helped } : act;
    },
    admit: (state, act) => {
      if (!isNext(state, itemOf(act))) return notNow();
      if (Object.keys(act.texts).length === 0) return null;
      return refusalOfTyped(state, placeOf(act), act.texts);
    },
    fold: (state, act, signed) => {
      const rung = rungOf(state, itemOf(act));
      state.rungs = state.rungs.map((r) => (r === rung ? { ...r, look: { ...signed, ...valuesOfTyped(act.texts) } } : r));
      markDone(state, itemOf(act), signed);
    },
    words: (act, state) => `${where(state, act)}, read once more: ${wordsOfTyped(state, placeOf(act), act.texts) || 'not read'}`,
    spread: alone,
  },
);
