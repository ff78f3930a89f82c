import { convert, convertDifference, isTemperature, printedUnit } from '../quantity/unit';
import { decimalsForSignificant, plainDecimal, printedPair, reportedPair, roundToDecimals } from '../quantity/rounding';

/** A value in the unit in which it is shown; a temperature with its zero. */
export const inShownUnit = (value: number, unit: string, shownIn: string): number =>
  unit === shownIn ? value : isTemperature(unit) ? convert(value, unit, shownIn) : convertDifference(value, unit, shownIn);

/** A difference, such as an uncertainty, in the unit in which it is shown. */
export const differenceInShownUnit = (value: number, unit: string, shownIn: string): number =>
  unit === shownIn ? value : convertDifference(value, unit, shownIn);

/** A number with its unit, printed. @example withPrintedUnit('0.25', '%') // '0.25 %' */
export const withPrintedUnit = (text: string, unit: string): string => {
  const printed = printedUnit(unit);
  return printed === '' || printed === '1' ? text : `${text} ${printed}`;
};

/** A range on one line. @example shortRange(0, 25, 'mm') // '0 to 25 mm' @example shortRange(94, 94, 'dB') // '94 dB' */
export const shortRange = (lower: number, upper: number, unit: string): string =>
  withPrintedUnit([...new Set([lower, upper])].map((end) => plainDecimal(end).replace('-', '−')).join(' to '), unit);

/** Whether a value with such limits is an error, which is written with its sign: its limits are none, or lie on both sides of zero. */
const isError = (limits: { lower?: number | null; upper?: number | null } | undefined): boolean =>
  !limits || ((limits.lower ?? 0) < 0 && (limits.upper ?? 0) > 0);

/** A value and its uncertainty as a sheet shows them: both to two significant digits of the uncertainty, in `shownIn`. */
export function shownPair(
  value: number,
  expandedUncertainty: number | null,
  unit: string,
  shownIn: string,
  limits?: { lower?: number | null; upper?: number | null },
): { value: string; U: string } {
  const sign = isError(limits) ? signed : (text: string) => text.replace('-', '−');
  const v = inShownUnit(value, unit, shownIn);
  if (expandedUncertainty === null || expandedUncertainty === 0) return { value: sign(significant(v, 3)), U: '' };
  const pair = printedPair(reportedPair(v, differenceInShownUnit(expandedUncertainty, unit, shownIn)));
  return { value: sign(pair.estimate), U: pair.expandedUncertainty };
}

/** With a sign, and a minus of its own width. */
export const signed = (text: string): string =>
  text.startsWith('-') ? `−${text.slice(1)}` : /[1-9]/.test(text) && !text.startsWith('−') ? `+${text}` : text;

/** Places after the point beyond which nothing is told. */
const fewestSeen = 10;

/** A number to so many significant digits, never with an exponent. */
export function significant(value: number, digits: number): string {
  const decimals = decimalsForSignificant(value, digits);
  // What is smaller than any last digit that could be read is nothing.
  if (decimals !== null && decimals - digits >= fewestSeen) return '0';
  return decimals === null
    ? '0'
    : decimals < 0
      ? plainDecimal(Number(value.toPrecision(digits)))
      : roundToDecimals(value, Math.min(decimals, 12));
}

/** Limits in words. @example limitWords({ lower: -0.004, upper: 0.004 }, 'mm', 'um') // '±4 µm' */
export function limitWords(
  { lower, upper }: { lower?: number | null; upper?: number | null },
  unit: string,
  shownIn: string,
  digits = 6,
): string {
  const say = (n: number) => plainDecimal(Number(inShownUnit(n, unit, shownIn).toPrecision(digits))).replace('-', '−');
  const [low, high] = [lower ?? null, upper ?? null];
  if (low !== null && high !== null)
    return Math.abs(low + high) <= 1e-9 * Math.abs(high)
      ? `±${withPrintedUnit(say(high), shownIn)}`
      : `${say(low)} to ${withPrintedUnit(say(high), shownIn)}`;
  if (high !== null) return `at most ${withPrintedUnit(say(high), shownIn)}`;
  return low !== null ? `at least ${withPrintedUnit(say(low), shownIn)}` : '';
}
