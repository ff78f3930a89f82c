import type { DecisionRule } from '../conformity/conformity-schema';
import type { Verdict } from '../conformity/decide';
import { plainDecimal } from '../quantity/rounding';
import { isSamePerson } from '../register/person-name';
import { withMinus } from '../run/shown-value';
import type { Certificate } from './certificate';

const verdictInWords: Record<Verdict, string> = {
  pass: 'pass',
  'conditional-pass': 'conditional pass',
  'conditional-fail': 'conditional fail',
  fail: 'fail',
  'not-determined': 'not determined',
};

/** @example verdictWords('pass') // 'pass' */
export const verdictWords = (verdict: Verdict): string => verdictInWords[verdict];

/** What an adjustment stored, as a record prints it. @example storedWords([{ title: 'Offset', before: '-0.5 K', after: '0 K' }]) // 'Offset −0.5 K before, 0 K after' */
export const storedWords = (stored: readonly { title: string; before: string; after: string }[]): string =>
  stored
    .map(({ title, before, after }) =>
      before ? `${title} ${withMinus(before)} before, ${withMinus(after)} after` : `${title} ${withMinus(after)}`,
    )
    .join('; ');

/** A decision rule as a certificate states it. */
export function ruleStatement(rule: DecisionRule | undefined): string {
  const ratio = rule?.minimumRatio
    ? ` No statement of conformity where the half-width of the limits is less than ${plainDecimal(rule.minimumRatio)} times the expanded uncertainty.`
    : '';
  switch (rule?.kind) {
    case undefined:
    case 'simple':
      return `Pass when the value lies inside the limits (simple acceptance, ILAC-G8, 4.2.1).${ratio}`;
    case 'guard-band': {
      const guard =
        rule.factor === 1 ? 'its expanded uncertainty' : `${plainDecimal(rule.factor)} times its expanded uncertainty`;
      return rule.binary
        ? `Pass when the value lies inside the limits by at least ${guard}; else fail (guard band, ILAC-G8, 4.2.2).${ratio}`
        : `Pass when the value lies inside the limits by at least ${guard}; conditional within that uncertainty of a limit; else fail (guard band, ILAC-G8, 4.2.3).${ratio}`;
    }
    case 'maximum-false-accept':
      return `Pass when the probability that the true value lies outside the limits is at most ${plainDecimal(rule.probability * 100)} % (JCGM 106, 8.3).${ratio}`;
  }
}

export const coverageStatement = (probability: number | null): string =>
  probability === null
    ? 'The expanded uncertainty U is the standard uncertainty multiplied by the coverage factor k of the line.'
    : `The expanded uncertainty U is the standard uncertainty multiplied by the coverage factor k of the line, which for a t distribution with the effective degrees of freedom gives a coverage probability of ${plainDecimal(Number((probability * 100).toPrecision(6)))} % (JCGM 100:2008).`;

/**
 * Who reviewed it and when, as a certificate says it. Where that is one of those who measured, the laboratory has nobody else: no other
 * way leads there.
 * @example reviewWords({ measuredBy: ['Ada'], finishedBy: 'Ada', reviewedBy: 'Ben', reviewedOn: '2026-11-25' }, 'to come') // 'Ben, 2026-11-25'
 */
export const reviewWords = (
  { measuredBy, finishedBy, reviewedBy, reviewedOn }: Certificate['persons'],
  notYet: string,
): string =>
  reviewedBy === null
    ? notYet
    : `${reviewedBy}, ${reviewedOn}${
        [...measuredBy, finishedBy].some((p) => isSamePerson(p, reviewedBy))
          ? '; the laboratory is of one person, nobody else has reviewed it'
          : ''
      }`;
