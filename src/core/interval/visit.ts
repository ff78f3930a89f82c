import * as z from 'zod';
import type { Verdict } from '../conformity/decide';

/** Measured once: numbers in the unit of the result. */
const measuredSchema = z.object({
  value: z.number(),
  standardUncertainty: z.number(),
  expandedUncertainty: z.number(),
  /** The part of the standard uncertainty that comes with the standards' certificates: the same until one is calibrated again. */
  sharedUncertainty: z.number(),
  lower: z.number().nullable(),
  upper: z.number().nullable(),
  /** Inside which the rule accepts; both null where it can accept nothing, or nothing limits. */
  acceptLower: z.number().nullable(),
  acceptUpper: z.number().nullable(),
});
export type Measured = z.infer<typeof measuredSchema>;

/** A result at a place, told apart from every other that an instrument has. */
const namedResultSchema = z.object({
  /** The same in every run that reads it: series, instance, label or nominal, sweep, symbol. */
  key: z.string(),
  what: z.string(),
  point: z.string(),
  unit: z.string(),
  shownIn: z.string(),
});
export type NamedResult = z.infer<typeof namedResultSchema>;

/** @example namedResult({ key: 'E@10', what: 'Error', point: '10 mm', unit: 'mm', shownIn: 'um' }).key // 'E@10' */
export const namedResult = ({ key, what, point, unit, shownIn }: NamedResult): NamedResult => ({
  key,
  what,
  point,
  unit,
  shownIn,
});

/** One result at one place, as found and as left: the pair that a calibration is about. */
export const pairSchema = namedResultSchema.extend({
  found: measuredSchema.nullable(),
  /** Null: what was found was left. */
  left: measuredSchema.nullable(),
  /** Read on a check standard at the end: it tells what quick checks come from, not how the instrument drifted. */
  isCheck: z.boolean().optional(),
});
export type Pair = z.infer<typeof pairSchema>;

export const pairsSchema = z.object({
  /** Certificates of the standards, told apart: another one may have moved every value. */
  certificates: z.array(z.string()),
  pairs: z.array(pairSchema),
});
export type RunPairs = z.infer<typeof pairsSchema>;

/** One finished calibration of an instrument. */
export type Visit = {
  run: string;
  /** ISO day on which it was finished. */ day: string;
  /** Whether it was inside its limits as found; null where nothing was judged as a whole. */ isInside: boolean | null;
  /** Most of a tolerance that was used as found, 1 at the limit; null where nothing tells. */ share: number | null;
  /** It was put back in order: time since renewal begins anew. */ isRenewed: boolean;
} & RunPairs;

/** A mean month in days, for parts of one. */
export const daysInMonth = 365.25 / 12;

/** Days told before: tens of thousands of histories name the same few thousand. */
const numbersTold = new Map<string, number>();
const namesTold = new Map<number, string>();
const mostTold = 20_000;

function told<K, V>(known: Map<K, V>, key: K, tell: (key: K) => V): V {
  const before = known.get(key);
  if (before !== undefined) return before;
  const now = tell(key);
  if (known.size >= mostTold) known.clear();
  known.set(key, now);
  return now;
}

const dayNumber = (day: string): number => told(numbersTold, day, (d) => Date.parse(`${d}T00:00:00Z`) / 86_400_000);
const dayName = (number: number): string => told(namesTold, number, (n) => new Date(n * 86_400_000).toISOString().slice(0, 10));

type Calendar = { year: number; month: number; date: number; number: number };
const calendarsTold = new Map<string, Calendar>();
/** A day by its parts; the month counts from 0. */
const calendarOf = (day: string): Calendar =>
  told(calendarsTold, day, (d) => ({
    year: Number(d.slice(0, 4)),
    month: Number(d.slice(5, 7)) - 1,
    date: Number(d.slice(8, 10)),
    number: dayNumber(d),
  }));

/** First days of months, counted from the year 0, as numbers of days. */
const firstsTold = new Map<number, number>();
const firstOf = (month: number): number =>
  told(firstsTold, month, (m) => Date.UTC(Math.floor(m / 12), ((m % 12) + 12) % 12, 1) / 86_400_000);

/** The same day some whole months later; the last of a month that is shorter (ISO 8601 calendar). */
function wholeMonthsAfter({ year, month, date }: Calendar, months: number): number {
  const wanted = 12 * year + month + months;
  const first = firstOf(wanted);
  return Math.min(first + date, firstOf(wanted + 1)) - 1;
}

/**
 * Calendar months from one ISO day to another, parts of one by its days; negative where the second is earlier.
 * @example monthsBetween('2026-01-01', '2027-01-01') // 12
 */
export function monthsBetween(from: string, to: string): number {
  if (to < from) return -monthsBetween(to, from);
  const [begun, ended] = [calendarOf(from), calendarOf(to)];
  const end = ended.number;
  let whole = 12 * (ended.year - begun.year) + ended.month - begun.month;
  let start = wholeMonthsAfter(begun, whole);
  if (start > end) start = wholeMonthsAfter(begun, --whole);
  return start === end ? whole : whole + (end - start) / (wholeMonthsAfter(begun, whole + 1) - start);
}

/**
 * The ISO day some calendar months after a day, parts of one to the nearest day. @throws RangeError for a number that is none
 * @example dayAfter('2026-01-31', 1) // '2026-02-28'
 */
export function dayAfter(day: string, months: number): string {
  if (!Number.isFinite(months)) throw new RangeError('A date cannot be told from a number of months that is none.');
  const whole = Math.floor(months + 1e-9);
  const begun = calendarOf(day);
  const start = wholeMonthsAfter(begun, whole);
  const part = Math.max(0, months - whole);
  return dayName(start + Math.round(part * (wholeMonthsAfter(begun, whole + 1) - start)));
}

/**
 * What was seen of one instrument on one day counts once: as found by the first visit of that day, as left by the last.
 * @returns visits in order of time, one a day
 */
export function oneADay(visits: readonly Visit[]): readonly Visit[] {
  const ordered = inOrder(visits);
  if (ordered.every((v, i) => i === 0 || ordered[i - 1]!.day !== v.day)) return ordered;
  return ordered.reduce<Visit[]>((days, visit) => {
    const before = days.at(-1);
    if (before?.day !== visit.day) return [...days, visit];
    const later = new Map(visit.pairs.map((p) => [p.key, p]));
    const known = new Set(before.pairs.map((p) => p.key));
    const pairs = [
      ...before.pairs.map((p) => ({ ...p, left: later.get(p.key)?.left ?? p.left })),
      ...visit.pairs.filter((p) => !known.has(p.key)),
    ];
    const isRenewed = before.isRenewed || visit.isRenewed;
    const certificates = [...new Set([...before.certificates, ...visit.certificates])].sort();
    return [...days.slice(0, -1), { ...before, isInside: before.isInside ?? visit.isInside, isRenewed, certificates, pairs }];
  }, []);
}

/** Visits in the order of their days: a log that was entered later does not make time run backwards. */
export function inOrder<V extends { day: string }>(visits: readonly V[]): readonly V[] {
  if (visits.every((v, i) => i === 0 || visits[i - 1]!.day <= v.day)) return visits;
  return [...visits].sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
}

/**
 * Whether a verdict says inside; a value that only might be outside is inside.
 * @example isInsideBy('conditional-pass') // true
 */
export const isInsideBy = (verdict: Verdict | null | undefined): boolean | null =>
  verdict === 'pass' || verdict === 'conditional-pass'
    ? true
    : verdict === 'fail' || verdict === 'conditional-fail'
      ? false
      : null;
