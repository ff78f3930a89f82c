import { roundToDecimals } from './rounding';

/** One side or both; what is missing limits nothing. */
export type Bounds = { lower?: number | null | undefined; upper?: number | null | undefined };

/** No more than these are added. */
const most = 6;

const isWithin = (value: number, bound: number, side: 'lower' | 'upper'): boolean => {
  // What differs by the last bits of a number is the same number.
  const noise = 1e-12 * Math.max(Math.abs(value), Math.abs(bound));
  return side === 'upper' ? value <= bound + noise : value >= bound - noise;
};

/**
 * Digits that a value, its uncertainty and its limits need beyond their usual place so that, as printed, they say what was decided of the
 * numbers themselves: whether the value is inside the limits, and inside what the rule accepts, which a reader makes of limit and U.
 * All in one unit.
 * @param decimals usual place of value and limits @returns 0 to 6
 * @example agreeingDigits(4.004, null, { upper: 4 }, undefined, 2) // 1: 4.004 against 4, where 4.00 would be inside
 */
export function agreeingDigits(
  value: number,
  expandedUncertainty: number | null,
  limits: Bounds | undefined,
  acceptance: Bounds | undefined,
  decimals: number,
): number {
  if (!limits) return 0;
  const U = expandedUncertainty ?? 0;
  const sides = (['lower', 'upper'] as const).flatMap((side) => {
    const limit = limits[side];
    if (limit === null || limit === undefined) return [];
    const accepted = acceptance?.[side];
    // How much of U the rule keeps clear of the limit; nothing where it asks for none.
    const kept = accepted === null || accepted === undefined || U === 0 ? 0 : (limit - accepted) / U;
    return [{ side, limit, kept }];
  });
  for (let further = 0; further < most; further++) {
    const printed = (n: number) => Number(roundToDecimals(n, decimals + further));
    const agrees = sides.every(({ side, limit, kept }) =>
      [0, kept].every(
        (share) =>
          isWithin(value, limit - share * U, side) === isWithin(printed(value), printed(limit) - share * printed(U), side),
      ),
    );
    if (agrees) return further;
  }
  return most;
}
