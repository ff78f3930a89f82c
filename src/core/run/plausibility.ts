import { toleranceLimits } from '../conformity/tolerance';
import type { Tolerance } from '../conformity/conformity-schema';
import { plainDecimal, roundToDecimals } from '../quantity/rounding';

export type Plausibility =
  { plausible: true } | { plausible: false; message: string; /** The text that was perhaps meant. */ suggestion: string | null };

/** A slip explains a reading when it brings the value this close to the reference, as a multiple of the tolerance. */
const closeEnough = 25;

/**
 * Whether an indication can be meant as typed. Far outside the tolerance, a slipped decimal point, a forgotten leading digit
 * or inches in place of millimetres is likelier than an instrument that wrong, so the tool asks once.
 * @param value and reference in mm
 */
export function checkPlausibility(value: number, reference: number, resolution: number, tolerance: Tolerance): Plausibility {
  if (value < 0)
    return {
      plausible: false,
      message: 'A length cannot be negative. Type the indication without a sign.',
      suggestion: plainDecimal(-value),
    };
  const limits = toleranceLimits(tolerance, value);
  const width = Math.max(limits.upper ?? 0, -(limits.lower ?? 0), resolution);
  if (Math.abs(value - reference) <= closeEnough * width) return { plausible: true };
  const decimals = Math.max(0, Math.round(-Math.log10(resolution)));
  const slips: [number, string][] = [
    [value * 10, 'a slipped decimal point'],
    [value / 10, 'a slipped decimal point'],
    [value * 100, 'a slipped decimal point'],
    [value / 100, 'a slipped decimal point'],
    [value * 1000, 'a forgotten decimal point'],
    [value / 1000, 'a forgotten decimal point'],
    [value * 25.4, 'an indication in inches'],
    [value + Math.trunc(reference), 'only the digits after the point'],
  ];
  // Of several slips that would explain it, the one that comes nearest.
  const distance = ([candidate]: [number, string]) => Math.abs(candidate - reference);
  const slip = slips.filter((s) => distance(s) <= closeEnough * width).sort((a, b) => distance(a) - distance(b))[0];
  if (slip) {
    const suggestion = roundToDecimals(slip[0], decimals);
    return { plausible: false, message: `Did you mean ${suggestion} mm? This looks like ${slip[1]}.`, suggestion };
  }
  return {
    plausible: false,
    message: `That is ${roundToDecimals(Math.abs(value - reference), 3)} mm away from the block. Check the stack and the digits.`,
    suggestion: null,
  };
}
