import { mean } from '../../statistics/moments';
import { Absent } from '../../faults';
import type { Scope, Setting } from '../setting';
import { known, lastWord, nobody, type Head } from './head';

function storedValue(s: Setting, id: string, scope: Scope): number {
  const stored = s.given.stored[id];
  if (typeof stored === 'number') return stored;
  if (stored === undefined) throw new Absent(`stored ${id}`, 'record');
  const instance = scope.instance?.id;
  if (instance !== null && instance !== undefined) return known(stored[instance], `stored ${id} of ${instance}`, 'record');
  const values = Object.values(stored);
  return values.length ? mean(values) : known(undefined, `stored ${id}`, 'record');
}

/** What the instrument has stored. */
export const stored: Head = {
  problem: (doc, rest, _view, name) =>
    doc.adjustments.some((a) => a.stored.some((x) => x.id === rest[0])) ? null : nobody(name),
  value: (s, rest, scope) => storedValue(s, rest[0]!, scope),
  words: (rest) => `${lastWord(rest)} of stored`,
};
