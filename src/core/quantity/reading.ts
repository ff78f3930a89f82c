import { plainDecimal } from './rounding';

/** A number as it was read: what was typed, what it means, and the step of its last digit. */
export type AsRead = {
  /** Text as typed, trimmed, decimal mark normalised to a point. `10.020` stays `10.020`. */
  text: string;
  value: number;
  /** One unit of the last digit typed, e.g. 0.001 for `10.020`. */
  resolution: number;
  /** The value if the one comma was meant to part the thousands (`1,234`); absent where the text can mean one thing only. */
  asThousands?: number;
};

export type ReadingProblem = 'empty' | 'two-decimal-marks' | 'not-a-number' | 'too-long' | 'doubtful-comma';

export type ParsedReading =
  | { ok: true; reading: AsRead }
  | { ok: false; problem: ReadingProblem; message: string; /** Offered in place of what was typed. */ suggestion?: string };

const messages: Record<Exclude<ReadingProblem, 'doubtful-comma'>, string> = {
  empty: 'Nothing was typed. Type the indication, then press Enter.',
  'two-decimal-marks': 'There is more than one decimal mark. Type one comma or one point, and no thousands separator.',
  'not-a-number': 'That is not a number. Type digits with one comma or one point, for instance 10.020.',
  'too-long': 'That is longer than any indication. Type at most 20 characters.',
};

const refuse = (problem: keyof typeof messages): ParsedReading => ({ ok: false, problem, message: messages[problem] });

/** One to three digits that do not begin with 0, one comma, three digits: a decimal comma, or a thousands separator. */
const doubtful = /^[+-]?[1-9]\d{0,2},\d{3}$/;

/** Hyphens, dashes and minus signs of every length, as keyboards and other programs write them. */
const dashes = /[\u2010-\u2015\u2212\ufe58\ufe63]/g;

/**
 * Reads an indication typed by a person. A decimal comma and a decimal point both work; the typed digits are kept. Digits, points
 * and signs of full width are read as the plain ones.
 * @example parseReading('10,020') // { ok: true, reading: { text: '10.020', value: 10.02, resolution: 0.001, asThousands: 10020 } }
 */
export function parseReading(typed: string): ParsedReading {
  const plain = typed.normalize('NFKC').trim().replace(dashes, '-');
  const text = plain.replace(/,/g, '.');
  if (text === '') return refuse('empty');
  if (text.length > 20) return refuse('too-long');
  if (text.split('.').length > 2) return refuse('two-decimal-marks');
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(text)) return refuse('not-a-number');
  const decimals = text.split('.')[1]?.length ?? 0;
  return {
    ok: true,
    reading: {
      text,
      value: Number(text),
      resolution: Number(`1e-${decimals}`),
      ...(doubtful.test(plain) ? { asThousands: Number(plain.replace(',', '')) } : {}),
    },
  };
}

/** A figure of a certificate or a form: a reading, or a number with a power of ten. @example parseFigure('11.5e-6') // { ok: true, reading: { value: 11.5e-6 } } */
export function parseFigure(typed: string): ParsedReading {
  const text = typed.normalize('NFKC').trim().replace(dashes, '-').replace(',', '.');
  if (!/^[+-]?(\d+\.?\d*|\.\d+)e[+-]?\d{1,2}$/i.test(text) || text.length > 20) return parseReading(typed);
  const value = Number(text);
  return { ok: true, reading: { text, value, resolution: 0 } };
}

/**
 * The same where nothing around says what `1,234` means, as in a form: the person is asked.
 * @example parsePlainNumber('1,234').ok // false: 1.234 or 1234?
 */
export function parsePlainNumber(typed: string): ParsedReading {
  const parsed = parseFigure(typed);
  if (!parsed.ok || parsed.reading.asThousands === undefined) return parsed;
  const { text, asThousands } = parsed.reading;
  return {
    ok: false,
    problem: 'doubtful-comma',
    message: `Is that ${text} or ${asThousands}? Type it with a point, or without the comma.`,
    suggestion: text,
  };
}

/**
 * A reading with the trailing zeros that its display shows and the person left out.
 * @param step of the display @example completedText('10.02', 0.001) // '10.020'
 */
export function completedText(text: string, step: number | null): string {
  if (step === null || !/^[+-]?\d*\.?\d+$/.test(text)) return text;
  const wanted = decimalsOf(step);
  const given = text.split('.')[1]?.length ?? 0;
  return given >= wanted ? text : `${text}${given === 0 ? '.' : ''}${'0'.repeat(wanted - given)}`;
}

/** Places after the point that a step of a display needs: 0.05 needs two, 20 none. */
export const decimalsOf = (step: number): number => plainDecimal(step).split('.')[1]?.length ?? 0;

/**
 * The steps of a display next to a value, below and above; null when the value is one itself.
 * @example besideSteps(150.12, 0.05) // [150.1, 150.15]
 */
export function besideSteps(value: number, step: number): [number, number] | null {
  const steps = value / step;
  if (Math.abs(steps - Math.round(steps)) <= 1e-6 * Math.max(1, Math.abs(steps) * 1e-6)) return null;
  const at = (n: number) => Number((n * step).toPrecision(12));
  return [at(Math.floor(steps)), at(Math.ceil(steps))];
}

/** Whether a reading was typed as off scale: beyond an end that the display does not show. @example isOffScale('>') // true */
export const isOffScale = (value: number | string): boolean => typeof value === 'string' && /^\s*[<>]/.test(value);
