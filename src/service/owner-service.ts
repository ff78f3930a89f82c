import { dueStanding, type DueStanding } from '../core/traceability/standing';
import { database } from '../store/database';
import { instrumentsOfOwner } from '../store/register';
import { signedRunsOf, runById } from '../store/run-log';
import { certificateFor } from './certificate-service';
import { today } from './laboratory-time';
import { ServiceError } from './service-error';
import type { Who } from './token-service';

export type OwnInstrument = {
  id: string;
  identification: string;
  designation: string;
  kind: string;
  lastCalibrated: string | null;
  nextDue: string | null;
  standing: DueStanding;
  certificates: { run: string; number: string; on: string }[];
};

/** What somebody who owns instruments sees: his own, when they are due, and their signed certificates; nothing else. */
export async function ownInstruments(who: Who): Promise<OwnInstrument[]> {
  if (!who.owner) return [];
  const db = await database();
  const [rows, day] = await Promise.all([instrumentsOfOwner(db, who.owner), today()]);
  const runs = await signedRunsOf(
    db,
    rows.map((row) => row.id),
  );
  return rows.map(({ id, identification, designation, kind, lastCalibrated, nextDue }) => ({
    id,
    identification,
    designation,
    kind,
    lastCalibrated,
    nextDue,
    standing: dueStanding(nextDue, day),
    certificates: runs
      .filter((run) => run.instrumentId === id)
      .map((run) => ({ run: run.id, number: run.certificate!, on: run.finishedAt!.slice(0, 10) })),
  }));
}

/** A certificate of an owner's instrument, where it names that owner; of every other nothing is said but that it is not there. @throws ServiceError 404 */
export async function ownCertificate(who: Who, runId: string) {
  const none = () => new ServiceError(404, 'There is no such certificate among yours.');
  const run = await runById(await database(), runId);
  const isOwn = (await ownInstruments(who)).some((i) => i.id === run?.instrumentId);
  if (!run || !isOwn || run.status !== 'finished' || !run.isReviewed || run.purpose !== 'calibration') throw none();
  const certificate = await certificateFor(runId);
  if (certificate.owner !== who.owner) throw none();
  return certificate;
}
