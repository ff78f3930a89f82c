import { id, reason } from '../plan/atoms';
import { setName } from '../procedure/schema/parts';
import { placeOf, slotKey } from '../state/place-keys';
import { reopen } from '../state/run-state';
import { actKind } from './act-kind';
import { evidence, isReading, lower } from './common';
import { alone } from './spreading';

/** All readings of a series, or of one instance of it, are struck out at once and taken again. */
export const withdrawn = actKind(
  'withdrawn',
  { set: setName, series: id, each: id.optional(), reason },
  {
    admit: (state, act) => (state.sets.at(-1)!.id === act.set && isReading(state, act.set) ? null : evidence(act.set, 'set')),
    fold: (state, act, signed) => {
      const { set, series, each } = act;
      state.withdrawn.push({ ...signed, ...placeOf(act), reason: act.reason });
      state.readings = state.readings.map((r) => {
        if (r.struck || r.slot.set !== set || r.slot.series !== series || (each !== undefined && r.slot.each !== each)) return r;
        const key = slotKey(r.slot);
        state.live.delete(key);
        reopen(state, key);
        return { ...r, struck: { ...signed, reason: act.reason } };
      });
    },
    words: (act) => `Readings ${lower(act.set)} withdrawn: ${act.reason}`,
    spread: alone,
  },
);
