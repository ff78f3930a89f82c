import * as z from 'zod';
import { canonicalText, checkLog, entrySealSchema, hashOfLine, headSchema, lineKinds, partsSchema, type Digest } from './seal';

/*
 * One record in one file that can be checked with nothing but itself: the log of a run as it lies in the store, with the seals of its
 * entries and the lines that the chain of the laboratory has of it. Its digest is over canonical JSON (RFC 8785). Version 1 was written as
 * that; version 2 keeps the order of members, which the digests of certificates rest on, so that it can be read back.
 */

const entrySchema = z.strictObject({
  sequence: z.number().int(),
  at: z.string(),
  person: z.string(),
  act: z.looseObject({ type: z.string() }),
  clock: z.unknown(),
  done: z.unknown(),
  idempotencyKey: z.string(),
  token: z.string().nullable(),
  seal: entrySealSchema.nullable(),
});

const lineSchema = z.strictObject({
  sequence: z.number().int().positive(),
  at: z.string(),
  what: z.enum(lineKinds),
  table: z.string(),
  row: z.string(),
  parts: partsSchema,
  hash: z.string(),
  /** The hash of the line before, which is of another row; empty for the first. */
  before: z.string(),
});

export const recordSchema = z.strictObject({
  format: z.literal('just-twice-record'),
  version: z.literal([1, 2]),
  /** What stands of the run beside its log: its columns, in the names of the application. */
  run: z.looseObject({ id: z.string(), instrumentId: z.string(), status: z.string(), purpose: z.string() }),
  standards: z.array(z.strictObject({ role: z.string(), standardId: z.string() })),
  /** The procedure, the instrument, the standards with their certificates stand in the first; the certificate as issued in the one that finished it. */
  entries: z.array(entrySchema).min(1),
  /** The lines of this run in the chain of the laboratory. */
  lines: z.array(lineSchema),
  /** The end of the chain when this was written. */
  head: headSchema.nullable(),
  /** SHA-256 over the canonical JSON of all the rest. */
  digest: z.string(),
});
export type ExportedRecord = z.infer<typeof recordSchema>;

/** A record as the text of its file. */
export function recordText(record: Omit<ExportedRecord, 'digest'>, digest: Digest): string {
  return written({ ...record, digest: digest(canonicalText(record)) });
}

/** The one way in which a version is written. */
const written = (record: ExportedRecord): string => `${record.version === 1 ? canonicalText(record) : JSON.stringify(record)}\n`;

/**
 * Checks the text of a record against itself.
 * @returns what was found, each by part, row and member; nothing where it is as it was written. The record, where it could be read.
 * @example checkRecordText('no record', digest).record // null
 */
export function checkRecordText(text: string, digest: Digest): { faults: string[]; record: ExportedRecord | null } {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return { faults: ['The file is not JSON: it is not the record that was exported.'], record: null };
  }
  const parsed = recordSchema.safeParse(value);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return { faults: [`record, ${issue!.path.join('.') || 'file'}: ${issue!.message}`], record: null };
  }
  const record = parsed.data;
  const faults = partFaults(record, digest);
  const { digest: said, ...rest } = value as ExportedRecord;
  if (digest(canonicalText(rest)) !== said) faults.push('record, digest: what the file holds is not what was exported.');
  if (written(value as ExportedRecord) !== text) faults.push('record, file: it is not written as it was exported.');
  return { faults, record };
}

/** Breaks of the log, of the lines, and of the log against the lines. */
function partFaults({ run, entries, lines }: ExportedRecord, digest: Digest): string[] {
  const faults: string[] = [];
  const log = checkLog(run.id, entries, digest);
  if (log.break) faults.push(`entries, ${log.break.sequence}, ${log.break.member}: it is not what was recorded.`);
  const broken = lines.find(({ before, ...line }) => hashOfLine(before, line, digest) !== line.hash);
  if (broken) faults.push(`lines, ${broken.sequence}, hash: this line of the chain is not what was written.`);
  const parts = Object.assign({}, ...lines.map((l) => l.parts)) as Record<string, string>;
  if (parts['log'] !== log.head)
    faults.push(`entries, ${entries.length + 1}, sequence: the log does not end where it was sealed.`);
  return faults;
}
