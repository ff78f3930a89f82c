import * as z from 'zod';
import { reason } from '../plan/atoms';
import { refuse } from '../state/refusal';
import { isClosed } from '../state/progress';
import { placeOf, slotKey, slotOf } from '../state/place-keys';
import { reopen, reopenDate } from '../state/run-state';
import { actKind } from './act-kind';
import { evidence } from './common';
import { alone, forSharedReading } from './spreading';

/** A reading was struck out: it stays in the log, and its place is open again. */
export const struck = actKind(
  'struck',
  { sequence: z.number().int().positive(), reason },
  {
    admit: (state, { sequence }) => {
      const reading = state.readings.find((r) => r.sequence === sequence);
      if (!reading) return refuse('There is no such reading.', 'sequence');
      if (reading.struck) return refuse('This reading is already struck out.', 'sequence');
      return isClosed(state, reading.slot.set) ? evidence(reading.slot.set, 'sequence') : null;
    },
    fold: (state, act, signed) => {
      const at = state.readings.findIndex((r) => r.sequence === act.sequence);
      const reading = state.readings[at];
      if (!reading) return;
      state.readings[at] = { ...reading, struck: { ...signed, reason: act.reason } };
      const key = slotKey(reading.slot);
      state.live.delete(key);
      reopen(state, key);
      if (state.corrections.length > 0) reopenDate(state);
    },
    words: (act) => `Entry ${act.sequence} struck out: ${act.reason}`,
    spread: (s, act) => {
      const reading = s.states[s.from]!.readings.find((r) => r.sequence === act.sequence);
      if (!reading) return alone(s, act);
      const { observation: id, ...place } = reading.slot;
      return forSharedReading(s, act, { type: 'reading', ...placeOf(place), id }, (to, same) => {
        const live = same?.type === 'reading' ? to.live.get(slotKey(slotOf(same))) : undefined;
        return live ? { ...act, sequence: live.sequence } : null;
      });
    },
  },
);
