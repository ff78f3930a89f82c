/**
 * Decimal rounding, done once, when a value is shown or reported.
 *
 * Rounds to nearest on the decimal digits that a double can vouch for (15 significant), so that 2 × 0.00725, which a
 * computer holds as 0.014499999999999999, rounds like the 0.0145 it stands for. Halves go away from zero (GUM 7.2.6 leaves
 * the convention open).
 */

/** The significant digits of a finite value and the power of ten of the first one. */
function digitsOf(value: number): { digits: number[]; exponent: number } {
  const [mantissa, exponent] = Math.abs(value).toExponential(14).split('e') as [string, string];
  return { digits: [...mantissa.replace('.', '')].map(Number), exponent: Number(exponent) };
}

/** Rounds the digits to the first `count` (0 or fewer leaves one digit's worth of carry at most). */
function roundDigits(digits: number[], count: number): { digits: number[]; carried: boolean } {
  if (count < 0) return { digits: [], carried: false };
  const kept = digits.slice(0, count);
  while (kept.length < count) kept.push(0);
  if ((digits[count] ?? 0) < 5) return { digits: kept, carried: false };
  for (let i = kept.length - 1; i >= 0; i--) {
    if (kept[i]! < 9) {
      kept[i]! += 1;
      return { digits: kept, carried: false };
    }
    kept[i] = 0;
  }
  return { digits: [1, ...kept], carried: true };
}

/**
 * `value` rounded to `decimals` places after the point, as plain text (never exponent notation).
 * Negative `decimals` round to tens, hundreds, …
 * @example roundToDecimals(1234.5, -2) // '1200'
 * @throws RangeError when the value is not finite
 */
export function roundToDecimals(value: number, decimals: number): string {
  if (!Number.isFinite(value)) throw new RangeError('Only a finite value can be rounded.');
  const { digits, exponent } = digitsOf(value);
  const rounded = roundDigits(digits, exponent + 1 + decimals);
  // The last kept digit stands at 10^-decimals.
  const integer = rounded.digits.join('') || '0';
  const sign = value < 0 && /[1-9]/.test(integer) ? '-' : '';
  if (decimals <= 0) {
    const whole = integer.replace(/^0+(?=\d)/, '');
    return sign + (whole === '0' ? '0' : whole + '0'.repeat(-decimals));
  }
  const padded = integer.padStart(decimals + 1, '0');
  return `${sign}${padded.slice(0, -decimals).replace(/^0+(?=\d)/, '')}.${padded.slice(-decimals)}`;
}

/**
 * Places after the point at which `value` has `significant` digits once rounded there: 0.0996 at two digits is 0.10, so 2.
 * Returns null for zero, which has no significant digits.
 * @example decimalsForSignificant(0.01234, 2) // 3
 */
export function decimalsForSignificant(value: number, significant: number): number | null {
  if (value === 0) return null;
  const { digits, exponent } = digitsOf(value);
  const { carried } = roundDigits(digits, significant);
  return significant - 1 - (exponent + (carried ? 1 : 0));
}

/**
 * The shortest plain decimal text of a value, for when no uncertainty says where to stop.
 * @example plainDecimal(0.00000012) // '0.00000012'
 */
export function plainDecimal(value: number): string {
  const clean = Number(value.toPrecision(15));
  const text = String(clean);
  if (!text.includes('e')) return text === '-0' ? '0' : text;
  const { exponent } = digitsOf(clean);
  const significant = clean.toExponential().split('e')[0]!.replace(/[-.]/g, '').length;
  return roundToDecimals(clean, Math.max(0, significant - 1 - exponent));
}

/** Decimals that a column of values needs. @example decimalsNeeded([0.5, 20, 7.25]) // 2 */
export const decimalsNeeded = (values: readonly number[]): number =>
  Math.max(0, ...values.map((v) => plainDecimal(v).split('.')[1]?.length ?? 0));

/**
 * An estimate and its expanded uncertainty as they are reported: the uncertainty at two significant digits, the estimate to
 * the same decimal place (GUM 7.2.6; ILAC-P14, 5.4).
 * @param further digits beyond those, where a pair of them would not say what was decided
 * @example reportedPair(10.01234, 0.00456) // { estimate: '10.0123', expandedUncertainty: '0.0046' }
 */
export function reportedPair(estimate: number, expandedUncertainty: number, further = 0): ReportedPair {
  const place = decimalsForSignificant(expandedUncertainty, 2);
  const decimals = place === null ? null : place + further;
  if (decimals === null) return { estimate: plainDecimal(estimate), expandedUncertainty: '0' };
  const pair = {
    estimate: roundToDecimals(estimate, decimals),
    expandedUncertainty: roundToDecimals(expandedUncertainty, decimals),
  };
  if (decimals >= 0) return pair;
  // 120000 does not say that only two of its digits count; 1.2 × 10⁵ does.
  const exponent = 1 + further - decimals;
  return {
    ...pair,
    scaled: {
      exponent,
      estimate: roundToDecimals(estimate / 10 ** exponent, 1 + further),
      expandedUncertainty: roundToDecimals(expandedUncertainty / 10 ** exponent, 1 + further),
    },
  };
}

export type ReportedPair = {
  estimate: string;
  expandedUncertainty: string;
  /** The same over a power of ten, where plain digits would claim more than two for the uncertainty (U of 100 or more). */
  scaled?: { exponent: number; estimate: string; expandedUncertainty: string };
};

const superscript = (n: number): string => [...String(n)].map((c) => '⁰¹²³⁴⁵⁶⁷⁸⁹'['0123456789'.indexOf(c)]).join('');

/**
 * A reported pair as people read it: with the minus sign of typesetting, and over a power of ten where two digits count of more.
 * @example printedPair(reportedPair(5123456, 123456)) // { estimate: '51.2 × 10⁵', expandedUncertainty: '1.2 × 10⁵' }
 */
export function printedPair(reported: ReportedPair): { estimate: string; expandedUncertainty: string } {
  const { estimate, expandedUncertainty, scaled } = reported;
  if (!scaled) return { estimate: estimate.replace('-', '−'), expandedUncertainty };
  const power = ` × 10${superscript(scaled.exponent)}`;
  return {
    estimate: `${scaled.estimate.replace('-', '−')}${power}`,
    expandedUncertainty: `${scaled.expandedUncertainty}${power}`,
  };
}
