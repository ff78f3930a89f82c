import * as z from 'zod';
import { id } from '../plan/atoms';
import { place, type PlanItem } from '../plan/plan-schema';
import { parseReading } from '../quantity/reading';
import { cannotShow } from '../run/cannot-show';
import { observationOf, observedUnit } from '../run/reading-rules';
import { lookedAt, outcomeOf, rungOf } from '../run/rungs';
import { withPrintedUnit } from '../run/shown-value';
import { placeOf } from '../state/place-keys';
import { refuse } from '../state/refusal';
import { markDone, type RungRecord, type Signed } from '../state/run-state';
import { actKind } from './act-kind';
import { isNext, notNow, where } from './common';
import { alone } from './spreading';

const itemOf = (act: { set: string; id: string; series: string; point: string }): PlanItem & { type: 'look' } => ({
  type: 'look',
  ...placeOf(act),
  id: act.id,
});

/** What was typed, as numbers; what is none is left out. */
function lookOf(act: { texts: Record<string, string> }, { at, person, sequence }: Signed): NonNullable<RungRecord['look']> {
  const read = Object.entries(act.texts).flatMap(([observation, typed]) => {
    const parsed = parseReading(typed);
    return parsed.ok ? [[observation, parsed.reading] as const] : [];
  });
  return {
    at,
    person,
    sequence,
    values: Object.fromEntries(read.map(([observation, r]) => [observation, r.value])),
    texts: Object.fromEntries(read.map(([observation, r]) => [observation, r.text])),
  };
}

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
      const outcome = rung && outcomeOf(state, { ...rung, look: lookOf(act, rung) });
      return outcome ? { ...act, helped: outcome.helped } : act;
    },
    admit: (state, act) => {
      if (!isNext(state, itemOf(act))) return notNow();
      if (Object.keys(act.texts).length === 0) return null;
      for (const slot of lookedAt(state, placeOf(act))) {
        const title = observationOf(state, slot)?.title ?? slot.observation;
        const typed = act.texts[slot.observation];
        if (!typed) return refuse(`${title}: what does it read now?`, 'texts', slot.observation);
        const parsed = parseReading(typed);
        if (!parsed.ok) return refuse(parsed.message, 'texts', slot.observation);
        const { value, text, resolution } = parsed.reading;
        const cannot = cannotShow(state, slot, value, resolution);
        if (cannot) return refuse(`${cannot.replace('{text}', text)} Read it again.`, 'texts', slot.observation);
      }
      return null;
    },
    fold: (state, act, signed) => {
      const rung = rungOf(state, itemOf(act));
      state.rungs = state.rungs.map((r) => (r === rung ? { ...r, look: lookOf(act, signed) } : r));
      markDone(state, itemOf(act), signed);
    },
    words: (act, state) => {
      const read = lookedAt(state, placeOf(act)).flatMap((slot) => {
        const [typed, observation] = [act.texts[slot.observation], observationOf(state, slot)];
        return typed && observation
          ? [`${observation.title ?? observation.id} ${withPrintedUnit(typed, observedUnit(state, slot, observation))}`]
          : [];
      });
      return `${where(state, act)}, read once more: ${read.join(', ') || 'not read'}`;
    },
    spread: alone,
  },
);
