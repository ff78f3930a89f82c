import type { StandardDocument } from './standard-schema';

type Range = { unit: string; usedLower: number; usedUpper: number };

/**
 * Whether the corrections of a standard span the range that an instrument is used over. True where they cannot be compared: no
 * corrections, or another unit.
 * @example coversRange({ unit: 'Cel', corrections: [{ at: 0, … }, { at: 200, … }] }, { unit: 'Cel', usedLower: 50, usedUpper: 300 }) // false
 */
export function coversRange(standard: Pick<StandardDocument, 'unit' | 'corrections'>, range: Range): boolean {
  const places = (standard.corrections ?? []).map((c) => c.at);
  if (standard.unit !== range.unit || places.length === 0) return true;
  return Math.min(...places) <= range.usedLower && Math.max(...places) >= range.usedUpper;
}
