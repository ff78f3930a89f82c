import type { StandardDocument } from './standard-schema';

type Range = { unit: string; usedLower: number; usedUpper: number };

/**
 * Whether the corrections of a standard span the range that an instrument is used over. True where they cannot be compared: no
 * corrections, or another unit.
 * @example corrections from 0 °C to 200 °C do not cover an instrument used from 50 °C to 300 °C
 */
export function coversRange(standard: Pick<StandardDocument, 'unit' | 'corrections'>, range: Range): boolean {
  const places = (standard.corrections ?? []).map((c) => c.at);
  if (standard.unit !== range.unit || places.length === 0) return true;
  return Math.min(...places) <= range.usedLower && Math.max(...places) >= range.usedUpper;
}
