/** One key of the run screen: what is pressed, how it is printed, and what it does, for handlers and for the page of keys. */
export type RunKey = { keys: string; shown: string; what: string };

/** Keys that a handler listens for. */
export const runKeys = {
  back: { keys: 'arrowup', shown: '↑  Backspace', what: 'Step back to the reading before' },
  on: { keys: 'arrowdown', shown: '↓', what: 'Step on' },
  strike: { keys: 'x, delete', shown: 'x', what: 'Strike out the reading you stepped to, with a reason' },
  items: { keys: 's', shown: 's', what: 'Use other items of the standard for this point' },
  conditions: { keys: 't', shown: 't', what: 'Read the conditions again' },
  skip: { keys: 'k', shown: 'k', what: 'Skip this point, with a reason' },
  open: { keys: 'u', shown: 'u', what: 'Open the result of this point and what it is made of' },
  meant: { keys: 'm', shown: 'm', what: 'Take what was perhaps meant in place of what was typed' },
  keep: { keys: '=', shown: '=', what: 'Keep what was typed although it is doubted, with a reason' },
  end: { keys: 'e', shown: 'e', what: 'End these readings here, with a reason' },
  sheet: { keys: 'g', shown: 'g', what: 'Go to the sheet: arrows move, Enter opens, Esc comes back' },
  correct: { keys: 'c', shown: 'c', what: 'Correct an answer of the preparation: arrows move, Enter corrects, Esc comes back' },
  giveUp: { keys: 'z', shown: 'z', what: 'Give up an adjustment before anything is changed, with a reason' },
  limit: { keys: 'b', shown: 'b', what: 'Limit an instrument that is outside to what it holds, as agreed with its owner' },
  note: { keys: 'j', shown: 'j', what: 'Jot down a note for the record' },
  leave: { keys: 'q', shown: 'q', what: 'Break the run off, with a reason' },
  schools: { keys: 'w', shown: 'w', what: 'Show what every method says of the next date' },
  help: { keys: '?', shown: '?', what: 'Show these keys' },
} satisfies Record<string, RunKey>;

/** Keys of several instruments in one set-up, beside the others. */
export const setUpKeys = {
  out: { keys: 'o', shown: 'o', what: 'Take an instrument out of the set-up, with a reason' },
} satisfies Record<string, RunKey>;

/** Keys that forms and buttons answer by themselves. */
const ownKeys: RunKey[] = [
  {
    keys: '',
    shown: '0–9 , .',
    what: 'Type what it shows: comma and point both work; a digit alone chooses where there is a choice, and decides at the judgement',
  },
  { keys: 'enter', shown: 'Enter', what: 'Take the reading and go on; answer yes. It never judges and never adjusts' },
];
const lastKeys: RunKey[] = [
  { keys: 'n', shown: 'n', what: 'Answer a question with no' },
  { keys: 'escape', shown: 'Esc', what: 'Back' },
];

/** All of them, in the order of the page of keys. */
export const allKeys: readonly RunKey[] = [...ownKeys, ...Object.values(runKeys).slice(0, -1), ...lastKeys, runKeys.help];
