import { mean } from '../../statistics/moments';
import { Absent, DocumentError } from '../../faults';
import { fitsOf } from '../fits';
import type { Scope, Setting } from '../setting';
import { known, lastWord, nobody, type Head } from './head';
import { inThisSetOrLatest, seriesNamed } from './other-series';

/** Which coefficient, or uncertainty of one, a member names: `c0`, `u2`; null where it names none. */
function indexOf(member: string): number | null {
  const index = member.startsWith('c') || member.startsWith('u') ? Number(member.slice(1)) : NaN;
  return Number.isInteger(index) && index >= 0 && member.slice(1) === String(index) ? index : null;
}

function ofFit(s: Setting, parts: string[], scope: Scope): number {
  const isOwn = scope.series?.doc.fits.some((f) => f.id === parts[0]) && parts.length === 2;
  const [id, member] = isOwn ? [parts[0]!, parts[1]!] : [parts[1]!, parts[2]!];
  const series = isOwn ? scope.series! : seriesNamed(s, parts[0]!, scope);
  const doc = series.doc.fits.find((f) => f.id === id);
  if (!doc) throw new DocumentError(`"${id}" is not a fit of ${series.doc.id}.`, scope.path);
  const say = (at: Scope): number => {
    const fits = fitsOf(s, series, doc, at.set).filter(
      (f) =>
        (f.instance === null || at.instance === null || f.instance === at.instance) &&
        (f.point === null || at.point === null || f.point.id === at.point.id) &&
        (f.sweep === null || at.sweep === null || f.sweep === at.sweep),
    );
    if (fits.length === 0) throw new Absent(`fit ${id}`);
    const of = fits.map((f) => {
      if (f.unknown) throw f.unknown;
      if (member === 'dof') return f.dof;
      if (member === 'residualStandardDeviation') return known(f.residualStandardDeviation ?? undefined, `scatter of fit ${id}`);
      const index = Number(member.slice(1));
      return known(
        member.startsWith('c') ? f.coefficients[index] : (f.standardUncertainties[index] ?? undefined),
        `fit.${id}.${member}`,
      );
    });
    return mean(of);
  };
  return isOwn ? say(scope) : inThisSetOrLatest(s, series, scope, say);
}

/** Coefficients and scatter of a fit, of this series or of another. */
export const fit: Head = {
  problem: (doc, rest, { series }, name) => {
    const own = series?.fits.find((f) => f.id === rest[0]);
    const found = own && rest.length === 2 ? own : doc.series.find((s) => s.id === rest[0])?.fits.find((f) => f.id === rest[1]);
    if (!found) return nobody(name);
    const member = rest.at(-1)!;
    if (member === 'dof' || member === 'residualStandardDeviation') return null;
    const index = indexOf(member);
    return index !== null && index < found.basis.length ? null : nobody(name);
  },
  value: (s, rest, scope) => ofFit(s, rest, scope),
  words: lastWord,
  isGrowing: true,
};
