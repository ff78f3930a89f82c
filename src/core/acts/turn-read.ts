import * as z from 'zod';
import { id } from '../plan/atoms';
import { place } from '../plan/plan-schema';
import { nextItem } from '../run/next-step';
import { isThere } from '../run/rungs';
import { turningOf } from '../run/turning';
import { refusalOfTyped, valuesOfTyped, wordsOfTyped } from '../run/typed-at';
import { placeOf } from '../state/place-keys';
import { actKind } from './act-kind';
import { notNow, where } from './common';
import { alone } from './spreading';

/** A point is read while two settings are turned in rounds: as it is come to, or as it is left. */
export const turnRead = actKind(
  'turn-read',
  { ...place, series: id, point: id, id, texts: z.record(id, z.string().trim().max(60)) },
  {
    admit: (state, act) => {
      const next = nextItem(state);
      const turning = next?.type === 'adjust' && next.id === act.id ? turningOf(state) : null;
      if (!turning || !['read', 'turn'].includes(turning.next.do) || !isThere(turning.place, placeOf(act))) return notNow();
      return refusalOfTyped(state, placeOf(act), act.texts);
    },
    fold: (state, act, signed) => {
      state.turns = [...state.turns, { ...signed, id: act.id, place: placeOf(act), ...valuesOfTyped(act.texts) }];
    },
    words: (act, state) =>
      `${state.procedure.adjustments.find((a) => a.id === act.id)?.title ?? act.id}, ${where(state, act)}: ${wordsOfTyped(state, placeOf(act), act.texts)}`,
    spread: alone,
  },
);
