import { setImmediate } from 'node:timers/promises';
import { runState } from '../core/acts/fold';
import { impactOf, whyNot, type StandardImpact } from '../core/certificate/impact';
import { canonicalText } from '../core/seal/seal';
import { database, type Database } from '../store/database';
import * as register from '../store/register';
import * as log from '../store/run-log';
import { ServiceError } from './service-error';

/** Changes of one run that are told; all of them stand in a correction of it. */
const mostChanges = 12;

/**
 * What the certificate of a standard as it stands now makes of the calibrations that used another: each is worked out anew, none is
 * rewritten. Those judged otherwise come first.
 * @param since a day: runs begun before it are left out
 * @throws ServiceError 404 for a standard that is not there; whatever the signal says when it is given up
 */
export async function impactOfStandard(
  id: string,
  since: string,
  progress: (done: number, of: number) => void,
  signal: AbortSignal,
): Promise<StandardImpact> {
  const db = await database();
  const standard = await register.standardById(db, id);
  if (!standard) throw new ServiceError(404, 'There is no standard with this id.');
  const now = canonicalText(standard.document);
  const runs = await log.calibrationsWith(db, id, since);
  const result: StandardImpact = { looked: 0, same: 0, affected: [], failed: [], chain: [] };
  for (const [i, row] of runs.entries()) {
    signal.throwIfAborted();
    const state = runState(await log.eventsOfRun(db, row.id));
    const used = Object.values(state.standards)
      .flat()
      .find((s) => s.id === id);
    if (used && canonicalText(used.document) !== now) {
      result.looked++;
      const { id: run, identification, certificate, finishedAt } = row;
      try {
        const impact = impactOf(state, id, standard.document);
        if (!impact) result.same++;
        else
          result.affected.push({
            ...impact,
            run,
            identification,
            certificate,
            day: (finishedAt ?? '').slice(0, 10),
            changes: impact.changes.slice(0, mostChanges),
            more: Math.max(0, impact.changes.length - mostChanges),
          });
      } catch (error) {
        const why = whyNot(error);
        if (why === null) throw error;
        result.failed.push({ run, identification, why });
      }
    }
    progress(i + 1, runs.length);
    await setImmediate();
  }
  result.affected.sort((a, b) => Number(b.isJudgedOtherwise) - Number(a.isJudgedOtherwise) || b.day.localeCompare(a.day));
  result.chain = await restingOn(
    db,
    result.affected.flatMap((a) => a.certificate ?? []),
  );
  return result;
}

/** Standards that hold a certificate which was issued here, step by step down to those on which nothing rests. */
async function restingOn(db: Database, certificates: readonly string[]): Promise<StandardImpact['chain']> {
  const all = await register.listStandards(db);
  const seen = new Set<string>();
  const chain: StandardImpact['chain'] = [];
  let edge = new Set(certificates);
  for (let step = 1; edge.size > 0; step++) {
    const next = all.filter((s) => !seen.has(s.id) && edge.has(s.document.certificate?.number ?? ''));
    edge = new Set();
    for (const { id, identification, document } of next) {
      seen.add(id);
      const runs = await log.calibrationsWith(db, id);
      chain.push({ standard: id, identification, certificate: document.certificate!.number, runs: runs.length, step });
      for (const { certificate } of runs) if (certificate) edge.add(certificate);
    }
  }
  return chain;
}
