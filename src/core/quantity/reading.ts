/** A number as it was read: what was typed, what it means, and the step of its last digit. */
export type AsRead = {
  /** Text as typed, trimmed, decimal mark normalised to a point. `10.020` stays `10.020`. */
  text: string;
  value: number;
  /** One unit of the last digit typed, e.g. 0.001 for `10.020`. */
  resolution: number;
};

export type ReadingProblem = 'empty' | 'two-decimal-marks' | 'not-a-number' | 'too-long';

export type ParsedReading = { ok: true; reading: AsRead } | { ok: false; problem: ReadingProblem; message: string };

const messages: Record<ReadingProblem, string> = {
  empty: 'Nothing was typed. Type the indication, then press Enter.',
  'two-decimal-marks': 'There is more than one decimal mark. Type one comma or one point, and no thousands separator.',
  'not-a-number': 'That is not a number. Type digits with one comma or one point, for instance 10.020.',
  'too-long': 'That is longer than any indication. Type at most 20 characters.',
};

const refuse = (problem: ReadingProblem): ParsedReading => ({ ok: false, problem, message: messages[problem] });

/**
 * Reads an indication typed by a person. A decimal comma and a decimal point both work; the typed digits are kept.
 * @example parseReading('10,020') // { ok: true, reading: { text: '10.020', value: 10.02, resolution: 0.001 } }
 */
export function parseReading(typed: string): ParsedReading {
  const text = typed.trim().replace(/[−–]/g, '-').replace(/,/g, '.');
  if (text === '') return refuse('empty');
  if (text.length > 20) return refuse('too-long');
  if (text.split('.').length > 2) return refuse('two-decimal-marks');
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(text)) return refuse('not-a-number');
  const value = Number(text);
  const decimals = text.split('.')[1]?.length ?? 0;
  return { ok: true, reading: { text, value, resolution: Number(`1e-${decimals}`) } };
}
