import * as z from 'zod';
import { parsePlainNumber } from '../../core/quantity/reading';
import { plainDecimal } from '../../core/quantity/rounding';

/** A number as it was typed, with a comma or a point; null where nothing was. What cannot be read is told in words. */
export const typedNumber = z.string().transform((text, context): number | null => {
  if (text.trim() === '') return null;
  const parsed = parsePlainNumber(text);
  if (parsed.ok) return parsed.reading.value;
  context.addIssue({ code: 'custom', message: parsed.message });
  return z.NEVER;
});

export const typedText = z.string().transform((text) => text.trim());

/** A number as a field shows it before anything is typed. */
export const shownNumber = (value: unknown): string => (typeof value === 'number' ? plainDecimal(value) : '');
