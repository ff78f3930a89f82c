/**
 * A computed value without the binary noise of the numbers it was made from: 2.523 − 2.503 is 0.02, not 0.020000000000000018.
 * Digits below four rounding errors of the greatest operand are dropped.
 * @param scale magnitude of the greatest number that took part
 * @example withoutBinaryNoise(0.03 - 0.01, 0.03) // 0.02
 */
export function withoutBinaryNoise(value: number, scale: number): number {
  const step = Math.abs(scale) * Number.EPSILON * 4;
  if (value === 0 || step === 0 || !Number.isFinite(value)) return value;
  const digits = Math.floor(Math.log10(Math.abs(value) / step));
  return digits < 1 ? value : Number(value.toPrecision(Math.min(15, digits)));
}

/** Magnitudes within this share of each other are equal where limits and points are compared. */
const equalWithin = 1e-9;

/** Whether `a` is at most `b`, equal magnitudes allowed for. @example atMost(0.1 + 0.2, 0.3) // true */
export const atMost = (a: number, b: number): boolean => a <= b || a - b <= equalWithin * Math.max(Math.abs(a), Math.abs(b));
