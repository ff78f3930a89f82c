import { agreeingDigits, type Bounds } from '../quantity/agreeing-digits';
import { convert, convertDifference, isTemperature, printedUnit } from '../quantity/unit';
import { decimalsForSignificant, plainDecimal, printedPair, reportedPair, roundToDecimals } from '../quantity/rounding';

/** A value in the unit in which it is shown; a temperature with its zero. @example inShownUnit(0.002, 'mm', 'um') // 2 */
export const inShownUnit = (value: number, unit: string, shownIn: string): number =>
  unit === shownIn ? value : isTemperature(unit) ? convert(value, unit, shownIn) : convertDifference(value, unit, shownIn);

/** A difference, such as an uncertainty, in the unit in which it is shown. @example differenceInShownUnit(0.002, 'mm', 'um') // 2 */
export const differenceInShownUnit = (value: number, unit: string, shownIn: string): number =>
  unit === shownIn ? value : convertDifference(value, unit, shownIn);

/** A typed number with a minus of its own width. @example withMinus('-0.5 K') // '−0.5 K' */
export const withMinus = (text: string): string => text.replace(/^-/, '−');

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

/** Limits in the unit in which they are shown. */
const boundsIn = (bounds: Bounds | undefined, unit: string, shownIn: string): Bounds | undefined => {
  const say = (n: number | null | undefined) => (n === null || n === undefined ? null : inShownUnit(n, unit, shownIn));
  return bounds && { lower: say(bounds.lower), upper: say(bounds.upper) };
};

/** A value and its uncertainty as printed, and the place of their last digit. */
export type PrintedPair = { value: string; U: string; decimals: number };

/**
 * A value and its uncertainty as a sheet shows them: both to two significant digits of the uncertainty, in `shownIn`, with further ones
 * where printed numbers and limits would not say what was decided.
 * @param step of the display in `shownIn`: the place of a value without uncertainty is one beyond it; null: three digits
 * @example shownPair(0.00234, 0.0008, 'mm', 'um') // { value: '+2.34', U: '0.80', decimals: 2 }
 */
export function shownPair(
  value: number,
  expandedUncertainty: number | null,
  unit: string,
  shownIn: string,
  limits?: Bounds,
  acceptance?: Bounds,
  step: number | null = null,
): PrintedPair {
  const sign = isError(limits) ? signed : (text: string) => text.replace('-', '−');
  const v = inShownUnit(value, unit, shownIn);
  const U = expandedUncertainty ? differenceInShownUnit(expandedUncertainty, unit, shownIn) : null;
  const usual =
    U === null && step !== null && step > 0
      ? Math.max(0, Math.round(-Math.log10(step))) + 1
      : Math.max(-12, Math.min(fewestSeen, decimalsForSignificant(U ?? v, U === null ? 3 : 2) ?? 0));
  const bounds = boundsIn(limits, unit, shownIn);
  const further = agreeingDigits(v, U, bounds, boundsIn(acceptance, unit, shownIn), usual);
  const decimals = usual + further;
  if (U === null) {
    const text = decimals < 0 ? significant(v, 3) : roundToDecimals(v, Math.min(12, decimals));
    return { value: sign(text), U: '', decimals };
  }
  const pair = printedPair(reportedPair(v, U, further));
  return { value: sign(pair.estimate), U: pair.expandedUncertainty, decimals };
}

/** With a sign, and a minus of its own width. @example signed('2.3') // '+2.3' */
export const signed = (text: string): string =>
  text.startsWith('-') ? `−${text.slice(1)}` : /[1-9]/.test(text) && !text.startsWith('−') ? `+${text}` : text;

/** Places after the point beyond which nothing is told. */
const fewestSeen = 10;

/** A number to so many significant digits, never with an exponent. @example significant(0.0012345, 2) // '0.0012' */
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

/** Limits in words, to a place after the point or to so many digits. @example limitWords({ lower: -0.004, upper: 0.004 }, 'mm', 'um') // '±4 µm' */
export function limitWords(
  { lower, upper }: { lower?: number | null; upper?: number | null },
  unit: string,
  shownIn: string,
  { digits = 4, decimals }: { digits?: number; decimals?: number } = {},
): string {
  const round = (n: number) => (decimals === undefined ? Number(n.toPrecision(digits)) : Number(roundToDecimals(n, decimals)));
  const say = (n: number) => plainDecimal(round(inShownUnit(n, unit, shownIn))).replace('-', '−');
  const [low, high] = [lower ?? null, upper ?? null];
  if (low !== null && high !== null)
    return Math.abs(low + high) <= 1e-9 * Math.abs(high)
      ? `±${withPrintedUnit(say(high), shownIn)}`
      : `${say(low)} to ${withPrintedUnit(say(high), shownIn)}`;
  if (high !== null) return `at most ${withPrintedUnit(say(high), shownIn)}`;
  return low !== null ? `at least ${withPrintedUnit(say(low), shownIn)}` : '';
}
