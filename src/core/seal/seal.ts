import canonicalize from 'canonicalize';
import * as z from 'zod';

/*
 * What is recorded is sealed: each entry of a log carries a hash over itself and the entry before, and every row that is written makes a
 * line in one chain of the laboratory. What was changed later by another hand gives another hash.
 * Source: SHA-256 (FIPS 180-4) over canonical JSON (RFC 8785).
 */

/** SHA-256 of a text in UTF-8, in base64url. */
export type Digest = (text: string) => string;

/** Digests of the members of a thing, by their names. */
export type Parts = Readonly<Record<string, string>>;

/** The seal of an entry: its hash, and the digests that it was made of, which tell where a change lies. */
export type EntrySeal = { hash: string; parts: Parts };

/** What was done to a row: `found` stood there before anything was sealed. */
export const lineKinds = ['made', 'changed', 'removed', 'found', 'complete'] as const;
export type LineKind = (typeof lineKinds)[number];

/** A line of the laboratory's chain. */
export type SealLine = { sequence: number; at: string; what: LineKind; table: string; row: string; parts: Parts; hash: string };

/** Characters of a part's digest that are kept: 132 bits, more than can be met by trying. */
const partLength = 22;

/** What stands before the first entry or line. */
const nothing = '';

/**
 * A value as the one text that stands for it: members in the order of their names, numbers in their shortest form; members without a
 * value are left out.
 * @example canonicalText({ b: 1.0, a: [true, undefined], c: undefined }) // '{"a":[true,null],"b":1}'
 */
export const canonicalText = (value: unknown): string => canonicalize(value ?? null)!;

/** @returns the digest of one value. @example partOf('ab', digest) // '4' */
export const partOf = (value: unknown, digest: Digest): string => digest(canonicalText(value)).slice(0, partLength);

/**
 * @returns the digest of each member; those that are not there count as null.
 * @example partsOf({ name: 'ab', place: undefined }, digest) // { name: '4', place: '4' }
 */
export const partsOf = (members: Readonly<Record<string, unknown>>, digest: Digest): Parts =>
  Object.fromEntries(Object.entries(members).map(([name, value]) => [name, partOf(value, digest)]));

/** An entry of a log as it lies in the store. */
export type SealedEntry = {
  sequence: number;
  at: string;
  person: string;
  act: unknown;
  clock?: unknown;
  done?: unknown;
  idempotencyKey: string;
  /** Sealed where there is one. */ token?: string | null | undefined;
};

const entryMembers = ['at', 'person', 'act', 'clock', 'done', 'idempotencyKey'] as const;

/**
 * The seal of an entry.
 * @param before the hash of the entry before; empty for the first
 * @example sealOfEntry('r', '', entry, digest).parts.person // '5'
 */
export function sealOfEntry(run: string, before: string, entry: SealedEntry, digest: Digest): EntrySeal {
  const members = Object.fromEntries(entryMembers.map((name) => [name, entry[name]]));
  const parts = partsOf(entry.token ? { ...members, token: entry.token } : members, digest);
  return { hash: digest(canonicalText({ run, before, sequence: entry.sequence, parts })), parts };
}

/**
 * The hash of the last of some entries, which follow on one whose hash is `before`.
 * @example headOfLog('r', [], digest) // ''
 */
export const headOfLog = (run: string, entries: Iterable<SealedEntry>, digest: Digest, before: string = nothing): string => {
  let head = before;
  for (const entry of entries) head = sealOfEntry(run, head, entry, digest).hash;
  return head;
};

/** Where a log is not what was sealed: the number of the entry and the member. */
export type LogBreak = { sequence: number; member: string };

/**
 * Holds a log against the seals that its entries carry; entries recorded before there were seals carry none.
 * @returns the head as it follows from the entries, and the first break
 * @example checkLog('r', [{ ...entry, seal: sealOfEntry('r', '', entry, digest) }], digest).break // null
 */
export function checkLog(
  run: string,
  entries: readonly (SealedEntry & { seal: EntrySeal | null })[],
  digest: Digest,
): { head: string; break: LogBreak | null } {
  let head = nothing;
  let found: LogBreak | null = null;
  let isSealed = false;
  for (const [i, entry] of entries.entries()) {
    const { hash, parts } = sealOfEntry(run, head, entry, digest);
    const say = (member: string) => (found ??= { sequence: entry.sequence, member });
    if (entry.sequence !== i + 1) say('sequence');
    if (entry.seal) {
      isSealed = true;
      const other = [...entryMembers, 'token'].find((name) => parts[name] !== entry.seal!.parts[name]);
      if (other) say(other);
      else if (hash !== entry.seal.hash) say('seal');
    } else if (isSealed) say('seal');
    head = hash;
  }
  return { head, break: found };
}

/**
 * The hash of a line, which follows on one whose hash is `before`.
 * @example hashOfLine('', { sequence: 1, at: '', what: 'made', table: 'people', row: '1', parts: {} }, digest) // '86'
 */
export const hashOfLine = (before: string, line: Omit<SealLine, 'hash'>, digest: Digest): string => {
  const { sequence, at, what, table, row, parts } = line;
  return digest(canonicalText({ before, sequence, at, what, table, row, parts }));
};

/**
 * Lines in a chain that follow on another line, or on nothing.
 * @example chained({ sequence: 4, hash: 'x' }, [{ at: '', what: 'made', table: 'people', row: '1', parts: {} }], digest)[0].sequence // 5
 */
export function chained(
  last: Pick<SealLine, 'sequence' | 'hash'> | null,
  lines: readonly Omit<SealLine, 'hash' | 'sequence'>[],
  digest: Digest,
): SealLine[] {
  let { sequence, hash } = last ?? { sequence: 0, hash: nothing };
  return lines.map((line) => {
    sequence++;
    hash = hashOfLine(hash, { ...line, sequence }, digest);
    return { ...line, sequence, hash };
  });
}

/** The end of the laboratory's chain: whoever keeps it elsewhere can say years later whether what stands before it is still the same. */
export type Head = { sequence: number; hash: string };

/**
 * A head in one line of text.
 * @example headText({ sequence: 12, hash: 'q' }) // 'Sealed 12 q'
 */
export const headText = ({ sequence, hash }: Head): string => `Sealed ${sequence} ${hash}`;

/**
 * Reads a head out of a text in which it stands.
 * @returns null where there is none
 * @example readHead('no head') // null
 */
export function readHead(text: string): Head | null {
  const [, sequence, hash] = /Sealed (\d{1,15}) ([\w-]{43})(?![\w-])/.exec(text) ?? [];
  return sequence && hash ? { sequence: Number(sequence), hash } : null;
}

export const partsSchema = z.record(z.string(), z.string());
export const entrySealSchema = z.object({ hash: z.string(), parts: partsSchema });
export const headSchema = z.object({ sequence: z.number().int().positive(), hash: z.string() });
