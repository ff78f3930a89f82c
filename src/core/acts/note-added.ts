import { reason } from '../plan/atoms';
import { actKind } from './act-kind';
import { inTurn } from './spreading';

/** Something that the record should say. */
export const noteAdded = actKind(
  'note-added',
  { text: reason },
  {
    admit: () => null,
    fold: (state, act, signed) => {
      state.notes.push({ ...signed, text: act.text });
    },
    words: (act) => act.text,
    spread: inTurn,
  },
);
