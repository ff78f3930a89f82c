import { runState } from '../core/acts/fold';
import { certificateOf } from '../core/certificate/certificate';
import { sameResults, saysTheSame, withoutSentences } from '../core/certificate/same-results';
import { summarizeRun } from '../core/run/run-summary';
import { pairsOfRun } from '../core/run/run-pairs';
import { isQuickCheck } from '../core/state/run-state';
import { propagate } from '../core/uncertainty/propagate';
import { listBudgets } from '../store/budget-store';
import type { Database } from '../store/database';
import { dayIn } from '../core/quantity/day-in-zone';
import { latestMoves } from '../store/intervals';
import { allInstruments } from '../store/register';
import { logDigest } from '../store/log-seals';
import { certificateDigest, countRuns, eventsOfRun, everyRun, orphans, sequencesOf } from '../store/run-log';
import { partOf, type Head } from '../core/seal/seal';
import { sealedPart, sha256 } from '../store/seals';
import { issuedFor } from './certificate-service';
import { finishedWith } from './run-service';
import { checkSeals } from './seal-service';

export type Verification = {
  runs: number;
  events: number;
  certificates: number;
  /** Each thing that is not as it should be, in a sentence: of what was sealed by table, row and column. */
  faults: string[];
  /** Lines of the chain; since when everything is sealed; its end. */
  lines: number;
  since: string | null;
  head: Head | null;
};

/**
 * Reads a whole database and checks it against itself: the file, the logs, what is derived from them, and what was issued.
 * @param progress told after each run @param kept heads of the chain that were kept outside
 */
export async function verifyDatabase(
  db: Database,
  progress: (done: number, of: number) => void = () => {},
  kept: readonly Head[] = [],
): Promise<Verification> {
  const { rows } = await db.$client.execute('PRAGMA integrity_check');
  const faults = rows
    .map((r) => String(r[0]))
    .filter((said) => said !== 'ok')
    .map((said) => `The file: ${said}.`);
  const seals = await checkSeals(db, kept);
  faults.push(...seals.faults);
  faults.push(...(await orphans(db)));
  const runs = await countRuns(db);
  const known = new Map<string, KnownDates>();
  let [done, events, certificates] = [0, 0, 0];
  for await (const run of everyRun(db)) {
    const name = `Run ${run.id}${run.certificate ? ` (${run.certificate})` : ''}`;
    const sequences = await sequencesOf(db, run.id);
    events += sequences.length;
    const gap = sequences.findIndex((sequence, at) => sequence !== at + 1);
    if (sequences.length === 0) faults.push(`${name} has no log.`);
    else if (gap >= 0) faults.push(`${name}: its log has a gap before entry ${sequences[gap]}.`);
    else {
      try {
        const entries = await eventsOfRun(db, run.id);
        const state = runState(entries);
        const isOver = state.brokenOff ?? state.withdrawnIssue;
        const status = isOver ? 'abandoned' : state.completed ? 'finished' : 'open';
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
          const entry = entries.findLast((e) => e.act.type === 'run-completed');
          const sealed = await sealedPart(db, run.id, 'finished');
          if (entry && sealed !== undefined && sealed !== partOf(finishedWith(state, entry), sha256))
            faults.push(`runs, ${run.id}, finished: procedure, standards or certificate are not those that it was sealed with.`);
          if (
            state.completed.issued?.log &&
            entry &&
            state.completed.issued.log !== (await logDigest(db, run.id, entry.sequence - 1))
          )
            faults.push(`${name}: an entry of its log is not what it was when the certificate was issued.`);
          const before = known.get(run.instrumentId);
          if (!state.withdrawnIssue && (!before || before.startedAt < run.startedAt))
            known.set(run.instrumentId, {
              startedAt: run.startedAt,
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
    progress(++done, runs);
  }
  faults.push(...(await unexplainedDates(db, known)));
  for (const { id, document } of await listBudgets(db))
    try {
      propagate(document);
    } catch (error) {
      faults.push(`Budget ${document.name || id} cannot be computed (${error instanceof Error ? error.message : 'unknown'}).`);
    }
  return { runs: done, events, certificates, faults, lines: seals.lines, since: seals.since, head: seals.head };
}

/** What the latest calibration of an instrument says of its dates. */
type KnownDates = { startedAt: string; finishedAt: string; calibrated: string; due: string | null };

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
