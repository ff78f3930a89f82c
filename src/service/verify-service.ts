import { isDeepStrictEqual } from 'node:util';
import { certificateOf, type Certificate } from '../core/certificate/certificate';
import { summarizeRun } from '../core/run/run-summary';
import { runState } from '../core/run/run-state';
import { propagate } from '../core/uncertainty/propagate';
import { listBudgets } from '../store/budget-shelf';
import type { Database } from '../store/database';
import { allRuns, certificateDigest, eventsOfRun, issuedCertificate } from '../store/run-log';

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
  const runs = await allRuns(db);
  let [events, certificates] = [0, 0];
  for (const [i, run] of runs.entries()) {
    const name = `Run ${run.id}${run.certificate ? ` (${run.certificate})` : ''}`;
    const log = await eventsOfRun(db, run.id);
    events += log.length;
    const gap = log.findIndex((e, at) => e.sequence !== at + 1);
    if (log.length === 0) faults.push(`${name} has no log.`);
    else if (gap >= 0) faults.push(`${name}: its log has a gap before entry ${log[gap]!.sequence}.`);
    else {
      try {
        const state = runState(log);
        const status = state.completed ? 'finished' : state.abandoned ? 'abandoned' : 'open';
        if (status !== run.status) faults.push(`${name} is ${status} by its log, and ${run.status} in the list.`);
        if (state.completed) {
          certificates++;
          if (state.completed.certificate !== run.certificate)
            faults.push(`${name}: its log says certificate ${state.completed.certificate}.`);
          if (!isDeepStrictEqual(asStored(summarizeRun(state)), run.summary))
            faults.push(`${name}: its summary is not what follows from its log.`);
          const issued = await issuedCertificate(db, run.id);
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
  for (const { id, document } of await listBudgets(db))
    try {
      propagate(document);
    } catch (error) {
      faults.push(`Budget ${document.name || id} cannot be computed (${error instanceof Error ? error.message : 'unknown'}).`);
    }
  return { runs: runs.length, events, certificates, faults };
}

/** Whether two certificates say the same. */
const sameResults = (computed: Certificate, issued: Certificate): boolean =>
  isDeepStrictEqual(asStored(computed), asStored(issued));
