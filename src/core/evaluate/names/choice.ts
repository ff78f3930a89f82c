import { chosenOption } from '../setting';
import { columnOf } from './columns';
import { lastWord, nobody, type Head } from './head';

/** A number, or a formula for one. */
const isNumber = (value: unknown): boolean =>
  typeof value === 'number' ||
  (typeof value === 'object' && value !== null && typeof (value as { is?: unknown }).is === 'string');

/** Columns of the option that was chosen. */
export const choice: Head = {
  problem: (doc, rest, _view, name) => {
    const found = doc.choices.find((c) => c.id === rest[0]);
    return found && (rest[1] === 'index' || found.options.some((o) => isNumber(o[rest[1] ?? '']))) ? null : nobody(name);
  },
  value: (s, rest, scope, name) => {
    const { option, index } = chosenOption(s, rest[0]!, scope.path);
    return rest[1] === 'index' ? index + 1 : columnOf(s, option, rest[1] ?? '', name, scope);
  },
  words: (rest) => `${lastWord(rest)} as chosen`,
};
