import { parsePlainNumber } from '../core/quantity/reading';
import type { ServerRefusal } from './ask-server';

/** Reads the numbers of a form, and keeps the first that cannot be read, in words, at its field. */
export class FormNumbers {
  refusal: ServerRefusal | null = null;

  constructor(private readonly form: FormData) {}

  /** The number in a field, times a factor; null when nothing was typed, or when it cannot be read. */
  at(name: string, factor = 1): number | null {
    const text = String(this.form.get(name) ?? '');
    if (text.trim() === '') return null;
    const parsed = parsePlainNumber(text);
    // A factor such as 1e-6 leaves binary noise behind the digits typed.
    if (parsed.ok) return Number((parsed.reading.value * factor).toPrecision(12));
    this.refusal ??= { status: 422, message: parsed.message, path: [name], details: {} };
    return null;
  }
}
