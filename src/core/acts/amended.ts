import * as z from 'zod';
import { line, reason } from '../plan/atoms';
import { refuse } from '../state/refusal';
import { isQuickCheck } from '../state/run-state';
import { actKind } from './act-kind';
import { alone } from './spreading';

/** What of an instrument can be mistyped without a reading being another. */
export const amendable = {
  owner: 'Owner',
  ownerAddress: 'Address of the owner',
  identification: 'Identification',
  serialNumber: 'Serial number',
  designation: 'Make and type',
  place: 'Place',
} as const;
const members = Object.keys(amendable) as (keyof typeof amendable)[];

/** A typing mistake in a name is put right in this run; the register is changed apart from it. */
export const amended = actKind(
  'amended',
  { member: z.enum(members, { error: 'Choose what was mistyped.' }), value: line, reason },
  {
    admit: (state, act) => {
      if (isQuickCheck(state)) return refuse('A quick check has no certificate to be amended.', 'type');
      return (state.instrument[act.member] ?? '') === act.value ? refuse('It says so already.', 'value') : null;
    },
    fold: (state, act, signed) => {
      const { member, value: after } = act;
      const before = state.instrument[member] ?? '';
      state.amended.push({ ...signed, member, title: amendable[member], before, after, reason: act.reason });
      state.instrument = { ...state.instrument, [member]: after };
    },
    words: (act) => `${amendable[act.member]} amended to ${act.value}: ${act.reason}`,
    spread: alone,
  },
);
