import { runState } from '../core/acts/fold';
import { isDeepStrictEqual } from 'node:util';
import { certificateOf, type IssuedCertificate } from '../core/certificate/certificate';
import { presentCertificate } from '../core/certificate/version-1';
import { summarizeRun } from '../core/run/run-summary';
import { pairsOfRun } from '../core/run/run-pairs';
import { isQuickCheck } from '../core/state/run-state';
import { propagate } from '../core/uncertainty/propagate';
import { listBudgets } from '../store/budget-shelf';
import type { Database } from '../store/database';
import { dayIn } from '../core/quantity/day-in-zone';
import { latestMoves } from '../store/intervals';
import { allInstruments } from '../store/register';
import { allRuns, certificateDigest, eventsOfRun, logDigest, orphans, sequencesOf } from '../store/run-log';
import { issuedFor } from './certificate-service';

export type Verification = {
  runs: number;
  events: number;
  certificates: number;
  /** Each thing that is not as it should be, in a sentence. */
  faults: string[];
};

const asStored = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

/**
 * Reads a whole database and checks it against itself: the file, the logs, what is derived from them, and what was issued.
 * @param progress told after each run
 */
export async function verifyDatabase(
  db: Database,
  progress: (done: number, of: number) => void = () => {},
): Promise<Verification> {
  const { rows } = await db.$client.execute('PRAGMA integrity_check');
  const faults = rows
    .map((r) => String(r[0]))
    .filter((said) => said !== 'ok')
    .map((said) => `The file: ${said}.`);
  faults.push(...(await orphans(db)));
  const runs = await allRuns(db);
  const known = new Map<string, KnownDates>();
  let [events, certificates] = [0, 0];
  for (const [i, run] of runs.entries()) {
    const name = `Run ${run.id}${run.certificate ? ` (${run.certificate})` : ''}`;
    const sequences = await sequencesOf(db, run.id);
    events += sequences.length;
    const gap = sequences.findIndex((sequence, at) => sequence !== at + 1);
    if (sequences.length === 0) faults.push(`${name} has no log.`);
    else if (gap >= 0) faults.push(`${name}: its log has a gap before entry ${sequences[gap]}.`);
    else {
      try {
        const state = runState(await eventsOfRun(db, run.id));
        const status = state.completed ? 'finished' : state.brokenOff ? 'abandoned' : 'open';
        if (status !== run.status) faults.push(`${name} is ${status} by its log, and ${run.status} in the list.`);
        if (state.completed && !saysTheSame(withoutSentences(summarizeRun(state)), withoutSentences(run.summary)))
          faults.push(`${name}: its summary is not what follows from its log.`);
        if (
          state.completed &&
          run.pairs !== null &&
          !saysTheSame(withoutSentences(pairsOfRun(state)), withoutSentences(run.pairs))
        )
          faults.push(`${name}: the values of its history are not what follows from its log.`);
        if (state.completed && !isQuickCheck(state)) {
          certificates++;
          if (state.completed.certificate !== run.certificate)
            faults.push(`${name}: its log says certificate ${state.completed.certificate}.`);
          const issued = await issuedFor(db, run.id, state);
          if (!issued) faults.push(`${name}: what was issued is gone.`);
          const entry = (await eventsOfRun(db, run.id)).findLast((e) => e.act.type === 'run-completed');
          if (
            state.completed.issued?.log &&
            entry &&
            state.completed.issued.log !== (await logDigest(db, run.id, entry.sequence - 1))
          )
            faults.push(`${name}: an entry of its log is not what it was when the certificate was issued.`);
          const before = known.get(run.instrumentId);
          if (!before || before.finishedAt < run.finishedAt!)
            known.set(run.instrumentId, {
              finishedAt: run.finishedAt!,
              calibrated: dayIn(run.finishedAt!, state.timeZone),
              due: state.interval?.next ?? null,
            });
          if (issued && issued.digest !== certificateDigest(issued.content))
            faults.push(`${name}: the content of its certificate is not what was issued (its digest differs).`);
          else if (issued && !sameResults(certificateOf(state, issued.content.laboratory), issued.content))
            faults.push(`${name}: its log gives other results than the certificate that was issued.`);
        }
      } catch (error) {
        faults.push(`${name}: its log cannot be read (${error instanceof Error ? error.message : 'unknown'}).`);
      }
    }
    progress(i + 1, runs.length);
  }
  faults.push(...(await unexplainedDates(db, known)));
  for (const { id, document } of await listBudgets(db))
    try {
      propagate(document);
    } catch (error) {
      faults.push(`Budget ${document.name || id} cannot be computed (${error instanceof Error ? error.message : 'unknown'}).`);
    }
  return { runs: runs.length, events, certificates, faults };
}

/** What the latest calibration of an instrument says of its dates. */
type KnownDates = { finishedAt: string; calibrated: string; due: string | null };

/** Dates of instruments that no run and no move of a date explains. */
async function unexplainedDates(db: Database, known: ReadonlyMap<string, KnownDates>): Promise<string[]> {
  const moves = await latestMoves(db);
  return (await allInstruments(db)).flatMap((i): string[] => {
    const run = known.get(i.id);
    if (!run)
      return i.lastCalibrated === null
        ? []
        : [`${i.identification} was calibrated on ${i.lastCalibrated} by the list, and by no run.`];
    const moved = moves.get(i.id);
    const due = moved && moved.at > run.finishedAt ? moved.after : run.due;
    return [
      ...(i.lastCalibrated === run.calibrated
        ? []
        : [
            `${i.identification} was calibrated on ${run.calibrated} by its last run, on ${i.lastCalibrated ?? 'no day'} by the list.`,
          ]),
      ...(i.nextDue === due || i.nextDue === null
        ? []
        : [`${i.identification} is due on ${due ?? 'no day'} by its last run, on ${i.nextDue ?? 'no day'} by the list.`]),
    ];
  });
}

/** A last digit that depends on how an old program reckoned: the age of a certificate was once told to the minute, and is to the day now. */
const shareOfAge = 5e-4;

/** Whether two documents say the same: texts alike, numbers within what the age of a certificate moves them by. */
export function saysTheSame(computed: unknown, stored: unknown): boolean {
  const [a, b] = [asStored(computed), asStored(stored)];
  if (typeof a === 'number' && typeof b === 'number')
    return Math.abs(a - b) <= shareOfAge * Math.max(Math.abs(a), Math.abs(b), 1e-9);
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return isDeepStrictEqual(a, b);
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((key) =>
    saysTheSame((a as Record<string, unknown>)[key] ?? null, (b as Record<string, unknown>)[key] ?? null),
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
const withoutSentences = (derived: unknown): unknown =>
  JSON.parse(
    JSON.stringify(derived ?? null, (key, value: unknown) => {
      if (key === 'incomplete') return value !== null;
      return worded.has(key) && (typeof value === 'string' || isSentences(value)) ? undefined : value;
    }),
  );
const isSentences = (value: unknown): boolean => Array.isArray(value) && value.every((v) => typeof v === 'string');

/** Whether the log gives what was issued: results, identities and dates. Of a certificate of version 1 its results are compared. */
export function sameResults(computed: IssuedCertificate, issued: IssuedCertificate): boolean {
  if (issued.version === 2) return saysTheSame(withoutSentences(computed), withoutSentences(issued));
  const [a, b] = [presentCertificate(computed), presentCertificate(issued)];
  return saysTheSame(
    [a.tables[0]?.rows, a.asFound.verdict, a.asLeft?.verdict],
    [b.tables[0]?.rows, b.asFound.verdict, b.asLeft?.verdict],
  );
}
