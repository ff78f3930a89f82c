import * as z from 'zod';
import '../plain-issues';
import { calendarDaySchema } from '../quantity/calendar-day';

/** What people type and programs name, as acts and snapshots hold it. */

export const line = z.string().trim().min(1).max(300);
export const reason = z.string().trim().min(3, 'Give the reason in a few words.').max(500);
export const note = z.string().trim().max(500);
export const nothingTyped = 'Nothing was typed. Type the number, then press Enter.';
export const typed = z
  .string()
  .trim()
  .min(1, nothingTyped)
  .max(20, 'That is longer than any number. Type at most 20 characters.');
export const id = z.string().min(1).max(80);
export const day = calendarDaySchema('A date');
