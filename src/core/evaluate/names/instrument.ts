import { DocumentError } from '../../faults';
import type { Scope, Setting } from '../setting';
import { known, lastWord, nobody, type Head } from './head';

const ranges = ['lower', 'upper', 'usedLower', 'usedUpper', 'resolution', 'span'];

const said: Record<string, string> = {
  lower: 'lower end of the range',
  upper: 'upper end of the range',
  usedLower: 'lower end in use',
  usedUpper: 'upper end in use',
  resolution: 'step of the display',
};

function instrumentValue(s: Setting, member: string, scope: Scope): number {
  const i = s.given.instrument;
  if (member === 'span')
    return known(i.usedUpper, 'usedUpper of the instrument') - known(i.usedLower, 'usedLower of the instrument');
  const declared = s.doc.instrument.characteristics.find((c) => c.id === member);
  const value = declared ? (i.characteristics[member] ?? declared.default) : (i as Record<string, unknown>)[member];
  if (typeof value === 'number') return value;
  if (typeof value === 'string' && value.trim() !== '' && Number.isFinite(Number(value))) return Number(value);
  if (!declared && !['lower', 'upper', 'usedLower', 'usedUpper', 'resolution'].includes(member))
    throw new DocumentError(
      `"instrument.${member}" is neither a range, the resolution nor a characteristic of this procedure.`,
      scope.path,
    );
  throw new DocumentError(`The instrument's record does not state ${declared?.title ?? member}, which a formula needs.`, [
    'instrument',
    ...(declared ? ['characteristics'] : []),
    member,
  ]);
}

/** The register's numbers: its range, its resolution, its characteristics. */
export const instrument: Head = {
  problem: (doc, rest, _view, name) =>
    rest.length === 1 && (ranges.includes(rest[0]!) || doc.instrument.characteristics.some((c) => c.id === rest[0]))
      ? null
      : nobody(name),
  value: (s, rest, scope) => instrumentValue(s, rest[0]!, scope),
  words: (rest) => said[rest.join('.')] ?? `its ${lastWord(rest)}`,
};
