import { plainDecimal, roundToDecimals } from '../quantity/rounding';

export type Plausibility =
  { plausible: true } | { plausible: false; message: string; /** The text that was perhaps meant. */ suggestion: string | null };

/** What an indication is expected to be near, all in its own unit. */
export type Expectation = {
  value: number;
  /** What that value is, in words: "the point", "the other readings". */ of: string;
  /** A difference that nobody would doubt. */ width: number;
  /** The step of the display; null where nobody states one. */ resolution: number | null;
  /** The greatest error that is allowed here; null where nothing limits it. */ limit: number | null;
  /** Standard deviation of a sound reading about the value. */ spread: number | null;
  /** The point itself, where it is told in this unit. */ nominal: number | null;
  /** What is expected at the other points, with their names. */ elsewhere: readonly { value: number; title: string }[];
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
  if (Math.abs(value - near) <= width) return likelySlip(value, expected) ?? { plausible: true };
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

/** So many times better than a true fault a slip has to explain a reading before it is spoken of. */
const betterBy = 100;
/** Errors of true faults: of either sign, the logarithm of their size uniform from 0.3 to 3 limits; larger ones as rare as those up to a thousand times as large. */
const faultFrom = 0.3;
const faultTo = 3;

const normalDensity = (x: number, s: number): number => Math.exp(-0.5 * (x / s) ** 2) / (s * Math.sqrt(2 * Math.PI));

/** How densely true faults lie at an error, per unit of the reading. */
function faultDensity(error: number, limit: number): number {
  const size = Math.max(Math.abs(error), faultFrom * limit);
  return 1 / (2 * size * Math.log(size <= faultTo * limit ? faultTo / faultFrom : 1000));
}

/** A typed number with two digits beside each other exchanged, each way in which that gives another number. */
function swapped(value: number, decimals: number): number[] {
  const digits = Math.abs(value).toFixed(decimals);
  const places = [...digits].flatMap((c, i) => (c === '.' ? [] : [i]));
  return places.slice(1).flatMap((at, i) => {
    const before = places[i]!;
    if (digits[before] === digits[at]) return [];
    const turned = [...digits];
    [turned[before], turned[at]] = [turned[at]!, turned[before]!];
    return [Math.sign(value) * Number(turned.join(''))];
  });
}

/**
 * A slip that explains a reading a hundred times better than a true fault of the instrument would: two digits exchanged, a sign, a
 * decimal point, the reading of another point. Null where none does. What it offers is named as the point where it is: that is how
 * errors would be hidden.
 * @example likelySlip(25.52, { value: 25.25, limit: 0.02, spread: 0.003, resolution: 0.01, nominal: 25.3, elsewhere: [], of: 'the point', width: 1, unit: 'mm' })?.plausible // false
 */
export function likelySlip(value: number, expected: Expectation): Extract<Plausibility, { plausible: false }> | null {
  const { value: near, limit, spread, resolution, nominal, elsewhere, unit } = expected;
  if (limit === null || spread === null || limit <= 0) return null;
  const s = Math.hypot(spread, resolution ?? 0);
  const asMeant = Math.max(faultDensity(value - near, limit), normalDensity(value - near, s));
  const explains = (candidate: number) => normalDensity(candidate - near, s) >= betterBy * asMeant;
  const decimals = resolution === null ? decimalsTyped(value) : Math.max(0, Math.round(-Math.log10(resolution)));
  const slips: [number, string][] = [
    ...swapped(value, decimals).map((v): [number, string] => [v, 'two digits exchanged']),
    [-value, 'a lost sign'],
    ...[10, 0.1, 100, 0.01].map((f): [number, string] => [value * f, 'a slipped decimal point']),
  ];
  const withUnit = (text: string) => (unit === '' ? text : `${text} ${unit}`);
  const best = slips.filter(([candidate]) => explains(candidate)).sort(([a], [b]) => Math.abs(a - near) - Math.abs(b - near))[0];
  if (best) {
    const suggestion = roundToDecimals(best[0], decimals);
    const isPoint = nominal !== null && Math.abs(best[0] - nominal) <= (resolution ?? 0) / 2 + 1e-12 * Math.abs(nominal);
    const warning = isPoint
      ? ' That would be the point itself to the last digit: look at the display, not at what it should show.'
      : '';
    return {
      plausible: false,
      message: `Did you mean ${withUnit(suggestion)}? This looks like ${best[1]}.${warning}`,
      suggestion,
    };
  }
  const other = elsewhere.find((e) => normalDensity(value - e.value, s) >= betterBy * asMeant);
  return other
    ? {
        plausible: false,
        message: `This is what ${other.title} is expected to show. Look which point is set, and which standard lies there.`,
        suggestion: null,
      }
    : null;
}

/** Digits behind the point that a number needs. */
const decimalsTyped = (value: number): number => (plainDecimal(value).split('.')[1] ?? '').length;
