import { plainDecimal, roundToDecimals } from '../quantity/rounding';

export type Plausibility =
  { plausible: true } | { plausible: false; message: string; /** The text that was perhaps meant. */ suggestion: string | null };

/** What an indication is expected to be near, all in its own unit. */
export type Expectation = {
  value: number;
  /** What that value is, in words: "the point", "the other readings". */ of: string;
  /** A difference that nobody would doubt. */ width: number;
  /** The step of the display; null where nobody states one. */ resolution: number | null;
  /** As printed; empty where there is none. */ unit: string;
};

/** A slip explains a reading when it brings the value this close, as a multiple of the limit. */
const closeEnough = 25;
/** Where no limit is known, this share of the greatest value in sight is not doubted. */
const shareOfValue = 0.1;
const stepsOfDisplay = 50;

/** A difference that nobody would doubt: from the limits where there are some, else from the size of what is read. */
export const undoubted = (limit: number | null, resolution: number | null, size: number): number =>
  limit !== null
    ? closeEnough * Math.max(limit, resolution ?? 0)
    : Math.max(shareOfValue * Math.abs(size), stepsOfDisplay * (resolution ?? 0));

/** What a value in the other unit of its trade would be. */
const otherUnits: Record<string, (value: number) => [number, string][]> = {
  mm: (v) => [[v * 25.4, 'an indication in inches']],
  in: (v) => [[v / 25.4, 'an indication in millimetres']],
  µm: (v) => [
    [v * 25.4, 'an indication in mils'],
    [v * 0.0254, 'an indication in microinches'],
  ],
  mil: (v) => [[v / 25.4, 'an indication in micrometres']],
  '°C': (v) => [[((v - 32) * 5) / 9, 'degrees Fahrenheit']],
  '°F': (v) => [[(v * 9) / 5 + 32, 'degrees Celsius']],
};

/**
 * Whether an indication can be meant as typed. Far away from what is expected, a slipped decimal point, a forgotten leading digit, a
 * lost sign or another unit is likelier than an instrument that wrong, so the tool asks once.
 * @example checkPlausibility(25.01, { value: 2.5, of: 'the point', width: 0.1, resolution: 0.01, unit: 'mm' }) // { plausible: false }
 */
export function checkPlausibility(value: number, expected: Expectation): Plausibility {
  const { value: near, width, resolution, unit } = expected;
  if (Math.abs(value - near) <= width) return { plausible: true };
  const slips: [number, string][] = [
    [-value, 'a lost sign'],
    [value * 10, 'a slipped decimal point'],
    [value / 10, 'a slipped decimal point'],
    [value * 100, 'a slipped decimal point'],
    [value / 100, 'a slipped decimal point'],
    [value * 1000, 'a forgotten decimal point'],
    [value / 1000, 'a forgotten decimal point'],
    ...(otherUnits[unit]?.(value) ?? []),
    // Only where nothing but digits after the point was typed: 0.003 for 25.003, never 14.5 for 114.5.
    ...(Math.abs(value) < 1 && value !== 0 && Math.abs(near) >= 1
      ? [[Math.trunc(near) + Math.sign(near) * Math.abs(value), 'only the digits after the point'] as [number, string]]
      : []),
  ];
  // Of several slips that would explain it, the one that comes nearest.
  const distance = ([candidate]: [number, string]) => Math.abs(candidate - near);
  const slip = slips.filter((s) => distance(s) <= width).sort((a, b) => distance(a) - distance(b))[0];
  const withUnit = (text: string) => (unit === '' ? text : `${text} ${unit}`);
  if (slip) {
    const suggestion =
      resolution === null
        ? plainDecimal(Number(slip[0].toPrecision(12)))
        : roundToDecimals(slip[0], Math.max(0, Math.round(-Math.log10(resolution))));
    return { plausible: false, message: `Did you mean ${withUnit(suggestion)}? This looks like ${slip[1]}.`, suggestion };
  }
  const away = plainDecimal(Number(Math.abs(value - near).toPrecision(3)));
  return {
    plausible: false,
    message: `That is ${withUnit(away)} away from ${expected.of}. Look at the standard and the digits again.`,
    suggestion: null,
  };
}
