import { mean } from '../../statistics/moments';
import { DocumentError, LeftOut } from '../../faults';
import { readingsIn } from '../observed';
import { isIn, type Scope, type Setting } from '../setting';
import { lastWord, nobody, type Head } from './head';

function conditionValue(s: Setting, id: string, scope: Scope): number {
  const declared = s.doc.conditions.find((c) => c.id === id);
  if (!declared) throw new DocumentError(`"${id}" is not a condition of this procedure.`, scope.path);
  if (!isIn(s, declared.when, scope)) throw new LeftOut(`condition ${id}`);
  if (scope.reading) return s.observed.conditionAt(id, scope.reading.time);
  const readings = scope.used ?? readingsIn(s, scope);
  return readings.length ? mean(readings.map((r) => s.observed.conditionAt(id, r.time))) : s.observed.conditionAt(id, Infinity);
}

/** A condition as it was in force when something was read. */
export const condition: Head = {
  problem: (doc, rest, _view, name) => (doc.conditions.some((c) => c.id === rest[0]) && rest.length === 1 ? null : nobody(name)),
  value: (s, rest, scope) => conditionValue(s, rest[0]!, scope),
  words: lastWord,
  isGrowing: true,
};
