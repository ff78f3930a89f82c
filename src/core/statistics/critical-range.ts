/**
 * Factors of the critical range: so many times the repeatability standard deviation lie between the least and the greatest of n
 * results in 95 of 100 cases (ISO 5725-6:1994, 5.2; the 95 % points of the studentized range with known deviation).
 */
const factors = [2.77, 3.31, 3.63, 3.86, 4.03, 4.17, 4.29, 4.39, 4.47];

/**
 * How far repeats may lie apart and still agree.
 * @param count of repeats, from 2; from 10 on the factor of ten
 * @param deviation standard deviation that is expected of one, in any unit; the answer is in it too
 * @example criticalRange(3, 0.001) // 0.00331
 */
export const criticalRange = (count: number, deviation: number): number =>
  factors[Math.min(factors.length - 1, Math.max(0, count - 2))]! * deviation;
