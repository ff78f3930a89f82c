import { presentCertificate } from './version-1';
import type { IssuedCertificate } from './certificate';

/*
 * Whether what a log gives today is what was issued or stored: the numbers, identities and dates, not how they are worded or to which
 * place they are printed.
 */

/** A last digit that depends on how an old program reckoned: the age of a certificate was once told to the minute, and is to the day now. */
const shareOfAge = 5e-4;

/** Members that hold a printed number: one program prints a place more than another. */
const printed: ReadonlySet<string> = new Set(['value', 'expandedUncertainty', 'indication', 'reference']);

const numberIn = /-?\d+(?:\.\d+)?/g;
const places = (text: string) => text.split('.')[1]?.length ?? 0;

/**
 * Whether two texts print the same numbers among the same words, each to its own place: they lie within half a last digit of the
 * coarser one. @example printsTheSame('0.0403 K', '0.040 K') // true @example printsTheSame('0.0403 K', '0.041 K') // false
 */
export function printsTheSame(a: string, b: string): boolean {
  const [x, y] = [a, b].map((text) => text.replaceAll('−', '-'));
  const [ours, theirs] = [x!.match(numberIn) ?? [], y!.match(numberIn) ?? []];
  const unsigned = (text: string) => text.replace(numberIn, '#');
  return (
    unsigned(x!) === unsigned(y!) &&
    ours.length === theirs.length &&
    ours.every((n, i) => Math.abs(Number(n) - Number(theirs[i])) <= 0.5001 * 10 ** -Math.min(places(n), places(theirs[i]!)))
  );
}

/**
 * Whether two documents say the same: texts alike, numbers within what the age of a certificate moves them by.
 * @example saysTheSame({ a: 1, b: undefined }, { a: 1 }) // true
 */
export function saysTheSame(computed: unknown, stored: unknown): boolean {
  const asStored = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
  return isAlike(asStored(computed), asStored(stored), '');
}

function isAlike(a: unknown, b: unknown, member: string): boolean {
  if (typeof a === 'number' && typeof b === 'number')
    return Math.abs(a - b) <= shareOfAge * Math.max(Math.abs(a), Math.abs(b), 1e-9);
  if (typeof a === 'string' && typeof b === 'string') return a === b || (printed.has(member) && printsTheSame(a, b));
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((key) =>
    isAlike((a as Record<string, unknown>)[key] ?? null, (b as Record<string, unknown>)[key] ?? null, key),
  );
}

/** Members of certificates, summaries and histories that are worded: a later program may say the same better. */
const worded: ReadonlySet<string> = new Set([
  'title',
  'what',
  'point',
  'sweep',
  'series',
  'of',
  'result',
  'limitWords',
  'limits',
  'why',
  'reason',
  'skipped',
  'remarks',
  'limitsFrom',
  'asLeftStatement',
  'decisionRule',
  'coverageStatement',
]);

/** Results, identities and dates, without their sentences: of an incomplete set, that it is one. */
export const withoutSentences = (derived: unknown): unknown =>
  JSON.parse(
    JSON.stringify(derived ?? null, (key, value: unknown) => {
      if (key === 'incomplete') return value !== null;
      // What another issue said stands in that issue.
      if (key === 'changes') return undefined;
      return worded.has(key) && (typeof value === 'string' || isSentences(value)) ? undefined : value;
    }),
  );
const isSentences = (value: unknown): boolean => Array.isArray(value) && value.every((v) => typeof v === 'string');

/**
 * Whether the log gives what was issued: results, identities and dates. Of a certificate of version 1 its results are compared.
 * @example sameResults(certificate, certificate) // true
 */
export function sameResults(computed: IssuedCertificate, issued: IssuedCertificate): boolean {
  if (issued.version === 2) return saysTheSame(withoutSentences(computed), withoutSentences(issued));
  const [a, b] = [presentCertificate(computed), presentCertificate(issued)];
  return saysTheSame(
    [a.tables[0]?.rows, a.asFound.verdict, a.asLeft?.verdict],
    [b.tables[0]?.rows, b.asFound.verdict, b.asLeft?.verdict],
  );
}
